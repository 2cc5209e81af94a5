"use client"
import { useEffect, useState } from "react"
import type { Day } from "@/core/calendar/days"
import { webinarClockWords } from "@/core/webinar/words"
import { Button } from "@/ui/button"
import { Dialog } from "@/ui/dialog"
import { TextField } from "@/ui/field"
import { useAction } from "@/ui/use-action"
import { moveEntryAction, whatMovesAction } from "./actions"
import type { Placed } from "./calendar-view"

/** Says what moving it changes, and moves it. */
export function MoveDialog({ entry, to, zone, close }: { entry: Placed; to: Day; zone: string; close: () => void }) {
  const { busy, refused, run } = useAction()
  const [says, setSays] = useState<string | null>(null)
  const [place, setPlace] = useState({ day: to, time: webinarClockWords(entry.minute) })
  const of = { kind: entry.kind, id: Number(entry.id) }
  useEffect(() => {
    void whatMovesAction({ kind: entry.kind, id: Number(entry.id) }).then(setSays)
  }, [entry])
  return (
    <Dialog open onOpenChange={(is) => !is && close()} title={`Move “${entry.title}”`}>
      <p aria-live="polite">{says ?? "…"}</p>
      <div className="mt-3 grid grid-cols-2 gap-3">
        <TextField
          label="Date"
          type="date"
          value={place.day}
          error={refused || undefined}
          onChange={(e) => e.target.value && setPlace({ ...place, day: e.target.value })}
        />
        <TextField
          label={`Time in ${zone}`}
          type="time"
          value={place.time}
          onChange={(e) => e.target.value && setPlace({ ...place, time: e.target.value })}
        />
      </div>
      <p className="mt-4">
        <Button
          look="primary"
          disabled={busy || says === null}
          onClick={() => {
            const [h, m] = place.time.split(":").map(Number)
            run(
              () => moveEntryAction({ ...of, day: place.day, minute: 60 * h! + m! }),
              () => close(),
            )
          }}
        >
          Move it
        </Button>
      </p>
    </Dialog>
  )
}
