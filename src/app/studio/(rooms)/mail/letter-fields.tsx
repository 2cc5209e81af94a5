"use client"

import { useState, useTransition } from "react"
import { textOf } from "@/core/mail/check"
import { labelChip } from "@/core/mail/chip"
import { isOurLink } from "@/core/page/linked"
import type { LetterTyped } from "@/server/mail/try-letter"
import type { EditorChoices } from "@/server/sequence/sequence-view"
import { Button } from "@/ui/button"
import { SelectField, TextArea, TextField } from "@/ui/field"
import { Link } from "@/ui/link"
import { RichText } from "@/ui/rich-text"
import { Upload } from "../upload"
import { plainLetterAction } from "./letter-actions"
import { lineWords, momentWord, textWords } from "./personal-words"

/** What an e-mail can lead to, show and say. */
export type LetterChoices = Pick<EditorChoices, "lessons" | "pages" | "pictures" | "fields" | "offers" | "webinars">

/** A line with personal words in it, such as a subject. */
export function LineField({
  label,
  value,
  error,
  hint,
  choices,
  onChange,
}: {
  label: string
  value: string
  choices: LetterChoices
  error?: string
  hint?: string
  onChange: (line: string) => void
}) {
  return (
    <div className="grid grid-cols-1 items-start gap-x-3 gap-y-1 sm:grid-cols-[minmax(0,1fr)_auto]">
      <TextField
        label={label}
        value={value}
        maxLength={200}
        error={error}
        hint={hint}
        onChange={(e) => onChange(e.target.value)}
      />
      <select
        aria-label={`Insert a personal word into: ${label}`}
        className="h-9 w-24 rounded-md sm:mt-6 border border-line bg-card px-2"
        value=""
        onChange={(e) => e.target.value && onChange(`${value} ${e.target.value}`.trim())}
      >
        <option value="">Insert…</option>
        {lineWords(choices).map((c) => (
          <option key={c.word} value={labelChip(c.label, c.otherwise || "…")}>
            {c.label}
          </option>
        ))}
      </select>
    </div>
  )
}

type Body = Pick<LetterTyped, "preview" | "body" | "plain" | "button" | "lesson" | "step">

/** What an e-mail says below its subject. */
export function LetterFields({
  value,
  turn,
  choices,
  error,
  editor,
  isPage,
  onChange,
}: {
  value: Body
  /** Where its text is written in the editor of pages. */
  editor: string
  /** Its text is a page of blocks, which is written there alone. */
  isPage: boolean
  /** Goes up when another window's words came in. */
  turn: number
  choices: LetterChoices
  error: (field: string) => string | undefined
  onChange: (change: Partial<Body>) => void
}) {
  const { lessons, pages } = choices
  const [pictures, setPictures] = useState(choices.pictures)
  return (
    <>
      <LineField
        label="Preview line"
        value={value.preview}
        choices={choices}
        error={error("preview")}
        hint="Inboxes show it after the subject."
        onChange={(preview) => onChange({ preview })}
      />
      {isPage ? (
        <section aria-label="Text" className="rounded-md border border-line bg-paper p-3">
          <p className="line-clamp-4">{textOf(value.body) || "Nothing is written yet."}</p>
        </section>
      ) : (
        <RichText
          key={turn}
          label="Text"
          value={value.body}
          chips={textWords(choices)}
          moment={momentWord}
          pictures={pictures}
          ours={isOurLink}
          upload={(put) => (
            <Upload
              kind="picture"
              onDone={(done) => {
                setPictures((all) => [done, ...all])
                put(done)
              }}
            />
          )}
          onChange={(body) => onChange({ body })}
        />
      )}
      <p className="text-note">
        <Link href={editor} className="font-semibold text-slate hover:underline">
          Write it where it stands
        </Link>{" "}
        <span className="text-soft">with headlines, pictures, columns, prices and buttons</span>
      </p>
      <div className="grid grid-cols-1 gap-3 sm:grid-cols-2 sm:gap-3">
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
      <PlainText value={value} error={error("plain")} onChange={(plain) => onChange({ plain })} />
    </>
  )
}

/** The e-mail for those who read no HTML: made of its text, or written by hand. */
function PlainText({
  value,
  error,
  onChange,
}: {
  value: Body
  error: string | undefined
  onChange: (plain: string) => void
}) {
  const [busy, start] = useTransition()
  if (!value.plain)
    return (
      <p className="flex flex-wrap items-baseline gap-x-3 gap-y-1 text-note text-soft">
        The plain text for those who read no HTML is made of this.
        <Button
          disabled={busy}
          onClick={() => start(async () => onChange(await plainLetterAction({ ...value, subject: "" })))}
        >
          Write it by hand
        </Button>
      </p>
    )
  return (
    <div className="space-y-2">
      <TextArea
        label="Plain text"
        error={error}
        hint="‹link 1› and ‹button› are where the text’s links and its button lead. The sender and the link to unsubscribe follow by themselves."
        rows={10}
        maxLength={60_000}
        value={value.plain}
        onChange={(e) => onChange(e.target.value)}
      />
      <Button onClick={() => onChange("")}>Make it of the text again</Button>
    </div>
  )
}
