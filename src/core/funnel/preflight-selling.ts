// What preflight knows of selling: that what is sold can be had, is paid as it says, and that the way through the offers
// makes sense and ends with the open door. Advice in it is a rule of the trade (common practice).
import { availability, giftKey, giftsOf, isFree, type Offer, offersWithin } from "../offer/offer"
import { planOf, totalOf } from "../offer/plan"
import { statementProblem } from "../offer/statement"
import { isPaid } from "../offer/terms"
import { allBlocks } from "../page/document"
import { type Funnel, type Step, stepById, streamTo } from "./draft"
import { leadsNowhere, type Outcome, outcomesOf } from "./kinds"
import type { Finding, Fix, Rule } from "./preflight"

export type SellingContext = {
  readonly offers: ReadonlyMap<number, Offer>
  /** Pieces gone, by offer. */
  readonly gone: ReadonlyMap<number, number>
  readonly processor: boolean
  readonly statement: string
  readonly at: number
}

/** Further offers in a row from which on it is too many. */
const enough = 2

export function checkSelling(funnel: Funnel, context: SellingContext): Finding[] {
  const selling = funnel.steps.filter((s) => s.kind === "checkout" || s.kind === "further")
  return [
    ...selling.flatMap((step) => checkStep(step, context)),
    ...funnel.steps.flatMap((step) => checkPrices(funnel, step, context)),
    ...checkSchool(funnel, selling, context),
    ...checkPaths(funnel, selling, context),
    ...checkFreeForms(funnel, context),
  ]
}

const found = (
  rule: Rule,
  step: Step,
  suffers: string,
  fix: Fix,
  says: string,
  weight: Finding["weight"] = "stop",
): Finding => ({ rule, weight, step: step.id, where: step.name, suffers, fix, says })

/** Everything a step sells: its offer and, at a checkout, the order bumps. */
function offersAt(step: Step, context: SellingContext): Offer[] {
  const bumps = step.page
    ? [...allBlocks(step.page.blocks)].flatMap((b) => (b.kind === "checkout" ? b.bumps.map((x) => x.offer) : []))
    : []
  return [step.offerId ?? 0, ...bumps].flatMap((id) => context.offers.get(id) ?? [])
}

function checkStep(step: Step, context: SellingContext): Finding[] {
  const wiring: Fix = { go: "wiring", step: step.id }
  const page: Fix = { go: "page", step: step.id }
  const blocks = step.page ? [...allBlocks(step.page.blocks)] : []
  const list: Finding[] = []
  const wanted = step.kind === "checkout" ? "checkout" : "decision"
  if (!blocks.some((b) => b.kind === wanted))
    list.push(
      found(
        "page-without-form",
        step,
        step.kind === "checkout"
          ? `Nobody can pay on “${step.name}”: it has no checkout form.`
          : `Nobody can say yes or no on “${step.name}”: it has no buttons for it.`,
        page,
        step.kind === "checkout" ? "Add the checkout form" : "Add yes and no",
      ),
    )
  const offer = step.offerId === null ? undefined : context.offers.get(step.offerId)
  if (!offer)
    return [
      ...list,
      found(
        "offer-missing",
        step,
        step.offerId === null
          ? `“${step.name}” sells nothing: no offer is chosen.`
          : `What “${step.name}” sold is no longer on offer: visitors can't have it.`,
        wiring,
        "Choose an offer",
      ),
    ]
  for (const o of offersAt(step, context)) list.push(...checkOffer(step, o, context))
  const paid = offer.terms.filter((t) => isPaid(t.terms))
  if (step.kind === "checkout" && paid.length > 0 && paid.length < offer.terms.length)
    list.push(
      found(
        "paid-form-charges-nothing",
        step,
        `On “${step.name}” people choose between paying for “${offer.publicName}” and having it for nothing.`,
        { go: "offer", offer: offer.id },
        "Take the free terms off",
      ),
    )
  if (step.kind === "checkout" && paid.length === 0)
    list.push(
      found(
        "paid-form-charges-nothing",
        step,
        `“${step.name}” is a checkout, and “${offer.publicName}” costs nothing: it works as a sign-up.`,
        { go: "offer", offer: offer.id },
        "Look at its terms",
        "advice",
      ),
    )
  return list
}

/** Prices shown on a page, of whatever offer. */
function checkPrices(funnel: Funnel, step: Step, context: SellingContext): Finding[] {
  const sold = new Set(funnel.steps.flatMap((s) => offersAt(s, context).map((o) => o.id)))
  return [...allBlocks(step.page?.blocks ?? [])].flatMap((b): Finding[] => {
    if (b.kind !== "price") return []
    const at: Fix = { go: "page", step: step.id, block: b.id }
    if (b.offer === null)
      return [
        found(
          "offer-missing",
          step,
          `“${step.name}” has a price of no offer: visitors see nothing there.`,
          at,
          "Choose an offer",
        ),
      ]
    const offer = context.offers.get(b.offer)
    if (!offer)
      return [
        found(
          "offer-missing",
          step,
          `“${step.name}” shows the price of something that is no longer on offer.`,
          at,
          "Choose another offer",
        ),
      ]
    // What the funnel sells itself is checked where it is sold.
    if (sold.has(offer.id)) return []
    const state = availability(offer, context.gone.get(offer.id) ?? 0, context.at)
    return [
      ...(state === "open" ? [] : checkOffer(step, offer, context).filter((f) => f.rule === "offer-not-to-be-had")),
      found(
        "price-of-another",
        step,
        `“${step.name}” says what “${offer.publicName}” costs, and nothing in “${funnel.name}” sells it.`,
        at,
        "Show the price of what is sold here",
        "advice",
      ),
    ]
  })
}

function checkOffer(step: Step, offer: Offer, context: SellingContext): Finding[] {
  const at: Fix = { go: "offer", offer: offer.id }
  const list: Finding[] = []
  const gifts = giftsOf(offer, context.offers)
  if (gifts.length === 0)
    list.push(
      found(
        "offer-gives-nothing",
        step,
        `Whoever gets “${offer.publicName}” on “${step.name}” gets nothing for it.`,
        at,
        "Say what it gives",
      ),
    )
  for (const gift of gifts) {
    if (gift.kind !== "course") continue
    const empty = gift.lessons === 0
    if (gift.state === "live" && !empty) continue
    list.push({
      ...found(
        "course-not-ready",
        step,
        gift.state === "draft"
          ? `“${gift.title}” is sold and is still a draft: people pay and stand before a closed door.`
          : `“${gift.title}” is sold, and there is nothing in it: no lesson is live.`,
        gift.state === "draft" && !empty
          ? { act: "course-live", course: gift.course }
          : { go: "course", course: gift.course },
        gift.state === "draft" && !empty ? "Put the course live" : "Put a lesson live",
      ),
      where: gift.title,
    })
  }
  const state = availability(offer, context.gone.get(offer.id) ?? 0, context.at)
  if (state !== "open")
    list.push(
      found(
        "offer-not-to-be-had",
        step,
        {
          "sold-out": `“${offer.publicName}” is sold out: visitors of “${step.name}” can't have it.`,
          over: `“${offer.publicName}” is over: visitors of “${step.name}” can't have it.`,
          "not-yet": `“${offer.publicName}” can't be had yet: visitors of “${step.name}” are told so.`,
        }[state],
        at,
        "Look at its limits",
      ),
    )
  return list
}

function checkSchool(funnel: Funnel, selling: readonly Step[], context: SellingContext): Finding[] {
  const first = selling.find((s) => offersAt(s, context).some((o) => !isFree(o)))
  if (!first) return []
  const list: Finding[] = []
  if (!context.processor)
    list.push(
      found(
        "no-processor",
        first,
        `Nobody can pay on “${first.name}”: no card processor is set up.`,
        { go: "cards" },
        "See how to set one up",
      ),
    )
  const problem = statementProblem(context.statement)
  if (problem)
    list.push(
      found(
        "no-statement-text",
        first,
        context.statement
          ? `Buyers wouldn't know the charge on their card statement: “${context.statement}” can't stand there. ${problem}`
          : "Buyers wouldn't know the charge on their card statement: it has no text yet.",
        { go: "settings" },
        "Write the statement text",
      ),
    )
  const used = new Map(selling.flatMap((s) => offersAt(s, context).map((o) => [o.currency, s] as const)))
  if (used.size > 1)
    list.push(
      found(
        "currencies-mixed",
        [...used.values()].at(-1)!,
        `One way through “${funnel.name}” asks for ${[...used.keys()].join(" and ")}: buyers see amounts they can't compare, and sums can't be made.`,
        { go: "wiring", step: [...used.values()].at(-1)!.id },
        "Choose offers of one currency",
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
    for (const o of outcomesOf(step.kind)) if (!leadsNowhere.includes(o)) next.push(streamTo(funnel, at, o)?.id)
  }
  return seen
}

/** What an offer comes to: everything charged, or, without an end, what a year of it would be. */
function costOf(step: Step, offer: Offer, at: number): number {
  const terms = offer.terms.find((t) => t.id === step.termsId) ?? offer.terms[0]
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
  const offerOf = (s: Step) => (s.offerId === null ? undefined : context.offers.get(s.offerId))
  const furthers = selling.filter((s) => s.kind === "further")
  const welcomes = new Set(funnel.steps.filter((s) => s.kind === "welcome").map((s) => s.id))
  for (const step of selling) {
    const offer = offerOf(step)
    const took: Outcome = step.kind === "checkout" ? "bought" : "accepted"
    const after = reachedFrom(funnel, step.id, took)
    const anyway = new Set([...after, ...(step.kind === "further" ? reachedFrom(funnel, step.id, "declined") : [])])
    for (const later of furthers) {
      const second = offerOf(later)
      if (!offer || !second || later.id === step.id || !anyway.has(later.id)) continue
      if (second.id === offer.id)
        list.push(
          found(
            "offer-twice-on-a-path",
            later,
            `“${second.publicName}” is offered twice on one way: on “${step.name}” and on “${later.name}”. The second is passed over.`,
            { go: "wiring", step: later.id },
            "Choose another offer",
          ),
        )
      else if (after.has(later.id) && !later.replaces && includes(offer, second, context))
        list.push(
          found(
            "already-in-the-bundle",
            later,
            `Whoever took “${offer.publicName}” has everything in “${second.publicName}” already, and is asked to pay for it on “${later.name}”.`,
            { go: "wiring", step: later.id },
            "Choose another offer",
          ),
        )
    }
  }
  for (const step of furthers) {
    const offer = offerOf(step)
    const next = streamTo(funnel, step.id, "declined")
    const second = next?.kind === "further" ? offerOf(next) : undefined
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
          `Whoever declined “${offer.publicName}” is offered “${second.publicName}”, which costs no less.`,
          { go: "offer", offer: second.id },
          "Make it cheaper",
          "advice",
        ),
      )
    const charges = offer?.terms.some((t) => isPaid(t.terms) && (step.termsId === null || t.id === step.termsId))
    if (charges && !alwaysWithCard(funnel, step, offerOf))
      list.push(
        found(
          "no-card-to-charge",
          step,
          `Accepting on “${step.name}” can't be charged with one click: some come there without having used a card.`,
          { go: "wiring", step: step.id },
          "Let it follow a paid checkout",
        ),
      )
  }
  for (const step of selling) {
    const lost = waysWithout(funnel, step, welcomes)
    if (lost)
      list.push(
        found(
          "path-misses-the-welcome",
          step,
          `Whoever ${lost === "declined" ? "declines" : lost === "accepted" ? "accepts" : "buys"} on “${step.name}” never reaches the welcome page: no proof that it worked, and no way to get in.`,
          { go: "wiring", step: step.id },
          "Lead them there",
        ),
      )
  }
  const row = longestRow(funnel, furthers)
  if (row && row.length > enough)
    list.push(
      found(
        "many-further-offers",
        row.last,
        `Somebody may be asked ${row.length} times in a row before they are let in to what they bought. One or two are enough.`,
        { go: "wiring", step: row.last.id },
        "Look at the way",
        "advice",
      ),
    )
  return list
}

function includes(offer: Offer, other: Offer, context: SellingContext): boolean {
  if (offersWithin(offer, context.offers).has(other.id)) return true
  const has = new Set(giftsOf(offer, context.offers).map(giftKey))
  const gives = giftsOf(other, context.offers)
  return gives.length > 0 && gives.every((g) => g.kind !== "post" && has.has(giftKey(g)))
}

/** Whether everyone who comes to a step has used a card at a checkout before: walked backwards. */
function alwaysWithCard(funnel: Funnel, step: Step, offerOf: (s: Step) => Offer | undefined): boolean {
  const seen = new Set<number>()
  const next = [step.id]
  let checkouts = 0
  while (next.length) {
    const at = next.pop()!
    if (seen.has(at)) continue
    seen.add(at)
    const into = funnel.streams.filter((s) => s.to === at)
    for (const s of into) {
      const from = stepById(funnel, s.from)
      if (!from) continue
      if (from.kind === "checkout" && s.outcome === "bought") {
        const offer = offerOf(from)
        if (offer?.terms.some((t) => !isPaid(t.terms))) return false
        checkouts++
      } else if (from.kind === "further") next.push(from.id)
      else return false
    }
  }
  return checkouts > 0
}

/** The outcome of a step by which somebody can come to an end, or go round, without a welcome page; null where none is. */
function waysWithout(funnel: Funnel, step: Step, welcomes: ReadonlySet<number>): Outcome | null {
  const onward: Outcome[] = step.kind === "checkout" ? ["bought"] : ["accepted", "declined"]
  for (const outcome of onward) {
    const to = streamTo(funnel, step.id, outcome)
    // One that leads nowhere is told by another rule; a further offer answers for its own ways.
    if (to && !welcomes.has(to.id) && to.kind !== "further") return outcome
  }
  return null
}

function longestRow(funnel: Funnel, furthers: readonly Step[]): { length: number; last: Step } | null {
  let best: { length: number; last: Step } | null = null
  const walk = (step: Step, length: number, seen: ReadonlySet<number>) => {
    if (!best || length > best.length) best = { length, last: step }
    // Beyond a handful it is too many, however many there are.
    if (length > 6) return
    for (const o of ["accepted", "declined"] as const) {
      const to = streamTo(funnel, step.id, o)
      if (to?.kind === "further" && !seen.has(to.id)) walk(to, length + 1, new Set([...seen, to.id]))
    }
  }
  for (const s of furthers) walk(s, 1, new Set([s.id]))
  return best
}

/** A free form that opens what is sold elsewhere. */
function checkFreeForms(funnel: Funnel, context: SellingContext): Finding[] {
  return funnel.steps
    .filter((s) => s.kind === "optin" || s.kind === "inbox")
    .flatMap((step) =>
      funnel.effects
        .filter((e) => e.step === step.id && e.kind === "open-course")
        .flatMap((e): Finding[] => {
          const sold = [...context.offers.values()].find(
            (o) => !isFree(o) && giftsOf(o, context.offers).some((g) => g.kind === "course" && g.course === e.subject),
          )
          if (!sold) return []
          return [
            found(
              "free-form-gives-paid",
              step,
              `“${e.name}” opens to everyone who joins on a free form, and “${sold.publicName}” sells it: buyers paid for what others get for nothing.`,
              { go: "wiring", step: step.id },
              "Take it off the free form",
            ),
          ]
        }),
    )
}
