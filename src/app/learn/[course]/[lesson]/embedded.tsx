"use client"

import { useState } from "react"
import { Button } from "@/ui/button"

/** Something of another site; that site is asked once the learner wants it. */
export function Embedded({ url, host, says }: { url: string; host: string; says: string }) {
  const [shown, setShown] = useState(false)
  if (!shown)
    return (
      <div className="rounded-lg border border-line bg-card p-5 text-center">
        {says ? <p className="font-semibold [overflow-wrap:anywhere]">{says}</p> : null}
        <Button className="mt-2 min-h-11" onClick={() => setShown(true)}>
          Show it, from {host}
        </Button>
        <p className="mt-2 text-body text-soft">{host} then learns that you are here.</p>
      </div>
    )
  return (
    <iframe
      title={says || `From ${host}`}
      src={url}
      className="aspect-video w-full rounded-lg border border-line"
      sandbox="allow-scripts allow-same-origin allow-forms allow-popups allow-presentation"
      allow="fullscreen"
      referrerPolicy="no-referrer"
      loading="lazy"
    />
  )
}
