"use client"
import { useState } from "react"
import { Button } from "@/ui/button"
import { Dialog } from "@/ui/dialog"
import { TextField } from "@/ui/field"
import { useAction } from "@/ui/use-action"
import { leaveOutAction } from "../actions"

/** A line is left out of payouts with a reason, and put in again. */
export function LeaveOut({ line, why, says }: { line: number; why: string | null; says: string }) {
  const [open, setOpen] = useState(false)
  const [typed, setTyped] = useState("")
  const { busy, refused, run } = useAction()
  const send = (reason: string) =>
    run(
      () => leaveOutAction([line], reason),
      () => setOpen(false),
    )
  if (why)
    return (
      <span>
        left out: {why}{" "}
        <button
          type="button"
          className="text-slate underline"
          disabled={busy}
          aria-label={`Put in again: ${says}`}
          onClick={() => send("")}
        >
          Put in
        </button>
      </span>
    )
  return (
    <>
      <button
        type="button"
        className="text-slate underline"
        aria-label={`Leave out: ${says}`}
        onClick={() => setOpen(true)}
      >
        Leave out
      </button>
      <Dialog open={open} onOpenChange={setOpen} title="Leave this out">
        <form
          className="space-y-3 text-left"
          onSubmit={(e) => {
            e.preventDefault()
            send(typed)
          }}
        >
          <p>{says}</p>
          <TextField
            label="Why"
            value={typed}
            maxLength={200}
            onChange={(e) => setTyped(e.target.value)}
            error={refused || undefined}
            hint="It stays due, and is left out of every payout until it is put in again."
          />
          <Button type="submit" look="primary" disabled={busy || !typed.trim()}>
            Leave it out
          </Button>
        </form>
      </Dialog>
    </>
  )
}
