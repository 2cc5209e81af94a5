"use client"
import { useState } from "react"
import type { Funnel, Step } from "@/core/funnel/draft"
import { capital } from "@/core/funnel/phrase"
import { type Outcome, offerOf, outcomes, type StepKind, soldAt, stepKinds, waysOf } from "@/core/funnel/step/list"
import { Button } from "@/ui/button"
import { Dialog } from "@/ui/dialog"
import { option, SelectField } from "@/ui/field"
import { TextLink } from "@/ui/link"
import { useOnce } from "@/ui/once"
import { Refusal } from "@/ui/refusal"
import { useAction } from "@/ui/use-action"
import { copyStepAction, insertStepAction, moveStepAction, removeStepAction } from "../actions"
import type { Choices } from "./workspace"

export type Placing = { readonly after: number; readonly outcome: Outcome }

const ways = (step: Step) => waysOf(step.kind)

/** Puts a step in after an outcome: everyone who goes out that way meets it, and goes on to where they went before. */
export function InsertStep({
  funnel,
  offers,
  at,
  onClose,
  onPlaced,
}: {
  funnel: Funnel
  offers: Choices["offers"]
  at: Placing
  onClose: () => void
  onPlaced: (step: number) => void
}) {
  const after = funnel.steps.find((s) => s.id === at.after)!
  const afterSale = soldAt(after) !== null
  const kinds = (Object.keys(stepKinds) as StepKind[]).filter((k) => {
    const { insert } = stepKinds[k]
    return insert && (afterSale || !insert.afterSale)
  })
  const [kind, setKind] = useState<StepKind>(stepKinds[after.kind].followedBy ?? kinds[0]!)
  const wantsOffer = stepKinds[kind].insert?.offer === true
  const [outcome, setOutcome] = useState<Outcome>(at.outcome)
  const free = offers.filter((o) => !funnel.steps.some((s) => offerOf(s) === o.id))
  const [offer, setOffer] = useState((free[0] ?? offers[0])?.id ?? 0)
  const [once] = useOnce()
  const { busy, refused, run } = useAction()
  const to = funnel.steps.find(
    (s) => s.id === (funnel.streams.find((x) => x.from === after.id && x.outcome === outcome)?.to ?? 0),
  )
  return (
    <Dialog open onOpenChange={(o) => !o && onClose()} title={`Insert a step after “${after.name}”`}>
      <form
        className="space-y-4"
        onSubmit={(e) => {
          e.preventDefault()
          run(
            () => insertStepAction({ after: after.id, outcome, kind, offer: wantsOffer ? offer : null }, once),
            (done) => onPlaced(done.step ?? 0),
          )
        }}
      >
        <SelectField
          label="After the outcome"
          value={outcome}
          onChange={(e) => setOutcome(e.target.value as Outcome)}
          hint={to ? `They go on to “${to.name}” after it, as now.` : "They go nowhere yet."}
        >
          {ways(after).map((o) => option(o, outcomes[o].verb))}
        </SelectField>
        <SelectField label="Kind of step" value={kind} onChange={(e) => setKind(e.target.value as StepKind)}>
          {kinds.map((k) => option(k, capital(stepKinds[k].label)))}
        </SelectField>
        {!wantsOffer ? null : offers.length === 0 ? (
          <p>
            It sells an offer, and there is none yet. <TextLink href="/studio/offers?new">Make one</TextLink>
          </p>
        ) : (
          <>
            <SelectField label="Offer" value={offer} onChange={(e) => setOffer(Number(e.target.value))}>
              {offers.map((o) => option(o.id, o.name))}
            </SelectField>
            <p className="text-body">{offers.find((o) => o.id === offer)?.ways[0]?.says}</p>
          </>
        )}
        <Refusal>{refused}</Refusal>
        <div className="flex justify-end">
          <Button type="submit" look="primary" disabled={busy || (wantsOffer && offers.length === 0)}>
            Insert
          </Button>
        </div>
      </form>
    </Dialog>
  )
}

/** Moves a step, puts a copy of it elsewhere, or removes it. Each can be taken back. */
export function MoveStep({
  funnel,
  step,
  onClose,
  onPlaced,
}: {
  funnel: Funnel
  step: Step
  onClose: () => void
  onPlaced: (step: number) => void
}) {
  const places = funnel.steps
    .filter((s) => s.id !== step.id)
    .flatMap((s) => ways(s).map((outcome) => ({ key: `${s.id}.${outcome}`, after: s.id, outcome, name: s.name })))
  const [place, setPlace] = useState(places[0]?.key ?? "")
  const [once] = useOnce()
  const { busy, refused, run } = useAction()
  const chosen = places.find((p) => p.key === place)
  const put = (act: (input: unknown, once: string) => ReturnType<typeof moveStepAction>) =>
    chosen &&
    run(
      () => act({ step: step.id, after: chosen.after, outcome: chosen.outcome }, once),
      (done) => onPlaced(done.step ?? 0),
    )
  return (
    <Dialog open onOpenChange={(o) => !o && onClose()} title={`“${step.name}”: move, copy, remove`}>
      <SelectField label="Place" value={place} onChange={(e) => setPlace(e.target.value)}>
        {places.map((p) => option(p.key, `after “${p.name}”, for whoever ${outcomes[p.outcome].verb}`))}
      </SelectField>
      <p className="mt-1 text-note text-soft">
        Its old place closes: whoever came to it goes on to where it led, for an upsell where whoever declines goes.
      </p>
      <Refusal className="mt-2">{refused}</Refusal>
      <div className="mt-3 flex gap-2">
        <Button look="primary" disabled={busy} onClick={() => put(moveStepAction)}>
          Move it here
        </Button>
        <Button disabled={busy} onClick={() => put(copyStepAction)}>
          Insert a copy here
        </Button>
        <span className="flex-1" />
        <Button
          look="danger"
          disabled={busy}
          onClick={() =>
            run(
              () => removeStepAction(step.id),
              () => onPlaced(0),
            )
          }
        >
          Remove it
        </Button>
      </div>
    </Dialog>
  )
}
