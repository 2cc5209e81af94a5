"use client"

import { plainChip } from "@/core/mail/chip"
import { words } from "@/core/words/en"
import { SelectField, TextField } from "@/ui/field"
import { RichText } from "@/ui/rich-text"

const chips = Object.entries(words.chip).map(([word, label]) => ({
  word,
  label,
  otherwise: word === "first-name" ? "friend" : "",
}))

type Named = { readonly id: number; readonly name: string }

/** A line with personal words in it, such as a subject. */
export function LineField({
  label,
  value,
  error,
  hint,
  onChange,
}: {
  label: string
  value: string
  error?: string
  hint?: string
  onChange: (line: string) => void
}) {
  return (
    <div className="grid items-start gap-x-3 gap-y-1 sm:grid-cols-[minmax(0,1fr)_auto]">
      <TextField
        label={label}
        value={value}
        maxLength={200}
        error={error}
        hint={hint}
        onChange={(e) => onChange(e.target.value)}
      />
      <select
        aria-label={`Insert name or course into: ${label}`}
        className="h-9 w-24 rounded-md sm:mt-6 border border-line bg-card px-2"
        value=""
        onChange={(e) => e.target.value && onChange(`${value} ${e.target.value}`.trim())}
      >
        <option value="">Insert…</option>
        {chips.map((c) => (
          <option key={c.word} value={plainChip(c.word as "course", c.otherwise || "…")}>
            {c.label}
          </option>
        ))}
      </select>
    </div>
  )
}

type Body = {
  readonly preview: string
  readonly body: string
  readonly button: string
  readonly lesson: number | null
  readonly step: number | null
}

/** What an e-mail says below its subject. */
export function LetterFields({
  value,
  turn,
  lessons,
  pages,
  error,
  onChange,
}: {
  value: Body
  /** Goes up when another window's words came in. */
  turn: number
  lessons: readonly Named[]
  pages: readonly Named[]
  error: (field: string) => string | undefined
  onChange: (change: Partial<Body>) => void
}) {
  return (
    <>
      <LineField
        label="Preview line"
        value={value.preview}
        error={error("preview")}
        hint="Inboxes show it after the subject."
        onChange={(preview) => onChange({ preview })}
      />
      <RichText key={turn} label="Text" value={value.body} chips={chips} onChange={(body) => onChange({ body })} />
      <div className="grid gap-3 sm:grid-cols-2 sm:gap-3">
        <TextField
          label="Button"
          value={value.button}
          maxLength={80}
          error={error("button")}
          onChange={(e) => onChange({ button: e.target.value })}
        />
        <SelectField
          label="Leads to"
          value={value.step !== null ? `page:${value.step}` : value.lesson !== null ? `lesson:${value.lesson}` : ""}
          onChange={(e) => {
            const [kind, id] = e.target.value.split(":")
            onChange({
              lesson: kind === "lesson" ? Number(id) : null,
              step: kind === "page" ? Number(id) : null,
            })
          }}
        >
          <option value="">Nowhere</option>
          <optgroup label="Lessons">
            {lessons.map((l) => (
              <option key={l.id} value={`lesson:${l.id}`}>
                {l.name}
              </option>
            ))}
          </optgroup>
          <optgroup label="Pages">
            {pages.map((x) => (
              <option key={x.id} value={`page:${x.id}`}>
                {x.name}
              </option>
            ))}
          </optgroup>
        </SelectField>
      </div>
    </>
  )
}
