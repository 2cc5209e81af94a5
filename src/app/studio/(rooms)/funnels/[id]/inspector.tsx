"use client"

import { useRouter } from "next/navigation"
import { useState } from "react"
import type { Funnel, Step } from "@/core/funnel/draft"
import { sourceLabel } from "@/core/funnel/river"
import { courseAt, hasOutcomes, type Outcome, outcomes, outcomesOf, soldAt, stepKinds } from "@/core/funnel/step/list"
import { moneyText } from "@/core/offer/money"
import { proportion } from "@/core/proportion"
import { deedSays } from "@/core/sequence/effect/list"
import { locale } from "@/core/words/locale"
import { Button } from "@/ui/button"
import { option, TextField } from "@/ui/field"
import { Link, TextLink } from "@/ui/link"
import { Table } from "@/ui/table"
import { useAction } from "@/ui/use-action"
import { AddEffect, type EffectChoices } from "../../add-effect"
import { addEffectAction, changeStepAction, leadOutcomeAction, removeEffectAction } from "../actions"
import { Interval } from "./interval"
import { Selling } from "./selling"
import type { Choices, CountedRiver, Draft } from "./workspace"

/** What is selected in the river: its page, where each outcome leads and what it sets off, and its numbers. */
export function Inspector({
  draft: { funnel, previews },
  counted: { river, money, looked, stopped },
  choices: { tags, courses, offers, programmes },
  step,
  onInsert,
  onMove,
  onOnly,
}: {
  draft: Draft
  counted: CountedRiver
  choices: Choices
  step: Step
  onInsert: (outcome: Outcome) => void
  onMove: () => void
  /** Looks only at those who took this way, or no longer. */
  onOnly: (outcome: Outcome) => void
}) {
  const numbers = river.steps.find((s) => s.id === step.id)!
  const paid = money?.river.steps.find((s) => s.id === step.id)
  const says = (n: number) => (n === 0 ? "–" : moneyText(n, money?.currency ?? "EUR"))
  const sumOf = (r: CountedRiver["river"], o: Outcome) =>
    r.streams.filter((s) => s.from === step.id && s.outcome === o).reduce((t, s) => t + s.n, 0)
  const first = outcomesOf(step.kind)[0]
  // Of those who came, who did what the step is for.
  const took = first === undefined ? 0 : outcomesOf(step.kind).length > 1 ? sumOf(river, first) : numbers.on
  const here = paid?.sources.reduce((sum, x) => sum + x.n, 0) ?? 0
  const preview = previews[step.id]
  const facts = stepKinds[step.kind]
  const kind = sourceLabel(funnel, step)
  const goesOn = hasOutcomes(step.kind)
  const sold = soldAt(step)
  const opens = funnel.courses.find((c) => c.id === courseAt(step))
  const byMail = river.streams.filter((s) => s.from === step.id && s.via === "mail").reduce((t, s) => t + s.n, 0)
  return (
    <div className="grid grid-cols-1 gap-3.5 lg:grid-cols-[15rem_minmax(0,1fr)_22rem]">
      <section aria-label="The page" className="rounded-lg border border-line bg-card p-2.5">
        {preview ? (
          <div className="mx-auto h-[17.5rem] w-[202px] overflow-hidden rounded-md border border-line">
            <iframe
              title={`${step.name} as a visitor sees it`}
              srcDoc={preview}
              sandbox=""
              tabIndex={-1}
              className="origin-top-left"
              style={{ width: 400, height: 540, transform: "scale(.5)" }}
            />
          </div>
        ) : (
          <p className="p-3 text-body">
            {opens ? (
              <>
                Here learners open <TextLink href={`/studio/courses/${opens.id}`}>{opens.title}</TextLink>.
              </>
            ) : (
              "No course opens here yet."
            )}
          </p>
        )}
      </section>

      <section aria-label="What follows" className="rounded-lg border border-line bg-card p-4">
        <div className="flex items-start justify-between gap-3">
          <h2 className="truncate">
            {step.name}
            {step.name.toLowerCase() === kind ? null : (
              <span className="font-sans font-normal text-soft"> · {kind}</span>
            )}
          </h2>
          {facts.hasPage ? (
            <Link
              className="text-body whitespace-nowrap text-slate hover:underline"
              href={`/studio/funnels/${funnel.id}/steps/${step.id}`}
            >
              Edit page <kbd className="ml-1 font-sans text-soft">E</kbd>
            </Link>
          ) : null}
        </div>
        {sold ? <Selling key={JSON.stringify(sold)} step={step} offers={offers} /> : null}
        <Table
          className="mt-2 min-w-[37rem] table-fixed text-body"
          columns={[
            { says: "When someone", wide: "w-36" },
            { says: "They go to", wide: "w-40" },
            { says: "And also" },
            { says: "People", wide: "w-14", right: true },
            ...(money ? [{ says: "Had paid", wide: "w-28", right: true }] : []),
          ]}
        >
          {outcomesOf(step.kind).map((o) => (
            <OutcomeRow
              key={o}
              outcome={o}
              step={step}
              funnel={funnel}
              effectChoices={{ tags, courses, programmes, sequences: funnel.sequences }}
              n={!outcomes[o].leads ? (stopped[step.id] ?? 0) : sumOf(river, o)}
              money={money ? says(sumOf(money.river, o)) : null}
              only={looked.ways.some((w) => w.step === step.id && w.outcome === o)}
              onInsert={() => onInsert(o)}
              onOnly={() => onOnly(o)}
            />
          ))}
          {numbers.here > 0 ? (
            <Rest
              words={goesOn ? "is still here" : "is in"}
              means={goesOn ? "moved in the last seven days" : "the end of the river"}
              n={numbers.here}
              money={paid ? says(paid.here) : null}
              colour="bg-reed"
            />
          ) : null}
          {goesOn ? (
            <Rest
              words="leaves"
              means="nothing more for seven days"
              n={numbers.left}
              money={paid ? says(paid.left) : null}
              colour="bg-line"
            />
          ) : null}
        </Table>
        {facts.hasPage ? (
          <p className="mt-3 flex flex-wrap gap-2">
            {first ? (
              <Button onClick={() => onInsert(first)}>
                Insert a step after… <kbd className="font-sans font-normal text-soft">N</kbd>
              </Button>
            ) : null}
            <Button onClick={onMove}>
              Move, copy, remove… <kbd className="font-sans font-normal text-soft">M</kbd>
            </Button>
          </p>
        ) : null}
        {facts.hasPage ? <NameAndAddress key={`${step.name}${step.path}`} step={step} /> : null}
      </section>

      <section aria-label="Numbers" className="rounded-lg border border-line bg-card p-4">
        {!goesOn ? (
          <>
            <h2>{numbers.in.toLocaleString(locale)} have arrived</h2>
            <p className="mt-2 text-body text-soft">People of these days who have opened a lesson.</p>
          </>
        ) : numbers.in === 0 ? (
          <>
            <h2>Nobody has come here yet</h2>
            <p className="mt-2 text-body text-soft">
              Once people come, this says what share of them goes on, and how sure that is.
            </p>
          </>
        ) : (
          <>
            {numbers.given ? (
              <>
                <h2>{numbers.in.toLocaleString(locale)} went on here</h2>
                <p className="mt-2 text-body text-soft">
                  Only those who did are shown, so a share of them says nothing.
                </p>
              </>
            ) : (
              <>
                <div className="flex items-baseline justify-between">
                  <h2>
                    {((100 * took) / numbers.in).toFixed(1)} % {outcomes[first!].done}
                  </h2>
                  <span className="text-label text-soft tabular-nums">
                    {took.toLocaleString(locale)} of {numbers.in.toLocaleString(locale)}
                  </span>
                </div>
                <Interval share={proportion(took, numbers.in)} />
              </>
            )}
            <dl className="mt-2 text-body">
              <Row
                name="Left"
                value={`${numbers.left.toLocaleString(locale)} (${((100 * numbers.left) / numbers.in).toFixed(1)} %)`}
              />
              {here > 0 ? <Row name="Paid here" value={says(here)} /> : null}
              {here > 0 ? <Row name="For each who came here" value={says(Math.round(here / numbers.in))} /> : null}
              {byMail ? <Row name="Went on by way of an e-mail" value={byMail.toLocaleString(locale)} /> : null}
            </dl>
          </>
        )}
      </section>
    </div>
  )
}

function Row({ name, value }: { name: string; value: string }) {
  return (
    <div className="flex justify-between border-t border-line py-1.5">
      <dt>{name}</dt>
      <dd className="tabular-nums">{value}</dd>
    </div>
  )
}

function Rest({
  words,
  means,
  n,
  money,
  colour,
}: {
  words: string
  means: string
  n: number
  money: string | null
  colour: string
}) {
  return (
    <tr className="border-b border-line last:border-0">
      <td className="py-2">
        <span aria-hidden="true" className={`mr-2 inline-block size-2.5 rounded-full ${colour}`} />
        {words}
      </td>
      <td className="text-soft" colSpan={2}>
        {means}
      </td>
      <td className="text-right">{n.toLocaleString(locale)}</td>
      {money === null ? null : <td className="text-right">{money}</td>}
    </tr>
  )
}

function OutcomeRow({
  outcome,
  step,
  funnel,
  effectChoices,
  n,
  money,
  only,
  onInsert,
  onOnly,
}: {
  outcome: Outcome
  step: Step
  funnel: Funnel
  effectChoices: EffectChoices
  n: number
  money: string | null
  only: boolean
  onInsert: () => void
  onOnly: () => void
}) {
  const { busy, refused: trouble, run } = useAction()
  const to = funnel.streams.find((s) => s.from === step.id && s.outcome === outcome)?.to ?? null
  return (
    <tr className="border-b border-line align-top">
      <td className="py-2">
        <span
          aria-hidden="true"
          className={`mr-2 inline-block size-2.5 rounded-full ${outcome === "declined" ? "bg-dusk" : "bg-slate"}`}
        />
        {outcomes[outcome].verb}
        {!outcomes[outcome].leads ? null : (
          <span className="flex gap-2 pl-4.5 text-fine whitespace-nowrap">
            <button type="button" aria-pressed={only} className="min-h-6 text-slate hover:underline" onClick={onOnly}>
              {only ? "Show everyone" : "Show only these"}
            </button>
            <button
              type="button"
              className="min-h-6 text-slate hover:underline"
              aria-label={`Insert a step for whoever ${outcomes[outcome].verb}`}
              onClick={onInsert}
            >
              Insert…
            </button>
          </span>
        )}
      </td>
      <td className="py-1.5 pr-2">
        {!outcomes[outcome].leads ? (
          <span className="text-soft">counted among who left</span>
        ) : (
          <select
            aria-label={`Where whoever ${outcomes[outcome].verb} goes`}
            disabled={busy}
            value={to ?? ""}
            onChange={(e) =>
              run(() =>
                leadOutcomeAction({ step: step.id, outcome, to: e.target.value ? Number(e.target.value) : null }),
              )
            }
            className={`w-full max-w-48 rounded border bg-card px-1 py-0.5 ${to === null ? "border-amber text-amber-text" : "border-line"}`}
          >
            <option value="">Nowhere yet</option>
            {funnel.steps.filter((s) => s.id !== step.id).map((s) => option(s.id, s.name))}
          </select>
        )}
        {trouble ? <p className="mt-1 text-fine text-dusk">{trouble}</p> : null}
      </td>
      <td className="py-1.5">
        <ul className="flex flex-wrap gap-1">
          {funnel.effects
            .filter((e) => e.step === step.id && e.outcome === outcome)
            .map((e) => (
              <li
                key={e.id}
                className="flex max-w-full items-center rounded border border-line bg-paper pl-1.5 text-label"
              >
                <span className="truncate">{deedSays(e)}</span>
                <button
                  type="button"
                  aria-label={`Remove: ${deedSays(e)}`}
                  disabled={busy}
                  onClick={() => run(() => removeEffectAction(e.id))}
                  className="px-1.5 text-soft hover:text-dusk"
                >
                  ×
                </button>
              </li>
            ))}
          <li>
            <AddEffect {...effectChoices} onAdd={(chosen) => addEffectAction({ ...chosen, step: step.id, outcome })} />
          </li>
        </ul>
      </td>
      <td className="py-2 text-right">{n.toLocaleString(locale)}</td>
      {money === null ? null : <td className="py-2 text-right">{!outcomes[outcome].leads ? "–" : money}</td>}
    </tr>
  )
}

function NameAndAddress({ step }: { step: Step }) {
  const [name, setName] = useState(step.name)
  const [path, setPath] = useState(step.path)
  const [refused, setRefused] = useState<{ refused?: string; field?: string }>({})
  const router = useRouter()
  const save = async () => {
    if (name === step.name && path === step.path) return
    setRefused(await changeStepAction({ step: step.id, name, path }))
    router.refresh()
  }
  return (
    <details className="mt-3 text-body">
      <summary className="text-slate">Name and address: /{step.path}</summary>
      <div className="mt-2 grid grid-cols-2 gap-3">
        <TextField
          label="Name in the studio"
          value={name}
          onChange={(e) => setName(e.target.value)}
          onBlur={save}
          error={refused.field === "name" ? refused.refused : undefined}
        />
        <TextField
          label="Address on the web"
          value={path}
          onChange={(e) => setPath(e.target.value)}
          onBlur={save}
          error={refused.field === "path" ? refused.refused : undefined}
          hint="Everything that leads here follows by itself."
        />
      </div>
      <Button className="mt-2" onClick={save}>
        Save
      </Button>
    </details>
  )
}
