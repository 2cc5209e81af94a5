"use client"

import { useState, useTransition } from "react"
import { usePageAct } from "@/ui/act-form"
import { Button } from "@/ui/button"
import { TextField } from "@/ui/field"
import { Refusal } from "@/ui/refusal"
import { changePasswordAction, endOthersAction } from "../actions"

export function ChangePassword({ byMail }: { byMail: boolean }) {
  const [state, act, busy] = usePageAct(changePasswordAction, {})
  const error = (field: string) => (state.field === field ? state.refused : undefined)
  return (
    <form action={act} className="space-y-4">
      <h2>New password</h2>
      {byMail ? (
        <p>You came by a link from your mailbox, so the old password isn't asked for.</p>
      ) : (
        <TextField
          label="Current password"
          name="current"
          type="password"
          autoComplete="current-password"
          required
          error={error("current")}
        />
      )}
      <TextField
        label="New password"
        name="next"
        type="password"
        autoComplete="new-password"
        required
        error={error("next")}
        hint="At least 10 characters. A short sentence is good. Every other session ends."
      />
      <Button type="submit" look="primary" disabled={busy}>
        Change the password
      </Button>
      <Refusal>{!state.field && state.refused}</Refusal>
      {state.done ? (
        <p role="status" className="font-semibold text-reed">
          The password is changed, and every other session has ended.
        </p>
      ) : null}
    </form>
  )
}

export function OtherSessions({ others }: { others: number }) {
  const [ended, setEnded] = useState<number | null>(null)
  const [busy, start] = useTransition()
  return (
    <section className="space-y-2">
      <h2>Other sessions</h2>
      <p role="status">
        {ended !== null
          ? ended === 1
            ? "One other session has ended."
            : `${ended} other sessions have ended.`
          : others === 0
            ? "You are signed in on this device only."
            : others === 1
              ? "You are signed in on one other device or browser."
              : `You are signed in on ${others} other devices or browsers.`}
      </p>
      {others > 0 && ended === null ? (
        <Button disabled={busy} onClick={() => start(async () => setEnded(await endOthersAction()))}>
          End my other sessions
        </Button>
      ) : null}
    </section>
  )
}
