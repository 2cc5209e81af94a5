"use client"

import { usePageAct } from "@/ui/act-form"
import { Button } from "@/ui/button"
import { TextField } from "@/ui/field"
import { acceptInvitationAction } from "../../actions"

export function InvitationForm({ invitation }: { invitation: string }) {
  const [asked, ask, asking] = usePageAct(acceptInvitationAction.bind(null, invitation), {})
  if (asked.asked)
    return (
      <p role="status" className="mt-6 rounded-lg bg-card p-4">
        The way to your page is on its way to {asked.email}. It can take a minute; look among the unwanted messages,
        too.
      </p>
    )
  return (
    <form action={ask} className="mt-5 space-y-4">
      <TextField label="Name" name="name" autoComplete="name" maxLength={80} />
      <TextField
        label="E-mail address"
        name="email"
        type="email"
        required
        autoComplete="email"
        defaultValue={asked.email}
        error={asked.refused}
      />
      <div className="sr-only" aria-hidden="true">
        <input name="website" tabIndex={-1} autoComplete="off" />
      </div>
      <Button type="submit" look="primary" className="min-h-11 w-full" disabled={asking}>
        Mail me the way in
      </Button>
    </form>
  )
}
