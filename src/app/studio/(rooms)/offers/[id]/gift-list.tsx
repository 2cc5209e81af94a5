"use client"

import { useState } from "react"
import { type Gift, giftKey, giftKinds } from "@/core/offer/gift/list"
import { Button } from "@/ui/button"
import { SelectField, TextField } from "@/ui/field"
import { Refusal } from "@/ui/refusal"
import type { EditorMedia } from "../../courses/[id]/media-field"
import { Upload } from "../../upload"

/** What an offer gives, in a list that can be added to and taken from. */
export function GiftList({
  gifts,
  courses,
  media,
  offers,
  error,
  onChange,
  onUploaded,
}: {
  gifts: readonly Gift[]
  courses: readonly { id: number; title: string; state: string }[]
  media: readonly EditorMedia[]
  offers: readonly { id: number; name: string }[]
  error: string | undefined
  onChange: (gifts: readonly Gift[]) => void
  onUploaded: (media: EditorMedia) => void
}) {
  const [uploading, setUploading] = useState(false)
  const has = (g: Gift) => gifts.some((x) => giftKey(x) === giftKey(g))
  const add = (g: Gift) => (has(g) ? undefined : onChange([...gifts, g]))
  const things = {
    courses: courses.map((c) => ({ id: c.id, title: c.title, live: c.state === "live" })),
    files: media.filter((m) => m.kind === "file").map((m) => ({ id: m.id, title: m.name, live: true })),
    offers: offers.map((o) => ({ id: o.id, title: o.name, live: true })),
  }
  const kinds = Object.values(giftKinds)
  const choices = kinds.flatMap(({ chosen }) =>
    chosen ? [{ group: chosen.group, gifts: things[chosen.from].map((x) => chosen.of(x)) }] : [],
  )
  const all = choices.flatMap((c) => c.gifts)
  return (
    <div className="space-y-3">
      {gifts.length === 0 ? (
        <p className="text-body text-amber-text">Nothing yet: whoever takes it gets nothing for it.</p>
      ) : (
        <ul>
          {gifts.map((g) => (
            <li key={giftKey(g)} className="flex items-baseline gap-3 border-t border-line py-1.5 first:border-0">
              <span className="min-w-0 flex-1 [overflow-wrap:anywhere]">{g.title}</span>
              <span className="text-label text-soft">
                {giftKinds[g.kind].label}
                {giftKinds[g.kind].note?.(g)}
              </span>
              <button
                type="button"
                aria-label={`Remove: ${g.title}`}
                className="px-1.5 text-soft hover:text-dusk"
                onClick={() => onChange(gifts.filter((x) => giftKey(x) !== giftKey(g)))}
              >
                ×
              </button>
            </li>
          ))}
        </ul>
      )}
      <Refusal className="text-fine">{error}</Refusal>
      <SelectField
        label="Add"
        value=""
        onChange={(e) => {
          const chosen = all.find((g) => giftKey(g) === e.target.value)
          if (chosen) add(chosen)
          if (e.target.value === "upload") setUploading(true)
        }}
      >
        <option value="">Choose…</option>
        {choices.map((c) =>
          c.gifts.length ? (
            <optgroup key={c.group} label={c.group}>
              {c.gifts.map((g) => (
                <option key={giftKey(g)} value={giftKey(g)} disabled={has(g)}>
                  {g.title}
                  {giftKinds[g.kind].note?.(g)}
                </option>
              ))}
            </optgroup>
          ) : null,
        )}
        <option value="upload">A file from this computer…</option>
      </SelectField>
      {uploading ? (
        <Upload
          kind="file"
          onDone={(done) => {
            onUploaded({ ...done, kind: "file" })
            add(giftKinds.file.chosen!.of({ id: done.id, title: done.name, live: true }))
            setUploading(false)
          }}
        />
      ) : null}
      {kinds.map(({ written }) =>
        written ? (
          <Written key={written.field} field={written.field} onAdd={(words) => add(written.of(words))} />
        ) : null,
      )}
    </div>
  )
}

/** Something that is given in words. */
function Written({ field, onAdd }: { field: string; onAdd: (words: string) => void }) {
  const [words, setWords] = useState("")
  return (
    <form
      className="flex items-end gap-2"
      onSubmit={(e) => {
        e.preventDefault()
        if (words.trim()) onAdd(words.trim())
        setWords("")
      }}
    >
      <div className="flex-1">
        <TextField label={field} value={words} maxLength={200} onChange={(e) => setWords(e.target.value)} />
      </div>
      <Button type="submit">Add</Button>
    </form>
  )
}
