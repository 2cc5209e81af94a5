"use client"

import type { ChangeAsked } from "@/server/person/address-change"
import { usePageAct } from "@/ui/act-form"
import { Button } from "@/ui/button"
import { TextField } from "@/ui/field"
import { changeAddressAction } from "../actions"

/** Another address: both mailboxes are asked. */
export function AnotherAddress({ pending }: { pending: ChangeAsked | null }) {
  const [state, act, busy] = usePageAct(changeAddressAction, {})
  return (
    <form action={act} className="mt-8 space-y-4 border-t border-line pt-6">
      <h2 className="text-xl">Another address</h2>
      {pending ? (
        <p role="status" className="rounded-lg bg-reed-wash p-4 [overflow-wrap:anywhere]">
          {waitsFor(pending)}
        </p>
      ) : null}
      <TextField
        label="New e-mail address"
        name="email"
        type="email"
        autoComplete="email"
        required
        defaultValue={state.email ?? ""}
        error={state.refused}
        hint="A message goes to both mailboxes, and both must say yes. If you have courses with that address, too, they come together."
      />
      <Button type="submit" disabled={busy} className="min-h-11">
        Change the address
      </Button>
    </form>
  )
}

function waitsFor({ email, oldPressed, newPressed }: ChangeAsked): string {
  if (oldPressed && !newPressed) return `Your mailbox has said yes. Now press the button in the message to ${email}.`
  if (newPressed && !oldPressed)
    return `${email} has said yes. Now press the button in the message to the address you have.`
  return `To change to ${email}, press the button in both messages within a day: the one to that address, and the one to the address you have.`
}
