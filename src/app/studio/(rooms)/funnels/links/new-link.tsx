"use client"

import { useState } from "react"
import { usePageAct } from "@/ui/act-form"
import { Button } from "@/ui/button"
import { option, SelectField, TextField } from "@/ui/field"
import { useAction } from "@/ui/use-action"
import { makeLinkAction, removeLinkAction } from "./actions"

/** A page, and where the link to it will stand. */
export function NewLink({ pages }: { pages: readonly { readonly id: number; readonly name: string }[] }) {
  const [told, act, busy] = usePageAct(makeLinkAction, {})
  // Held here, since React empties a form that was refused: what was typed stays.
  const [f, set] = useState({ step: String(pages[0]?.id ?? ""), source: "", campaign: "" })
  const typed = (key: keyof typeof f) => ({
    name: key,
    value: f[key],
    onChange: (e: React.ChangeEvent<HTMLInputElement | HTMLSelectElement>) => set({ ...f, [key]: e.target.value }),
  })
  const error = (field: string) => (told.field === field ? told.refused : undefined)
  return (
    <form action={act} className="mt-4 grid grid-cols-1 items-start gap-3 sm:grid-cols-[minmax(0,1.4fr)_1fr_1fr_auto]">
      <SelectField label="Page" {...typed("step")} error={error("step")}>
        {pages.map((p) => option(p.id, p.name))}
      </SelectField>
      <TextField
        label="Source"
        {...typed("source")}
        required
        maxLength={60}
        placeholder="garden letter"
        hint="Where you put the link."
        error={error("source")}
      />
      <TextField label="Campaign (optional)" {...typed("campaign")} maxLength={60} error={error("campaign")} />
      <Button type="submit" look="primary" disabled={busy} className="sm:mt-6">
        Make the link
      </Button>
    </form>
  )
}

export function RemoveLink({ link, name }: { link: number; name: string }) {
  const { busy, run } = useAction()
  return (
    <Button
      look="danger"
      disabled={busy}
      aria-label={`Remove the link for ${name}`}
      onClick={() => run(() => removeLinkAction(link))}
    >
      Remove
    </Button>
  )
}
