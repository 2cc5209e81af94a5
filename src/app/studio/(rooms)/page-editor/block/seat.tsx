"use client"

import type { SettingsOf } from "./settings"

export const Seat: SettingsOf<"seat"> = () => {
  return (
    <p className="text-body">
      Here somebody reads which date they have, puts it into their calendar, and finds the way into the room.
    </p>
  )
}
