"use client"

import { useActionState } from "react"
import { Button } from "@/ui/button"
import { TextField } from "@/ui/field"
import { askWayInAction } from "../actions"

export function AskForm({ to }: { to: string }) {
  const [state, act, busy] = useActionState(askWayInAction, {})
  if (state.asked)
    return (
      <p role="status" className="mt-6 rounded-lg bg-reed-wash p-4 text-ink">
        If {state.email} is known here, a link is on its way to it. It works for an hour, once. It can take a minute;
        look among the unwanted messages, too.
      </p>
    )
  return (
    <form action={act} className="mt-6 space-y-4">
      <input type="hidden" name="to" value={to} />
      <TextField
        label="E-mail address"
        name="email"
        type="email"
        autoComplete="email"
        inputMode="email"
        required
        defaultValue={state.email}
        error={state.refused}
      />
      <Button type="submit" look="primary" disabled={busy} className="min-h-11 w-full">
        Mail me the link
      </Button>
    </form>
  )
}
