"use client"

import { useParams, useRouter } from "next/navigation"
import type { From } from "@/core/mail/from"
import type { SequenceLetter } from "@/core/sequence/document"
import type { MailStands } from "@/server/sequence/edit"
import { Clash } from "@/ui/clash"
import { saveWords } from "@/ui/use-saved"
import { useShared } from "@/ui/use-shared"
import { LetterAside } from "../../letter-aside"
import { type LetterChoices, LetterFields, LineField } from "../../letter-fields"
import { saveMailAction } from "../actions"

const fields = {
  subject: "Subject",
  preview: "Preview line",
  body: "Text",
  plain: "Plain text",
  button: "Button",
  lesson: "Where the button leads",
  step: "Where the button leads",
}

/** An e-mail of a sequence being written. */
export function MailEditor({
  mail,
  stands,
  from,
  choices,
}: {
  mail: SequenceLetter
  stands: MailStands
  /** Whom the sequence comes from. */
  from: From
  choices: LetterChoices
}) {
  const router = useRouter()
  const { sequence } = useParams<{ sequence: string }>()
  const {
    value: m,
    set,
    saved,
    clash,
    turn,
  } = useShared(
    {
      revision: stands.revision,
      value: {
        mail: mail.id,
        subject: mail.subject,
        preview: mail.preview,
        body: mail.body,
        plain: mail.plain,
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
  const { mail: _, ...typed } = m
  const error = (field: string) => (typeof saved === "object" && saved.field === field ? saved.refused : undefined)
  return (
    <div className="grid grid-cols-1 gap-5 xl:grid-cols-[minmax(0,1fr)_17rem]">
      <div className="space-y-4 rounded-lg border border-line bg-card p-4">
        <Clash clash={clash} labels={fields} />
        <LineField
          label="Subject"
          value={m.subject}
          choices={choices}
          error={error("subject")}
          onChange={(subject) => set((now) => ({ ...now, subject }))}
        />
        <LetterFields
          value={m}
          turn={turn}
          choices={choices}
          error={error}
          editor={`/studio/mail/sequences/${sequence}/mails/${mail.id}`}
          isPage={stands.isPage}
          onChange={(change) => set((now) => ({ ...now, ...change }))}
        />
        <p role="status" className={`text-note ${typeof saved === "object" ? "font-semibold text-dusk" : "text-soft"}`}>
          {saveWords(saved)}
        </p>
      </div>
      <LetterAside letter={{ ...typed, from, of: { mail: mail.id } }} />
    </div>
  )
}
