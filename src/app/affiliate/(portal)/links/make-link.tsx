"use client"
import { useState } from "react"
import type { PortalTarget } from "@/server/affiliate/portal"
import { Button } from "@/ui/button"
import { option, SelectField, TextField } from "@/ui/field"
import { useAction } from "@/ui/use-action"
import { makeLinkAction, removeLinkAction } from "../../actions"

export function MakeLink({ targets }: { targets: readonly PortalTarget[] }) {
  const [to, setTo] = useState(targets[0]?.value ?? "")
  const [name, setName] = useState("")
  const { busy, answer: done, run } = useAction()
  if (!targets.length) return <p className="mt-1">No page is live just now. Your own link works as soon as one is.</p>
  return (
    <form
      className="mt-2 space-y-3"
      onSubmit={(e) => {
        e.preventDefault()
        run(
          () => makeLinkAction(to, name),
          () => setName(""),
        )
      }}
    >
      <SelectField
        label="It leads to"
        value={to}
        onChange={(e) => setTo(e.target.value)}
        error={done.field === "to" ? done.refused : undefined}
      >
        {targets.map((t) => option(t.value, t.says))}
      </SelectField>
      <TextField
        label="A name for the place"
        value={name}
        maxLength={40}
        onChange={(e) => setName(e.target.value)}
        placeholder="letter, market stall, episode 12"
        hint="It stands in the link, and tells your places apart."
        error={done.field === "name" ? done.refused : undefined}
      />
      <Button type="submit" look="primary" className="min-h-11 w-full sm:w-auto" disabled={busy}>
        Make the link
      </Button>
      {done.refused && !done.field ? (
        <p role="alert" className="font-semibold">
          {done.refused}
        </p>
      ) : null}
    </form>
  )
}

export function RemoveLink({ link, name }: { link: number; name: string }) {
  const { busy, run } = useAction()
  return (
    <button
      type="button"
      disabled={busy}
      aria-label={`Remove from this list: ${name}`}
      className="mt-1.5 min-h-8 text-note text-soft underline"
      onClick={() => run(() => removeLinkAction(link))}
    >
      Remove from this list
    </button>
  )
}
