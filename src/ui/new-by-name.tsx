"use client"

import { usePageAct } from "./act-form"
import { Button } from "./button"
import { TextField } from "./field"
import { OnceField } from "./once"

/** Makes something new from a name; `act` goes on to it where it could be made. */
export function NewByName({
  says,
  label = "Name",
  field = "name",
  hint,
  open,
  maxLength = 120,
  act,
}: {
  /** What is made: "New segment". */
  says: string
  label?: string
  /** As the form has it. */
  field?: string
  hint?: string
  /** Whether it stands open: where there is nothing else yet. */
  open: boolean
  maxLength?: number
  act: (state: { refused?: string }, form: FormData) => Promise<{ refused?: string }>
}) {
  const [state, action, busy] = usePageAct(act, {})
  return (
    <details open={open} className="mt-3">
      <summary className="text-slate">{says}</summary>
      <form action={action} className="mt-3 flex max-w-xl items-start gap-3">
        <OnceField told={state} />
        <div className="flex-1">
          <TextField label={label} name={field} required maxLength={maxLength} error={state.refused} hint={hint} />
        </div>
        <Button type="submit" look="primary" disabled={busy} className="mt-6">
          Make it
        </Button>
      </form>
    </details>
  )
}
