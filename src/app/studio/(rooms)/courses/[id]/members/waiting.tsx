"use client"

import { locale } from "@/core/words/locale"
import { Button } from "@/ui/button"
import { Refusal } from "@/ui/refusal"
import { useAction } from "@/ui/use-action"
import { tellWaitingAction } from "../../actions"

/** How many wait to be told that the course is open, and a press that tells them. */
export function Waiting({ course, n }: { course: number; n: number }) {
  const { busy, run, refused } = useAction()
  if (n === 0) return null
  return (
    <div className="mb-5 flex flex-wrap items-center gap-x-4 gap-y-2 rounded-lg bg-shallow px-4 py-3">
      <p className="min-w-0 flex-1">
        {n === 1 ? "One person waits" : `${n.toLocaleString(locale)} people wait`} for it, from a catalogue. They are
        told when it goes live, or by a press here.
      </p>
      <Button disabled={busy} onClick={() => run(() => tellWaitingAction(course))}>
        {n === 1 ? "Tell them now" : "Tell them all now"}
      </Button>
      <Refusal>{refused}</Refusal>
    </div>
  )
}
