"use client"

import { usePageAct } from "@/ui/act-form"
import { Button } from "@/ui/button"
import { TextField } from "@/ui/field"
import { Refusal } from "@/ui/refusal"
import { setPasswordAction } from "../actions"

export function SetPassword({ has, asks, email }: { has: boolean; asks: boolean; email: string }) {
  const [state, act, busy] = usePageAct(setPasswordAction, {})
  const error = (field: string) => (state.field === field ? state.refused : undefined)
  return (
    <form action={act} className="mt-8 space-y-4 border-t border-line pt-6">
      <h2 className="text-xl">{has ? "Another password" : "Set a password"}</h2>
      {has ? null : (
        <p>
          You don’t need one: a mailed link always signs you in. With a password you get in without waiting for mail.
        </p>
      )}
      <input type="hidden" name="username" value={email} autoComplete="username" />
      {asks ? (
        <TextField
          label="The password you have now"
          name="current"
          type="password"
          autoComplete="current-password"
          required
          error={error("current")}
          hint="Forgotten? Sign out, and have a link mailed to you: for an hour after it nobody asks."
        />
      ) : null}
      <TextField
        label="New password"
        name="next"
        type="password"
        autoComplete="new-password"
        required
        error={error("next")}
        hint="At least 10 characters, any you like. A short sentence is good. Every other device is signed out."
      />
      <Refusal>{!state.field && state.refused}</Refusal>
      <Button type="submit" look="primary" disabled={busy} className="min-h-11">
        {has ? "Change the password" : "Set the password"}
      </Button>
      {state.done ? (
        <p role="status" className="font-semibold text-reed">
          It is set, and every other device has been signed out.
        </p>
      ) : null}
    </form>
  )
}
