// What preflight knows of selling: that what is sold can be had, is paid as it says, and that the way through the offers
// makes sense and ends with the open door. Advice in it is a rule of the trade (common practice).

import { type Finding, type Fix, found } from "../finding"
import { notToBeHad, type SellingContext } from "../offer/finding"
import { giftKey, giftKinds, isPosted } from "../offer/gift/list"
import { availability, giftsOf, isFree, type Offer, offersWithin } from "../offer/offer"
import { planOf, totalOf } from "../offer/plan"
import { statementProblem } from "../offer/statement"
import { isPaid } from "../offer/terms"
import { type Funnel, type Step, stepById, streamTo } from "./draft"
import { offersKnownAt } from "./selling"
import { type Outcome, offerOf, outcomes, soldAt, stepKinds, waysOf } from "./step/list"

/** Further offers in a row from which on it is too many. */
const enough = 2

/** Whether something more is offered at a step, after somebody has bought. */
const isMore = (step: Step) => soldAt(step)?.as === "more"

export function checkSelling(funnel: Funnel, context: SellingContext): Finding[] {
  const selling = funnel.steps.filter((s) => soldAt(s) !== null)
  return [
    ...selling.flatMap((step) => offersKnownAt(step, context).flatMap((o) => checkOffer(step, o, context))),
    ...checkSchool(funnel, selling, context),
    ...checkPaths(funnel, selling, context),
  ]
}

function checkOffer(step: Step, offer: Offer, context: SellingContext): Finding[] {
  const at: Fix = { go: "offer", offer: offer.id }
  const gifts = giftsOf(offer, context.offers)
  const list = gifts.flatMap((g) => giftKinds[g.kind].check?.(g, step) ?? [])
  if (gifts.length === 0)
    list.push(found("offer-gives-nothing", step, { offer: offer.publicName, step: step.name }, at))
  const state = availability(offer, context.gone.get(offer.id) ?? 0, context.at)
  if (state !== "open") list.push(notToBeHad(step, offer, state))
  return list
}

function checkSchool(funnel: Funnel, selling: readonly Step[], context: SellingContext): Finding[] {
  const first = selling.find((s) => offersKnownAt(s, context).some((o) => !isFree(o)))
  if (!first) return []
  const list: Finding[] = []
  if (!context.processor) list.push(found("no-processor", first, { step: first.name }, { go: "cards" }))
  const problem = statementProblem(context.statement)
  if (problem)
    list.push(found("no-statement-text", first, { statement: context.statement, problem }, { go: "settings" }))
  const used = new Map(selling.flatMap((s) => offersKnownAt(s, context).map((o) => [o.currency, s] as const)))
  const unwritten = context.unwritten ?? []
  if (unwritten.length)
    list.push(found("no-legal-pages", first, { missing: unwritten }, { go: "legal" }, { weight: "advice" }))
  if (used.size > 1)
    list.push(
      found(
        "currencies-mixed",
        [...used.values()].at(-1)!,
        { funnel: funnel.name, currencies: [...used.keys()] },
        { go: "wiring", step: [...used.values()].at(-1)!.id },
      ),
    )
  return list
}

/** Steps that can be reached from an outcome, by whichever way. */
function reachedFrom(funnel: Funnel, from: number, outcome: Outcome): Set<number> {
  const seen = new Set<number>()
  const next = [streamTo(funnel, from, outcome)?.id]
  while (next.length) {
    const at = next.pop()
    if (at === undefined || seen.has(at)) continue
    seen.add(at)
    const step = stepById(funnel, at)!
    for (const o of waysOf(step.kind)) next.push(streamTo(funnel, at, o)?.id)
  }
  return seen
}

/** What an offer comes to: everything charged, or, without an end, what a year of it would be. */
function costOf(step: Step, offer: Offer, at: number): number {
  const terms = offer.terms.find((t) => t.id === soldAt(step)?.terms) ?? offer.terms[0]
  if (!terms) return 0
  const plan = planOf(terms.terms, {
    currency: offer.currency,
    tax: { rate: 0, included: true },
    zone: "UTC",
    start: at,
  })
  const total = totalOf(plan)
  if (total !== null) return total
  const { amount, every } = plan.recurring!
  const perYear = { week: 52, month: 12, year: 1 }[every.unit] / every.count
  return Math.round((plan.today ?? 0) + amount * perYear)
}

function checkPaths(funnel: Funnel, selling: readonly Step[], context: SellingContext): Finding[] {
  const list: Finding[] = []
  const offered = (s: Step) => context.offers.get(offerOf(s) ?? 0)
  const furthers = selling.filter(isMore)
  for (const step of selling) {
    const offer = offered(step)
    const { took, turned } = stepKinds[step.kind].sells!
    const after = reachedFrom(funnel, step.id, took)
    const anyway = new Set([...after, ...(turned ? reachedFrom(funnel, step.id, turned) : [])])
    for (const later of furthers) {
      const second = offered(later)
      if (!offer || !second || later.id === step.id || !anyway.has(later.id)) continue
      if (second.id === offer.id)
        list.push(
          found(
            "offer-twice-on-a-path",
            later,
            { offer: second.publicName, first: step.name, second: later.name },
            { go: "wiring", step: later.id },
          ),
        )
      else if (after.has(later.id) && !soldAt(later)?.replaces && includes(offer, second, context))
        list.push(
          found(
            "already-in-the-bundle",
            later,
            { bundle: offer.publicName, offer: second.publicName, step: later.name },
            { go: "wiring", step: later.id },
          ),
        )
    }
  }
  for (const step of furthers) {
    const offer = offered(step)
    const { turned } = stepKinds[step.kind].sells!
    const next = turned ? streamTo(funnel, step.id, turned) : undefined
    const second = next && isMore(next) ? offered(next) : undefined
    if (
      offer &&
      second &&
      next &&
      offer.id !== second.id &&
      offer.currency === second.currency &&
      costOf(next, second, context.at) >= costOf(step, offer, context.at)
    )
      list.push(
        found(
          "second-chance-not-cheaper",
          next,
          { first: offer.publicName, second: second.publicName },
          { go: "offer", offer: second.id },
          { weight: "advice" },
        ),
      )
    const terms = soldAt(step)?.terms ?? null
    const charges = offer?.terms.some((t) => isPaid(t.terms) && (terms === null || t.id === terms))
    if (charges && !alwaysWithCard(funnel, step, offered))
      list.push(found("no-card-to-charge", step, { step: step.name }, { go: "wiring", step: step.id }))
  }
  for (const step of selling) {
    const lost = wayWithoutWelcome(funnel, step)
    if (lost)
      list.push(
        found(
          "path-misses-the-welcome",
          step,
          { does: outcomes[lost].verb, step: step.name },
          { go: "wiring", step: step.id },
        ),
      )
  }
  const row = longestRow(funnel, furthers)
  if (row && row.length > enough)
    list.push(
      found(
        "many-further-offers",
        row.last,
        { n: row.length },
        { go: "wiring", step: row.last.id },
        { weight: "advice" },
      ),
    )
  return list
}

function includes(offer: Offer, other: Offer, context: SellingContext): boolean {
  if (offersWithin(offer, context.offers).has(other.id)) return true
  const has = new Set(giftsOf(offer, context.offers).map(giftKey))
  const gives = giftsOf(other, context.offers)
  return gives.length > 0 && gives.every((g) => !isPosted(g) && has.has(giftKey(g)))
}

/** Whether everyone who comes to a step has used a card at a checkout before: walked backwards. */
function alwaysWithCard(funnel: Funnel, step: Step, offered: (s: Step) => Offer | undefined): boolean {
  const seen = new Set<number>()
  const next = [step.id]
  let checkouts = 0
  while (next.length) {
    const at = next.pop()!
    if (seen.has(at)) continue
    seen.add(at)
    for (const s of funnel.streams.filter((s) => s.to === at)) {
      const from = stepById(funnel, s.from)
      if (!from) continue
      const { sells, gate } = stepKinds[from.kind]
      if (sells?.as === "first" && s.outcome === sells.took) {
        if (offered(from)?.terms.some((t) => !isPaid(t.terms))) return false
        checkouts++
      } else if (sells?.as === "more" || (!sells && gate === undefined)) next.push(from.id)
      else return false
    }
  }
  return checkouts > 0
}

/** The outcome of a step by which somebody can come to an end, or go round, without a welcome page; null where none is. */
function wayWithoutWelcome(funnel: Funnel, step: Step): Outcome | null {
  for (const outcome of waysOf(step.kind)) {
    const to = streamTo(funnel, step.id, outcome)
    // One that leads nowhere is told by another rule.
    if (to && !reachesWelcome(funnel, to, new Set())) return outcome
  }
  return null
}

/** Whether every way from a step comes to a welcome page; a further offer on the way answers for its own ways. */
function reachesWelcome(funnel: Funnel, step: Step, passed: ReadonlySet<number>): boolean {
  if (stepKinds[step.kind].welcomes || isMore(step)) return true
  const ways = waysOf(step.kind)
  if (ways.length === 0 || soldAt(step) || passed.has(step.id)) return false
  const seen = new Set([...passed, step.id])
  return ways.every((o) => {
    const to = streamTo(funnel, step.id, o)
    return !to || reachesWelcome(funnel, to, seen)
  })
}

function longestRow(funnel: Funnel, furthers: readonly Step[]): { length: number; last: Step } | null {
  let best: { length: number; last: Step } | null = null
  const walk = (step: Step, length: number, seen: ReadonlySet<number>) => {
    if (!best || length > best.length) best = { length, last: step }
    // Beyond a handful it is too many, however many there are.
    if (length > 6) return
    for (const o of waysOf(step.kind)) {
      const to = streamTo(funnel, step.id, o)
      if (to && isMore(to) && !seen.has(to.id)) walk(to, length + 1, new Set([...seen, to.id]))
    }
  }
  for (const s of furthers) walk(s, 1, new Set([s.id]))
  return best
}
