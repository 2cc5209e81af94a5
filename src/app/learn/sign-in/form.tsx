"use client"

import { useState } from "react"
import { usePageAct } from "@/ui/act-form"
import { Button } from "@/ui/button"
import { TextField } from "@/ui/field"
import { Refusal } from "@/ui/refusal"
import { addressAction, askWayInAction, signInAction } from "../actions"

/** The address first; then a link by mail or the password, the same for everybody who asks. */
export function SignInForm({
  to: asksFor,
  sign: signIn = signInAction,
}: {
  to: string
  /** What a password does; not given: it signs in to the learning area. */
  sign?: typeof signInAction
}) {
  const [given, goOn, going] = usePageAct(addressAction, { email: "", to: asksFor })
  /** The answer whose address is to be another one. */
  const [another, setAnother] = useState<object | null>(null)
  const { email, to } = given
  const [asked, ask, asking] = usePageAct(askWayInAction, {})
  const [tried, sign, signing] = usePageAct(signIn, {})
  if (asked.asked)
    return (
      <p role="status" className="mt-6 rounded-lg bg-reed-wash p-4 text-ink">
        If {asked.email} is known here, a link is on its way to it. It works for an hour, once. It can take a minute;
        look among the unwanted messages, too.
      </p>
    )
  if (!email || another === given)
    return (
      <form action={goOn} className="mt-6 space-y-4">
        <input type="hidden" name="to" value={to} />
        <TextField
          label="E-mail address"
          name="email"
          type="email"
          autoComplete="username"
          inputMode="email"
          required
          defaultValue={email}
        />
        <Button type="submit" look="primary" disabled={going} className="min-h-11 w-full">
          Go on
        </Button>
      </form>
    )
  return (
    <div className="mt-6">
      <p className="flex items-baseline justify-between gap-3">
        <strong className="[overflow-wrap:anywhere]">{email}</strong>
        <button type="button" className="min-h-8 text-slate underline" onClick={() => setAnother(given)}>
          Another address
        </button>
      </p>
      <form action={ask} className="mt-4">
        <input type="hidden" name="to" value={to} />
        <input type="hidden" name="email" value={email} />
        <Button type="submit" look="primary" disabled={asking} className="min-h-11 w-full">
          Mail me the link
        </Button>
        <Refusal className="mt-1">{asked.refused}</Refusal>
        <p className="mt-1 text-body text-soft">It signs you in without a password, also if you have forgotten it.</p>
      </form>
      <form action={sign} className="mt-6 space-y-3 border-t border-line pt-5">
        <input type="hidden" name="to" value={to} />
        <input type="hidden" name="email" value={email} autoComplete="username" />
        <TextField
          label="Or your password"
          name="password"
          type="password"
          autoComplete="current-password"
          required
          error={tried.refused}
        />
        <Button type="submit" disabled={signing} className="min-h-11 w-full">
          Sign in
        </Button>
      </form>
    </div>
  )
}
