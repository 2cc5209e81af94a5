"use client"

import { useRouter } from "next/navigation"
import { useState, useTransition } from "react"
import { everybody } from "@/core/person/segment/segment"
import type { SegmentChoices } from "@/server/person/segment-view"
import type { Planned } from "@/server/sequence/planned"
import { Button } from "@/ui/button"
import { SelectField, TextField } from "@/ui/field"
import { useOnce } from "@/ui/once"
import { countExactlyAction } from "../../../people/actions"
import { SegmentEditor } from "../../../segment-editor/segment-editor"
import { people } from "../../../words"
import { beginForAction, planBeginningAction, removePlannedAction, removeSequenceAction } from "../actions"

/** A planned beginning with its moment in words. */
export type PlannedShown = Planned & { readonly when: string }

type Day = { readonly date: string; readonly at: string }

/** Begins it for everybody of a question, at once or on a day; and removes it. */
export function BeginByHand({
  sequence,
  live,
  planned,
  choices,
}: {
  sequence: number
  live: boolean
  planned: readonly PlannedShown[]
  choices: SegmentChoices
}) {
  const router = useRouter()
  const [once, renew] = useOnce()
  const [busy, start] = useTransition()
  const [question, setQuestion] = useState(everybody)
  const [found, setFound] = useState<number | null>(null)
  const [day, setDay] = useState<Day | null>(null)
  const [said, setSaid] = useState("")
  const began = (came: { refused?: string } | { begun: number }) => {
    setSaid("begun" in came ? `It began for ${people(came.begun)}.` : (came.refused ?? "It is planned."))
    setFound(null)
    router.refresh()
  }
  return (
    <section aria-label="By hand" className="mt-6 border-t border-line pt-3">
      {planned.length ? (
        <ul className="mb-3">
          {planned.map((p) => (
            <li key={p.id} className="flex flex-wrap items-baseline gap-x-3 border-t border-line py-1.5 first:border-0">
              <span className="min-w-0 flex-1 [overflow-wrap:anywhere]">
                {p.begun === null ? "Begins" : "Began"} on {p.when} for {p.begun === null ? "" : `${people(p.begun)}: `}
                {p.says ? `those who ${p.says}` : "everybody"}
              </span>
              {p.begun === null ? (
                <button
                  type="button"
                  disabled={busy}
                  className="min-h-6 text-note text-dusk hover:underline"
                  onClick={() =>
                    start(async () => {
                      setSaid((await removePlannedAction(p.id)).refused ?? "")
                      router.refresh()
                    })
                  }
                >
                  Take it back
                </button>
              ) : null}
            </li>
          ))}
        </ul>
      ) : null}
      <details>
        <summary className="text-slate">Begin it for many people, now or on a day</summary>
        <div className="mt-3 max-w-2xl space-y-3">
          {live ? null : <p className="font-semibold text-amber-text">Put it live first.</p>}
          <SegmentEditor
            value={question}
            choices={choices}
            onChange={(q) => {
              setQuestion(q)
              setFound(null)
            }}
          />
          <div className="grid grid-cols-1 gap-3 sm:grid-cols-3">
            <SelectField
              label="When"
              value={day ? "day" : "now"}
              onChange={(e) => setDay(e.target.value === "now" ? null : { date: "", at: "07:30" })}
            >
              <option value="now">now</option>
              <option value="day">on a day</option>
            </SelectField>
            {day ? (
              <>
                <TextField
                  label="Date"
                  type="date"
                  value={day.date}
                  onChange={(e) => setDay({ ...day, date: e.target.value })}
                />
                <TextField
                  label="Time"
                  type="time"
                  value={day.at}
                  onChange={(e) => e.target.value && setDay({ ...day, at: e.target.value })}
                />
              </>
            ) : null}
          </div>
          {day ? (
            <Button
              look="primary"
              disabled={busy || !live || !day.date}
              onClick={() =>
                start(async () => {
                  const [h, m] = day.at.split(":").map(Number)
                  const done = await planBeginningAction({ sequence, question, date: day.date, at: 60 * h! + m! }, once)
                  if (!done.refused) renew()
                  began(done)
                })
              }
            >
              Plan it
            </Button>
          ) : found === null ? (
            <Button
              disabled={busy || !live}
              onClick={() =>
                start(async () => {
                  const came = await countExactlyAction(question)
                  setFound("count" in came ? came.count.most : 0)
                })
              }
            >
              Count them
            </Button>
          ) : (
            <Button
              look="primary"
              disabled={busy || found === 0}
              onClick={() => start(async () => began(await beginForAction(sequence, question)))}
            >
              Begin it for {people(found)}
            </Button>
          )}
          <p className="text-soft">
            Whoever has had it, is at its goal or takes no e-mails is left out.
            {day ? " The people are looked up on that day." : ""}
          </p>
        </div>
      </details>
      <p className="mt-3">
        <Button
          look="danger"
          disabled={busy}
          onClick={() =>
            start(async () => {
              const done = await removeSequenceAction(sequence)
              if (done.refused) setSaid(done.refused)
              else router.push("/studio/mail/sequences")
            })
          }
        >
          Remove the sequence
        </Button>
      </p>
      <p role="status" className="mt-1">
        {said}
      </p>
    </section>
  )
}
