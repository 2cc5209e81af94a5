"use client"
import { Button } from "@/ui/button"
import { useAction } from "@/ui/use-action"
import { pauseMailAction, resumeMailAction } from "../../mail/broadcasts/actions"

/** Holds sequences and broadcasts for one person, until they are let go on. */
export function HoldMail({ person, held }: { person: number; held: boolean }) {
  const { busy, run } = useAction()
  return (
    <p className="mt-2">
      {held ? <span className="mr-3 font-semibold text-amber-text">Sequences and broadcasts are held.</span> : null}
      <Button disabled={busy} onClick={() => run(() => (held ? resumeMailAction(person) : pauseMailAction(person)))}>
        {held ? "Let them go on" : "Hold sequences and broadcasts"}
      </Button>
    </p>
  )
}
