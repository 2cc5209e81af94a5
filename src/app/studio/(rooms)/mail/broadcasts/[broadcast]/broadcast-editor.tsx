"use client"

import { useRouter } from "next/navigation"
import { useState } from "react"
import { schoolDay } from "@/app/studio/school-time"
import type { Broadcast } from "@/core/mail/broadcast"
import { type LetterRank, ranks } from "@/core/mail/sending-rules"
import { everybody } from "@/core/person/segment/segment"
import { clockWords } from "@/core/sequence/words"
import { locale } from "@/core/words/locale"
import type { Readers } from "@/server/broadcast/plan"
import type { BroadcastKept } from "@/server/broadcast/store"
import type { SegmentChoices } from "@/server/person/segment-view"
import type { EditorChoices } from "@/server/sequence/sequence-view"
import { Button } from "@/ui/button"
import { Check } from "@/ui/check"
import { Clash } from "@/ui/clash"
import { Dialog } from "@/ui/dialog"
import { option, SelectField, TextField } from "@/ui/field"
import { Refusal } from "@/ui/refusal"
import { useAction } from "@/ui/use-action"
import { useAsked } from "@/ui/use-asked"
import { saveWords } from "@/ui/use-saved"
import { useShared } from "@/ui/use-shared"
import { SegmentEditor } from "../../../segment-editor/segment-editor"
import { people } from "../../../words"
import { FromFields } from "../../from-fields"
import { LetterAside } from "../../letter-aside"
import { LetterFields, LineField } from "../../letter-fields"
import { countReadersAction, planBroadcastAction, removeBroadcastAction, saveBroadcastAction } from "../actions"

const rankWords: Readonly<Record<LetterRank, string>> = {
  first: "Before other e-mails",
  usual: "In the order of their times",
  last: "After other e-mails",
}

/** A broadcast being written: to whom, what, when. */
export function BroadcastEditor({
  broadcast,
  readers: given,
  choices,
  targets,
}: {
  broadcast: BroadcastKept
  readers: Readers
  choices: SegmentChoices
  targets: EditorChoices
}) {
  const router = useRouter()
  const { id } = broadcast
  const { value, set, saved, clash, turn } = useShared(
    { revision: broadcast.revision, value: { name: broadcast.name, document: broadcast.document } },
    (next, before) => saveBroadcastAction(id, next, before),
  )
  const d = value.document
  const put = (change: Partial<Broadcast>) => set((now) => ({ ...now, document: { ...now.document, ...change } }))
  const { answer: readers, asking } = useAsked({ to: d.to, less: d.less }, given, countReadersAction)
  const [sure, setSure] = useState(false)
  const { busy, refused: trouble, run } = useAction()
  const error = (field: string) =>
    typeof saved === "object" && saved.field?.endsWith(field) ? saved.refused : undefined
  return (
    <>
      <div className="mt-1 flex items-center justify-between gap-4">
        <h1 className="truncate">{value.name}</h1>
        <span
          role="status"
          className={`shrink-0 text-note ${typeof saved === "object" ? "font-semibold text-dusk" : "text-soft"}`}
        >
          {saveWords(saved)}
        </span>
      </div>
      <Clash clash={clash} labels={{ name: "Name", document: "The broadcast" }} />
      <div className="mt-3 grid grid-cols-1 gap-6 lg:grid-cols-[minmax(0,1fr)_18rem]">
        <div className="min-w-0 space-y-6">
          <section aria-label="To whom" className="space-y-3">
            <h2>To whom</h2>
            <SegmentEditor legend="People who" value={d.to} choices={choices} onChange={(to) => put({ to })} />
            <Check checked={d.less !== null} onChange={(is) => put({ less: is ? everybody : null })}>
              Leave some of them out
            </Check>
            {d.less ? (
              <SegmentEditor
                legend="Not those who"
                value={d.less}
                choices={choices}
                onChange={(less) => put({ less })}
              />
            ) : null}
          </section>
          <section aria-label="What it says" className="space-y-4 border-t border-line pt-4">
            <h2>What it says</h2>
            {d.subjects.map((subject, i) => (
              <div key={i} className="flex items-start gap-2">
                <div className="min-w-0 flex-1">
                  <LineField
                    label={d.subjects.length > 1 ? `Subject ${i + 1}` : "Subject"}
                    value={subject}
                    choices={targets}
                    error={error(`subjects.${i}`)}
                    onChange={(line) => put({ subjects: d.subjects.with(i, line) })}
                  />
                </div>
                {d.subjects.length > 1 ? (
                  <button
                    type="button"
                    aria-label={`Remove subject ${i + 1}`}
                    className="mt-7 min-h-8 text-label text-dusk hover:underline"
                    onClick={() => put({ subjects: d.subjects.toSpliced(i, 1) })}
                  >
                    Remove
                  </button>
                ) : null}
              </div>
            ))}
            {d.subjects.length < 3 ? (
              <Button onClick={() => put({ subjects: [...d.subjects, ""] })}>Try another subject beside it</Button>
            ) : null}
            {d.subjects.length > 1 ? (
              <div className="grid grid-cols-1 gap-3 sm:grid-cols-2">
                <TextField
                  label="Tried on (% of them)"
                  type="number"
                  min={5}
                  max={50}
                  value={d.trial.percent}
                  error={error("percent")}
                  onChange={(e) => put({ trial: { ...d.trial, percent: e.target.valueAsNumber || 5 } })}
                />
                <TextField
                  label="Hours until the rest gets the better one"
                  type="number"
                  min={1}
                  max={72}
                  value={d.trial.hours}
                  error={error("hours")}
                  hint="Clicks decide; opens where nobody clicked."
                  onChange={(e) => put({ trial: { ...d.trial, hours: e.target.valueAsNumber || 1 } })}
                />
              </div>
            ) : null}
            <div className="grid grid-cols-1 gap-4 sm:grid-cols-2">
              <FromFields value={d.from} error={error} onChange={(from) => put({ from })} />
            </div>
            <LetterFields
              value={d}
              turn={turn}
              choices={targets}
              error={error}
              editor={`/studio/mail/broadcasts/${id}/text`}
              isPage={broadcast.page !== null}
              onChange={put}
            />
          </section>
          <section aria-label="When" className="border-t border-line pt-4">
            <h2>When</h2>
            <div className="mt-2 grid grid-cols-1 gap-3 sm:grid-cols-3">
              <SelectField
                label="It goes"
                value={d.when?.where ?? "now"}
                onChange={(e) => {
                  const where = e.target.value
                  if (where === "now") put({ when: null })
                  else
                    put({
                      when: {
                        date: d.when?.date ?? schoolDay(1),
                        at: d.when?.at ?? 540,
                        where: where as "school",
                      },
                    })
                }}
              >
                <option value="now">at once</option>
                <option value="school">at a time here</option>
                <option value="reader">at that time where each reader is</option>
              </SelectField>
              {d.when ? (
                <>
                  <TextField
                    label="Date"
                    type="date"
                    value={d.when.date}
                    error={error("date")}
                    onChange={(e) => e.target.value && put({ when: { ...d.when!, date: e.target.value } })}
                  />
                  <TextField
                    label="Time"
                    type="time"
                    value={clockWords(d.when.at)}
                    onChange={(e) => {
                      const [h, m] = e.target.value.split(":").map(Number)
                      if (e.target.value) put({ when: { ...d.when!, at: h! * 60 + m! } })
                    }}
                  />
                </>
              ) : null}
            </div>
            <div className="mt-3 grid grid-cols-1 gap-3 sm:grid-cols-3">
              <TextField
                label="At most so many an hour"
                type="number"
                min={1}
                value={d.perHour ?? ""}
                hint="Empty: as fast as they go."
                error={error("perHour")}
                onChange={(e) => put({ perHour: e.target.value ? e.target.valueAsNumber : null })}
              />
              <TextField
                label="Once more after so many days"
                type="number"
                min={1}
                max={30}
                value={d.againAfter ?? ""}
                hint="To those who did not open it. Empty: no."
                error={error("againAfter")}
                onChange={(e) => put({ againAfter: e.target.value ? e.target.valueAsNumber : null })}
              />
              <SelectField
                label="Where there is a limit, it goes"
                value={d.goes}
                onChange={(e) => put({ goes: e.target.value as LetterRank })}
              >
                {ranks.map((r) => option(r, rankWords[r]))}
              </SelectField>
              <TextField
                label="Count what is bought within days"
                type="number"
                min={1}
                max={60}
                value={d.boughtWithin}
                error={error("boughtWithin")}
                onChange={(e) => put({ boughtWithin: e.target.valueAsNumber || 7 })}
              />
              <div className="sm:col-span-2">
                <TextField
                  label="Name, for you"
                  value={value.name}
                  maxLength={120}
                  error={error("name")}
                  onChange={(e) => set((now) => ({ ...now, name: e.target.value }))}
                />
              </div>
            </div>
          </section>
        </div>
        <div className="space-y-5 lg:sticky lg:top-4 lg:self-start">
          <section aria-label="Who gets it" aria-busy={asking}>
            <p role="status" className="text-2xl font-bold tabular-nums">
              {readers.total.toLocaleString(locale)}{" "}
              <span className="text-base font-normal text-soft">{readers.total === 1 ? "reader" : "readers"}</span>
            </p>
            {readers.without ? (
              <p className="text-note text-soft">
                {people(readers.without)} more {readers.without === 1 ? "is" : "are"} left out: they have unsubscribed,
                can’t be reached, or never agreed to be written to.
              </p>
            ) : null}
          </section>
          <LetterAside
            letter={{
              subject: d.subjects[0]!,
              preview: d.preview,
              body: d.body,
              plain: d.plain,
              from: d.from,
              button: d.button,
              lesson: d.lesson,
              step: d.step,
              of: { broadcast: id },
            }}
          />
          <div className="flex flex-wrap gap-2 border-t border-line pt-4">
            <Button look="primary" disabled={busy} onClick={() => setSure(true)}>
              {d.when ? "Plan it…" : "Send it…"}
            </Button>
            <Button
              look="danger"
              disabled={busy}
              onClick={() =>
                run(
                  () => removeBroadcastAction(id),
                  () => router.push("/studio/mail/broadcasts"),
                )
              }
            >
              Remove
            </Button>
          </div>
        </div>
      </div>
      <Dialog open={sure} onOpenChange={setSure} title={d.when ? "Plan this broadcast?" : "Send this broadcast?"}>
        <p>
          It goes to <strong>{people(readers.total)}</strong>
          {d.when ? "" : ", beginning now"}. After that it can be paused and stopped, and not changed any more.
        </p>
        <Refusal className="mt-2">{trouble}</Refusal>
        <Button look="primary" className="mt-4" disabled={busy} onClick={() => run(() => planBroadcastAction(id))}>
          {d.when ? "Plan it" : "Send it"}
        </Button>
      </Dialog>
    </>
  )
}
