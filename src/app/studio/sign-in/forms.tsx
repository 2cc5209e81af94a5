"use client"

import { useEffect, useState } from "react"
import { usePageAct } from "@/ui/act-form"
import { Button } from "@/ui/button"
import { TextField } from "@/ui/field"
import { Refusal } from "@/ui/refusal"
import { askLinkAction, makeOwnerAction, signInAction } from "./actions"

export function SignInForm({ demo }: { demo: { email: string; password: string } | null }) {
  const [state, act, busy] = usePageAct(signInAction, {})
  const [email, setEmail] = useState("")
  const [password, setPassword] = useState("")
  return (
    <form action={act} className="space-y-4">
      <Refusal className="rounded-md border border-dusk px-3 py-2">{state.refused}</Refusal>
      <TextField
        label="E-mail address"
        name="email"
        type="email"
        autoComplete="username"
        required
        value={email}
        onChange={(e) => setEmail(e.target.value)}
      />
      <TextField
        label="Password"
        name="password"
        type="password"
        autoComplete="current-password"
        required
        value={password}
        onChange={(e) => setPassword(e.target.value)}
      />
      <Button type="submit" look="primary" disabled={busy} className="w-full">
        Sign in
      </Button>
      {demo ? (
        <div className="rounded-md bg-amber-wash p-3 text-note">
          <p>This is the demo school. Anybody may look around in it.</p>
          <Button
            type="submit"
            className="mt-2"
            onClick={() => {
              setEmail(demo.email)
              setPassword(demo.password)
            }}
          >
            Sign in as {demo.email}
          </Button>
        </div>
      ) : null}
    </form>
  )
}

/** A link by mail, for whoever has lost the password or must wait. */
export function MailedLink({ mail }: { mail: boolean }) {
  const [state, act, busy] = usePageAct(askLinkAction, {})
  return (
    <details className="mt-6 border-t border-line pt-4">
      <summary className="cursor-pointer text-slate">Password lost? Have a link mailed to you</summary>
      {mail ? (
        <form action={act} className="mt-3 space-y-3">
          <TextField label="Your e-mail address" name="email" type="email" required error={state.refused} />
          <Button type="submit" disabled={busy}>
            Mail me a link
          </Button>
          {state.asked ? (
            <p role="status">
              If {state.asked} has an account here, a link is on its way. It signs you in once, within the next hour.
            </p>
          ) : null}
        </form>
      ) : (
        <p className="mt-2">No mail server is connected, so no link can be sent.</p>
      )}
    </details>
  )
}

export function OwnerForm({ code }: { code: boolean }) {
  const [state, act, busy] = usePageAct(makeOwnerAction, {})
  const [zone, setZone] = useState("")
  // The school's days begin and end where its owner is, until they say otherwise.
  useEffect(() => setZone(Intl.DateTimeFormat().resolvedOptions().timeZone), [])
  const error = (field: string) => (state.field === field ? state.refused : undefined)
  return (
    <form action={act} className="space-y-4">
      <Refusal>{!state.field && state.refused}</Refusal>
      <input type="hidden" name="zone" value={zone} />
      {code ? (
        <TextField
          label="Opening code"
          name="code"
          required
          autoComplete="off"
          error={error("code")}
          hint="You find it in the terminal where the school was started."
        />
      ) : null}
      <TextField
        label="Your school's name"
        name="school"
        required
        defaultValue={state.school}
        error={error("school")}
      />
      <TextField
        label="Your name"
        name="name"
        autoComplete="name"
        required
        defaultValue={state.name}
        error={error("name")}
      />
      <TextField
        label="Your e-mail address"
        name="email"
        type="email"
        autoComplete="username"
        required
        defaultValue={state.email}
        error={error("email")}
      />
      <TextField
        label="Password"
        name="password"
        type="password"
        autoComplete="new-password"
        required
        error={error("password")}
        hint="At least 10 characters. A short sentence is good."
      />
      <Button type="submit" look="primary" disabled={busy} className="w-full">
        Open the school
      </Button>
    </form>
  )
}
