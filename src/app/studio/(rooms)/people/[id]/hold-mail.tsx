"use client"

import { useRouter } from "next/navigation"
import { useTransition } from "react"
import { Button } from "@/ui/button"
import { pauseMailAction, resumeMailAction } from "../../mail/broadcasts/actions"

/** Holds sequences and broadcasts for one person, until they are let go on. */
export function HoldMail({ person, held }: { person: number; held: boolean }) {
  const router = useRouter()
  const [busy, start] = useTransition()
  return (
    <p className="mt-2">
      {held ? <span className="mr-3 font-semibold text-amber-text">Sequences and broadcasts are held.</span> : null}
      <Button
        disabled={busy}
        onClick={() =>
          start(async () => {
            await (held ? resumeMailAction(person) : pauseMailAction(person))
            router.refresh()
          })
        }
      >
        {held ? "Let them go on" : "Hold sequences and broadcasts"}
      </Button>
    </p>
  )
}
