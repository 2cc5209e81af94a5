"use client"

import { Popover } from "radix-ui"
import { useId, useState } from "react"
import type { Again } from "@/core/sequence/effect/kind"
import { type EffectKind, effectKinds } from "@/core/sequence/effect/list"
import { Button } from "@/ui/button"
import { option, SelectField, TextField } from "@/ui/field"
import { useAction } from "@/ui/use-action"

/** What an effect can be about. */
export type EffectChoices = {
  readonly sequences: readonly { id: number; name: string }[]
  readonly tags: readonly string[]
  readonly courses: readonly { id: number; title: string }[]
  /** Offers that have a programme for affiliates. */
  readonly programmes: readonly { id: number; name: string }[]
}

/** Chooses an effect and what it is about; `onAdd` hangs it where it belongs. */
export function AddEffect({
  sequences,
  tags,
  courses,
  programmes,
  onAdd,
}: EffectChoices & {
  onAdd: (chosen: {
    kind: EffectKind
    tag?: string
    sequence?: number
    course?: number
    offer?: number
    again: Again
  }) => Promise<{ refused?: string }>
}) {
  const [open, setOpen] = useState(false)
  const [kind, setKind] = useState<EffectKind>("tag-on")
  const [tag, setTag] = useState("")
  const [subject, setSubject] = useState("")
  const [again, setAgain] = useState<Again>("no")
  const { busy, refused, run } = useAction()
  const list = useId()
  const about = effectKinds[kind].chooses
  const choices =
    about === "course" ? courses.map((c) => ({ id: c.id, name: c.title })) : about === "offer" ? programmes : sequences
  const chosen = Number(subject) || choices[0]?.id
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger className="rounded border border-dashed border-line px-1.5 text-label text-soft hover:border-soft hover:text-ink">
        add…
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={5}
          className="z-30 w-64 rounded-lg border border-line bg-card p-3 shadow-lg"
        >
          <form
            className="space-y-2.5"
            onSubmit={(e) => {
              e.preventDefault()
              run(
                () =>
                  onAdd({
                    kind,
                    again,
                    ...(about === "tag" ? { tag } : about ? { [about]: chosen } : {}),
                  }),
                () => setOpen(false),
              )
            }}
          >
            <SelectField label="Effect" value={kind} onChange={(e) => setKind(e.target.value as EffectKind)}>
              {Object.entries(effectKinds).map(([k, { label }]) => option(k, label))}
            </SelectField>
            {about === "tag" ? (
              <>
                <TextField
                  label="Tag"
                  list={list}
                  value={tag}
                  onChange={(e) => setTag(e.target.value)}
                  error={refused}
                />
                <datalist id={list}>
                  {tags.map((t) => (
                    <option key={t} value={t} />
                  ))}
                </datalist>
              </>
            ) : about === null ? null : (
              <SelectField
                label={{ course: "Course", offer: "Offer", sequence: "Sequence" }[about]}
                hint={
                  about === "offer" && programmes.length === 0
                    ? "No offer has a programme for affiliates yet: see Affiliates, Programmes."
                    : undefined
                }
                value={chosen}
                onChange={(e) => setSubject(e.target.value)}
                error={refused}
              >
                {choices.map((c) => option(c.id, c.name))}
              </SelectField>
            )}
            {effectKinds[kind].again ? <AgainField kind={kind} value={again} onChange={setAgain} /> : null}
            <Button type="submit" look="primary" disabled={busy}>
              Add
            </Button>
          </form>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}

/** Whether it is done again for somebody it was done for before. */
export function AgainField({
  kind,
  value,
  onChange,
}: {
  kind: EffectKind
  value: Again
  onChange: (again: Again) => void
}) {
  const { again } = effectKinds[kind]
  if (!again) return null
  return (
    <SelectField label={again.label} value={value} onChange={(e) => onChange(e.target.value as Again)}>
      {Object.entries(again.choices).map(([key, says]) => option(key, says))}
    </SelectField>
  )
}
