// A funnel before it is known: what is assumed of it, joined with what was counted, and what comes of that.
import * as v from "valibot"
import type { Outcome } from "../funnel/step/list"
import { type CashMonth, cashByMonth, type MoneyShares, monthsOf, nothingKnown, type SaleCash } from "./cash"
import { expected } from "./chain"
import type { MeasuredStep } from "./measured"
import { type Assumed, assumedRate, type Beta, known } from "./rate"
import { atTheirMeans, type Simulated, type UnsureStep } from "./simulate"
import { addedOffer, furtherOffers, leaveOut, reorder } from "./what-if"

const rate = v.pipe(v.number(), v.minValue(0), v.maxValue(1))
const money = v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(9_999_999_999))

const perDay = v.pipe(v.number(), v.minValue(0), v.maxValue(100_000))
const common = {
  days: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(366)),
  /** Whether what was counted is joined with what is assumed; otherwise assumptions stand alone where there are any. */
  joined: v.boolean(),
  rates: v.pipe(
    v.array(v.object({ step: v.number(), outcome: v.string(), from: rate, likely: rate, to: rate })),
    v.maxLength(300),
  ),
  /** What somebody who buys at a step brings in two years, minor units, where it is another than what was seen or planned. */
  brings: v.pipe(v.array(v.object({ step: v.number(), amount: money })), v.maxLength(100)),
}
const second = v.object({
  version: v.literal(2),
  /** Where visitors come from: how many a day, and what one of them costs, minor units. */
  sources: v.pipe(
    v.array(v.object({ name: v.pipe(v.string(), v.maxLength(60)), perDay, click: money })),
    v.minLength(1),
    v.maxLength(30),
  ),
  ...common,
  /** Shares of money that are assumed; null: as they were seen. */
  later: v.nullable(rate),
  refunds: v.nullable(rate),
  fees: v.nullable(rate),
  commissions: v.nullable(rate),
  /** Further offers that are left out, and in which order the others stand, by the numbers of their steps. */
  without: v.pipe(v.array(v.number()), v.maxLength(50)),
  order: v.pipe(v.array(v.number()), v.maxLength(50)),
  /** Further offers that aren't in the funnel: the first is step −1 here, the second −2. */
  added: v.pipe(v.array(addedOffer), v.maxLength(5)),
})
const first = v.pipe(
  v.object({ version: v.literal(1), perDay, click: money, ...common }),
  v.transform(
    ({ perDay, click, ...rest }): ForecastDocument => ({
      ...freshForecast,
      ...rest,
      version: 2,
      sources: [{ name: "", perDay, click }],
    }),
  ),
)
export const forecastDocument = v.union([second, first])
export type ForecastDocument = v.InferOutput<typeof second>

export const freshForecast: ForecastDocument = {
  version: 2,
  sources: [{ name: "", perDay: 50, click: 0 }],
  days: 28,
  joined: true,
  rates: [],
  brings: [],
  later: null,
  refunds: null,
  fees: null,
  commissions: null,
  without: [],
  order: [],
  added: [],
}

/** Visitors a day from all sources, and what those of one day cost, minor units. */
export const perDayOf = (doc: Pick<ForecastDocument, "sources">) => doc.sources.reduce((n, s) => n + s.perDay, 0)
const costPerDay = (doc: Pick<ForecastDocument, "sources">) => doc.sources.reduce((n, s) => n + s.perDay * s.click, 0)

/** The shares of money as they are assumed, or seen. */
export const moneyShares = (doc: ForecastDocument, seen: MoneyShares): MoneyShares => ({
  later: doc.later ?? seen.later,
  refunds: doc.refunds ?? seen.refunds,
  fees: doc.fees ?? seen.fees,
  commissions: doc.commissions ?? seen.commissions,
})

/** What is usual of an outcome, where nothing is counted and nothing assumed: common practice, from memory. */
const usual: Readonly<Partial<Record<Outcome, Assumed>>> = {
  joined: { from: 0.2, likely: 0.3, to: 0.45 },
  registered: { from: 0.2, likely: 0.35, to: 0.5 },
  confirmed: { from: 0.6, likely: 0.75, to: 0.9 },
  started: { from: 0.6, likely: 0.8, to: 0.95 },
  clicked: { from: 0.1, likely: 0.2, to: 0.35 },
  bought: { from: 0.2, likely: 0.35, to: 0.5 },
  accepted: { from: 0.05, likely: 0.15, to: 0.3 },
  declined: { from: 0.6, likely: 0.75, to: 0.85 },
  attended: { from: 0.2, likely: 0.3, to: 0.45 },
  missed: { from: 0.4, likely: 0.55, to: 0.7 },
}
const anything: Assumed = { from: 0.02, likely: 0.1, to: 0.3 }

export const usualOf = (outcome: string): Assumed => usual[outcome as Outcome] ?? anything

/** What is known of a rate: assumed and counted, or either; where neither is, what is usual. Throws RateError. */
export function beliefOf(
  outcome: { readonly name: string; readonly rate: { readonly hits: number; readonly of: number } },
  assumed: Assumed | undefined,
  joined: boolean,
): Beta {
  const { rate: counted, name } = outcome
  if (assumed) return joined ? known(counted, assumedRate(assumed)) : assumedRate(assumed)
  return counted.of > 0 ? known(counted) : assumedRate(usualOf(name))
}

/** What is known of money in a funnel: of sales by their step, and shares as they were seen. */
export type CashKnown = { readonly sales: ReadonlyMap<number, SaleCash>; readonly shares: MoneyShares }

export type ForecastStep = UnsureStep & {
  /** Of the outcome that sells: what it brings by month after it, minor units; empty: nothing is sold. */
  readonly months: readonly number[]
}

/**
 * The steps as they are forecast. Visitors come in where they came in so far, by their shares; where nobody has yet, at the first step.
 * A sale brings what is typed, or what it does by month; further offers that are left out are passed by, and the others stand in their order.
 * Throws RateError where an assumption is none.
 */
export function forecastSteps(steps: readonly MeasuredStep[], doc: ForecastDocument, cash: CashKnown): ForecastStep[] {
  const come = steps.reduce((n, s) => n + s.comes, 0)
  const all = perDayOf(doc) * doc.days
  const shares = moneyShares(doc, cash.shares)
  const made = steps.map((s, i): ForecastStep => {
    const typed = doc.brings.find((b) => b.step === s.id)?.amount
    const known = monthsOf(cash.sales.get(s.id) ?? nothingKnown, shares)
    const sum = known.reduce((a, b) => a + b, 0)
    const sells = s.outcomes.some((o) => o.sells)
    const months =
      typed === undefined ? known : sum > 0 ? known.map((m) => (m * typed) / sum) : [typed, ...known.slice(1)]
    const brings = months.reduce((a, b) => a + b, 0)
    return {
      id: s.id,
      comes: come > 0 ? (all * s.comes) / come : i === 0 ? all : 0,
      months: sells ? months : [],
      outcomes: s.outcomes.map((o) => {
        const counted = o.amounts.length && o.brings > 0 && typed === undefined
        return {
          name: o.name,
          rate: beliefOf(
            o,
            doc.rates.find((r) => r.step === s.id && r.outcome === o.name),
            doc.joined,
          ),
          brings: o.sells ? brings : 0,
          // As different as they were, around what is expected.
          amounts: o.sells && counted ? o.amounts.map((a) => (a * brings) / o.brings) : undefined,
          to: o.to,
        }
      }),
    }
  })
  return changed(made, steps, doc)
}

/** The same with the further offers that a forecast leaves out, and in its order. */
function changed(made: readonly ForecastStep[], steps: readonly MeasuredStep[], doc: ForecastDocument): ForecastStep[] {
  const further = furtherOffers(steps)
  const ordered = reorder(made, further, doc.order)
  return doc.without.reduce(
    (all, id) =>
      leaveOut(
        all,
        further.find((f) => f.id === id),
      ),
    ordered,
  )
}

export type Forecast = {
  /** How many come to each step, and go out by each outcome, by `step outcome`. */
  readonly visits: ReadonlyMap<number, number>
  readonly took: ReadonlyMap<string, number>
  /** Minor units, before what visitors cost. */
  readonly total: number
  readonly perVisitor: number | null
  readonly cost: number
  readonly buyers: number
  /** Of each address that is known afterwards; null: nobody is expected to join. */
  readonly perJoined: number | null
  /** Of each who pays for the first time; null: nobody is expected to. */
  readonly perOrder: number | null
  readonly costOfBuyer: number | null
  readonly months: readonly CashMonth[]
}

/** What is expected, exactly, at the mean of each rate. */
export function forecast(
  steps: readonly ForecastStep[],
  measured: readonly MeasuredStep[],
  doc: ForecastDocument,
): Forecast {
  const chain = atTheirMeans(steps)
  const e = expected(chain)
  const took = new Map(
    chain.flatMap((s) => s.outcomes.map((o) => [`${s.id} ${o.name}`, e.visits.get(s.id)! * o.rate] as const)),
  )
  const by = (which: (o: MeasuredStep["outcomes"][number]) => boolean) =>
    measured.reduce(
      (n, s) => n + s.outcomes.reduce((m, o) => m + (which(o) ? (took.get(`${s.id} ${o.name}`) ?? 0) : 0), 0),
      0,
    )
  const buyers = by((o) => o.sells === "first")
  const confirm = by((o) => o.name === "confirmed")
  const joined = confirm > 0 ? confirm : by((o) => o.name === "joined" || o.name === "registered")
  const cost = costPerDay(doc) * doc.days
  return {
    visits: e.visits,
    took,
    total: e.total,
    perVisitor: e.perVisitor,
    cost,
    buyers,
    perJoined: joined > 0 ? e.total / joined : null,
    perOrder: buyers > 0 ? e.total / buyers : null,
    costOfBuyer: buyers > 0 && cost > 0 ? cost / buyers : null,
    months: cashByMonth(
      doc.days,
      cost,
      measured.flatMap((s) =>
        s.outcomes.flatMap((o) => {
          const step = steps.find((x) => x.id === s.id)
          return o.sells && step ? [{ n: took.get(`${s.id} ${o.name}`) ?? 0, months: step.months }] : []
        }),
      ),
    ),
  }
}

/** The chance that less comes in than was spent. */
export const chanceToLose = ({ totals }: Pick<Simulated, "totals">, cost: number): number =>
  totals.length ? totals.filter((x) => x < cost).length / totals.length : 0
