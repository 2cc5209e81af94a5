"use client"

import { useActionState } from "react"
import { Button } from "@/ui/button"
import { TextField } from "@/ui/field"
import { newSegmentAction } from "../actions"

export function NewSegment({ open }: { open: boolean }) {
  const [state, act, busy] = useActionState(newSegmentAction, {})
  return (
    <details open={open} className="mt-3">
      <summary className="text-slate">New segment</summary>
      <form action={act} className="mt-3 flex max-w-xl items-start gap-3">
        <div className="flex-1">
          <TextField label="Name" name="name" required maxLength={120} error={state.refused} />
        </div>
        <Button type="submit" look="primary" disabled={busy} className="mt-6">
          Make it
        </Button>
      </form>
    </details>
  )
}
