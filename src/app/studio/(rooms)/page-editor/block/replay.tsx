"use client"

/** It is made for whoever looks: from their seat, and what its webinar plays. */
export function Replay() {
  return <p className="text-soft">What plays, its chapters and until when it is there are set at the webinar.</p>
}
