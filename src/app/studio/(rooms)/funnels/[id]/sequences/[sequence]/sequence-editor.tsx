"use client"

import { useRouter } from "next/navigation"
import { useState, useTransition } from "react"
import type { Sequence, SequenceMail } from "@/core/funnel/draft"
import { plainChip } from "@/core/mail/chip"
import { words } from "@/core/words/en"
import { Button } from "@/ui/button"
import { Clash } from "@/ui/clash"
import { SelectField, TextField } from "@/ui/field"
import { RichText } from "@/ui/rich-text"
import { saveWords } from "@/ui/use-saved"
import { useShared } from "@/ui/use-shared"
import { addMailAction, removeMailAction, saveMailAction, saveSequenceAction } from "../../../actions"
import { whenWords } from "../../pool-bench"

const chips = Object.entries(words.chip).map(([word, label]) => ({
  word,
  label,
  otherwise: word === "first-name" ? "friend" : "",
}))

export function SequenceEditor({
  sequence,
  revisions,
  lessons,
  pages,
}: {
  sequence: Sequence
  revisions: { readonly sequence: number; readonly mails: Readonly<Record<number, number>> }
  lessons: readonly { id: number; title: string }[]
  pages: readonly { id: number; name: string }[]
}) {
  const {
    value: head,
    set: setHead,
    saved,
    clash,
  } = useShared(
    {
      revision: revisions.sequence,
      value: { sequence: sequence.id, name: sequence.name, state: sequence.state, leaveLine: sequence.leaveLine },
    },
    saveSequenceAction,
  )
  const [open, setOpen] = useState<number | null>(sequence.mails[0]?.id ?? null)
  const [busy, start] = useTransition()
  const router = useRouter()
  return (
    <>
      <div className="mt-1 flex items-center justify-between gap-4">
        <h1 className="truncate">{head.name}</h1>
        <span role="status" className="text-[0.9rem] text-soft">
          {saveWords(saved)}
        </span>
      </div>
      <Clash clash={clash} labels={{ name: "Name", state: "Status", leaveLine: "Unsubscribe link text" }} />
      <div className="mt-3 grid gap-3 sm:grid-cols-3 sm:gap-4">
        <TextField
          label="Name"
          value={head.name}
          onChange={(e) => setHead({ ...head, name: e.target.value })}
          error={typeof saved === "object" && saved.field === "name" ? saved.refused : undefined}
        />
        <SelectField
          label="Status"
          value={head.state}
          onChange={(e) => setHead({ ...head, state: e.target.value as "draft" })}
        >
          <option value="draft">Draft: nothing is sent</option>
          <option value="live">Live, once the funnel is published</option>
        </SelectField>
        <TextField
          label="Unsubscribe link text"
          value={head.leaveLine}
          maxLength={200}
          onChange={(e) => setHead({ ...head, leaveLine: e.target.value })}
        />
      </div>
      <ol className="mt-5">
        {sequence.mails.map((m, i) => (
          <li key={m.id} className="border-t border-line">
            <button
              type="button"
              aria-expanded={open === m.id}
              onClick={() => setOpen(open === m.id ? null : m.id)}
              className="flex w-full items-baseline gap-4 py-3 text-left"
            >
              <span className="w-6 text-soft">{i + 1}</span>
              <span className="min-w-0 flex-1 truncate font-semibold">{m.subject || "No subject yet"}</span>
              <span className="text-[0.9rem] text-soft">{whenWords(m.afterDays, m.atMinute)}</span>
            </button>
            {open === m.id ? (
              <MailEditor
                mail={m}
                revision={revisions.mails[m.id] ?? 1}
                lessons={lessons}
                pages={pages}
                first={i === 0}
                onRemove={() =>
                  start(async () => {
                    await removeMailAction(m.id)
                    router.refresh()
                  })
                }
              />
            ) : null}
          </li>
        ))}
      </ol>
      <Button
        className="mt-4"
        disabled={busy}
        onClick={() =>
          start(async () => {
            const done = await addMailAction(sequence.id)
            if (done.mail) setOpen(done.mail)
            router.refresh()
          })
        }
      >
        Add an e-mail at the end
      </Button>
    </>
  )
}

const fields = {
  subject: "Subject",
  body: "Text",
  button: "Button",
  lesson: "Where the button leads",
  step: "Where the button leads",
  afterDays: "Days",
  atMinute: "Time",
}

function MailEditor({
  mail,
  revision,
  lessons,
  pages,
  first,
  onRemove,
}: {
  mail: SequenceMail
  revision: number
  lessons: readonly { id: number; title: string }[]
  pages: readonly { id: number; name: string }[]
  first: boolean
  onRemove: () => void
}) {
  const {
    value: m,
    set,
    saved,
    clash,
    turn,
  } = useShared(
    {
      revision,
      value: {
        mail: mail.id,
        subject: mail.subject,
        body: mail.body,
        button: mail.button,
        lesson: mail.lessonId,
        step: mail.stepId,
        afterDays: mail.afterDays,
        atMinute: mail.atMinute,
      },
    },
    saveMailAction,
  )
  const error = (field: string) => (typeof saved === "object" && saved.field === field ? saved.refused : undefined)
  const time =
    m.atMinute === null
      ? ""
      : `${String(Math.floor(m.atMinute / 60)).padStart(2, "0")}:${String(m.atMinute % 60).padStart(2, "0")}`
  return (
    <div className="space-y-4 rounded-lg border border-line bg-card p-4 mb-4">
      <Clash clash={clash} labels={fields} />
      <div className="grid grid-cols-[minmax(0,1fr)_auto] items-end gap-3">
        <TextField
          label="Subject"
          value={m.subject}
          maxLength={200}
          onChange={(e) => set({ ...m, subject: e.target.value })}
          error={error("subject")}
        />
        <select
          aria-label="Insert name or course into the subject"
          className="h-9 rounded-md border border-line bg-card px-2"
          value=""
          onChange={(e) => e.target.value && set({ ...m, subject: `${m.subject} ${e.target.value}`.trim() })}
        >
          <option value="">Insert name or course…</option>
          {chips.map((c) => (
            <option key={c.word} value={plainChip(c.word as "course", c.otherwise || "…")}>
              {c.label}
            </option>
          ))}
        </select>
      </div>
      <div className="grid gap-3 sm:grid-cols-3 sm:gap-3">
        <TextField
          label={first ? "Days after it begins" : "Days after the one before"}
          type="number"
          min={0}
          max={365}
          value={m.afterDays}
          onChange={(e) => set({ ...m, afterDays: e.target.valueAsNumber || 0 })}
          error={error("afterDays")}
        />
        <TextField
          label="Time (reader's local)"
          type="time"
          value={time}
          hint={time ? undefined : "Empty: at once, or at the same time of day."}
          onChange={(e) => {
            const [h, min] = e.target.value.split(":").map(Number)
            set({ ...m, atMinute: e.target.value ? h! * 60 + min! : null })
          }}
        />
      </div>
      <RichText
        key={turn}
        label="Text"
        value={m.body}
        chips={chips}
        onChange={(body) => set((now) => ({ ...now, body }))}
      />
      <div className="grid gap-3 sm:grid-cols-2 sm:gap-3">
        <TextField
          label="Button"
          value={m.button}
          maxLength={80}
          onChange={(e) => set({ ...m, button: e.target.value })}
        />
        <SelectField
          label="Leads to"
          value={m.step !== null ? `page:${m.step}` : m.lesson !== null ? `lesson:${m.lesson}` : ""}
          onChange={(e) => {
            const [kind, id] = e.target.value.split(":")
            set({
              ...m,
              lesson: kind === "lesson" ? Number(id) : null,
              step: kind === "page" ? Number(id) : null,
            })
          }}
        >
          <option value="">Nowhere</option>
          <optgroup label="Lessons">
            {lessons.map((l) => (
              <option key={l.id} value={`lesson:${l.id}`}>
                {l.title}
              </option>
            ))}
          </optgroup>
          <optgroup label="Pages of this funnel">
            {pages.map((x) => (
              <option key={x.id} value={`page:${x.id}`}>
                {x.name}
              </option>
            ))}
          </optgroup>
        </SelectField>
      </div>
      <div className="flex items-center justify-between">
        <span
          role="status"
          className={`text-[0.9rem] ${typeof saved === "object" ? "font-semibold text-dusk" : "text-soft"}`}
        >
          {saveWords(saved)}
        </span>
        <Button look="danger" onClick={onRemove}>
          Remove this e-mail
        </Button>
      </div>
    </div>
  )
}
