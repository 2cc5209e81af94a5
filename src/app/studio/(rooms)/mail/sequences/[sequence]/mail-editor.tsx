"use client"

import { useRouter } from "next/navigation"
import { plainChip } from "@/core/mail/chip"
import type { Letter } from "@/core/sequence/document"
import { words } from "@/core/words/en"
import { Clash } from "@/ui/clash"
import { SelectField, TextField } from "@/ui/field"
import { RichText } from "@/ui/rich-text"
import { saveWords } from "@/ui/use-saved"
import { useShared } from "@/ui/use-shared"
import { saveMailAction } from "../actions"

const chips = Object.entries(words.chip).map(([word, label]) => ({
  word,
  label,
  otherwise: word === "first-name" ? "friend" : "",
}))

const fields = {
  subject: "Subject",
  body: "Text",
  button: "Button",
  lesson: "Where the button leads",
  step: "Where the button leads",
}

/** An e-mail of a sequence being written. */
export function MailEditor({
  mail,
  revision,
  lessons,
  pages,
}: {
  mail: Letter
  revision: number
  lessons: readonly { id: number; name: string }[]
  pages: readonly { id: number; name: string }[]
}) {
  const router = useRouter()
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
      },
    },
    async (next, before) => {
      const answer = await saveMailAction(next, before)
      if ("value" in answer) router.refresh()
      return answer
    },
  )
  const error = (field: string) => (typeof saved === "object" && saved.field === field ? saved.refused : undefined)
  return (
    <div className="space-y-4 rounded-lg border border-line bg-card p-4">
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
      <p
        role="status"
        className={`text-[0.9rem] ${typeof saved === "object" ? "font-semibold text-dusk" : "text-soft"}`}
      >
        {saveWords(saved)}
      </p>
    </div>
  )
}
