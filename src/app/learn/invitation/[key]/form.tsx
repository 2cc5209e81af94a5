"use client"

import { usePageAct } from "@/ui/act-form"
import { Button } from "@/ui/button"
import { TextField } from "@/ui/field"
import { takeInvitationAction } from "../../actions"

export function InvitationForm({ invitation }: { invitation: string }) {
  const [state, act, busy] = usePageAct(takeInvitationAction, {})
  if (state.asked)
    return (
      <p role="status" className="mt-6 rounded-lg bg-reed-wash p-4 text-ink">
        The way in is on its way to {state.email}. It can take a minute; look among the unwanted messages, too.
      </p>
    )
  return (
    <form action={act} className="mt-6 space-y-4">
      <input type="hidden" name="invitation" value={invitation} />
      <TextField label="First name" name="name" autoComplete="given-name" maxLength={80} />
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
        Let me in
      </Button>
    </form>
  )
}
