"use client"

import { useRouter } from "next/navigation"
import { useState, useTransition } from "react"
import type { SequenceStanding } from "@/server/sequence/people"
import { Button } from "@/ui/button"
import { Check } from "@/ui/check"
import { option, SelectField } from "@/ui/field"
import { Link } from "@/ui/link"
import { useOnce } from "@/ui/once"
import { moment, people as peopleWords } from "../../../words"
import { copyFromAction, movePeopleAction, peopleAtAction } from "../actions"

type Named = { readonly id: number; readonly name: string }

/** Who stands at a step, moved on or ended by hand; and a copy of the step for another sequence. */
export function PlacePeople({
  sequence,
  step,
  people,
  steps,
  others,
}: {
  sequence: number
  step: number
  people: number
  steps: readonly Named[]
  others: readonly Named[]
}) {
  const router = useRouter()
  const [once, renew] = useOnce()
  const [busy, start] = useTransition()
  const [shown, setShown] = useState<readonly SequenceStanding[] | null>(null)
  const [ticked, setTicked] = useState<ReadonlySet<number>>(new Set())
  const [said, setSaid] = useState("")
  const zone = Intl.DateTimeFormat().resolvedOptions().timeZone
  const move = (to: number | null) =>
    start(async () => {
      const done = await movePeopleAction({ sequence, enrolments: [...ticked], to })
      setSaid(done.refused ?? "")
      setShown(null)
      setTicked(new Set())
      router.refresh()
    })
  return (
    <section aria-label="People at this step" className="mt-5 border-t border-line pt-3">
      {people ? (
        <Button
          disabled={busy}
          aria-expanded={shown !== null}
          onClick={() => start(async () => setShown(shown ? null : await peopleAtAction(sequence, step)))}
        >
          {peopleWords(people)} here
        </Button>
      ) : (
        <p className="text-soft">Nobody is at this step just now.</p>
      )}
      {shown ? (
        <>
          <ul className="mt-2">
            {shown.map((p) => (
              <li key={p.enrolment} className="flex flex-wrap items-baseline gap-x-3 border-t border-line py-1">
                <Check
                  checked={ticked.has(p.enrolment)}
                  onChange={(is) =>
                    setTicked((t) => new Set(is ? [...t, p.enrolment] : [...t].filter((x) => x !== p.enrolment)))
                  }
                >
                  <bdi>{p.name || p.email}</bdi>
                </Check>
                <Link className="text-label text-slate hover:underline" href={`/studio/people/${p.person}`}>
                  Story
                </Link>
                <span className="ml-auto text-label text-soft">
                  {p.next ? `goes on ${moment(p.next, zone)}` : "waits for something to happen"}
                </span>
              </li>
            ))}
          </ul>
          <div className="mt-2 flex flex-wrap items-end gap-3">
            <div className="w-64">
              <SelectField
                label="Move those ticked to"
                value=""
                disabled={busy || ticked.size === 0}
                onChange={(e) => e.target.value && move(Number(e.target.value))}
              >
                <option value="">Choose a step…</option>
                {steps.filter((s) => s.id !== step).map((s) => option(s.id, s.name))}
              </SelectField>
            </div>
            <Button look="danger" disabled={busy || ticked.size === 0} onClick={() => move(null)}>
              End it for those ticked
            </Button>
          </div>
          {people > shown.length ? <p className="mt-1 text-soft">The {shown.length} who came first.</p> : null}
        </>
      ) : null}
      {others.length ? (
        <div className="mt-3 w-64">
          <SelectField
            label="Copy this step to"
            value=""
            disabled={busy}
            onChange={(e) => {
              const to = others.find((o) => o.id === Number(e.target.value))
              if (to)
                start(async () => {
                  const done = await copyFromAction({ sequence, step }, to.id, once)
                  if (!done.refused) renew()
                  setSaid(done.refused ?? `Copied to the end of “${to.name}”.`)
                })
            }}
          >
            <option value="">Another sequence…</option>
            {others.map((o) => option(o.id, o.name))}
          </SelectField>
        </div>
      ) : null}
      <p role="status" className="mt-1 text-note">
        {said}
      </p>
    </section>
  )
}
