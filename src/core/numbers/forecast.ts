// A funnel before it is known: what is assumed of it, joined with what was counted, and what comes of that.
import * as v from "valibot"
import type { Outcome } from "../funnel/step/list"
import { chargesOf, type Plan } from "../offer/plan"
import { expected } from "./chain"
import type { MeasuredStep } from "./measured"
import { type Assumed, assumedRate, type Beta, known } from "./rate"
import { atTheirMeans, type Simulated, type UnsureStep } from "./simulate"

const rate = v.pipe(v.number(), v.minValue(0), v.maxValue(1))
const money = v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(9_999_999_999))

export const forecastDocument = v.object({
  version: v.literal(1),
  /** Visitors a day from outside. */
  perDay: v.pipe(v.number(), v.minValue(0), v.maxValue(100_000)),
  /** What one of them costs, minor units. */
  click: money,
  days: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(366)),
  /** Whether what was counted is joined with what is assumed; otherwise assumptions stand alone where there are any. */
  joined: v.boolean(),
  rates: v.pipe(
    v.array(v.object({ step: v.number(), outcome: v.string(), from: rate, likely: rate, to: rate })),
    v.maxLength(300),
  ),
  /** What somebody who buys at a step brings, minor units, where it is another than what was measured or planned. */
  brings: v.pipe(v.array(v.object({ step: v.number(), amount: money })), v.maxLength(100)),
})
export type ForecastDocument = v.InferOutput<typeof forecastDocument>

export const freshForecast: ForecastDocument = {
  version: 1,
  perDay: 50,
  click: 0,
  days: 28,
  joined: true,
  rates: [],
  brings: [],
}

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

/**
 * The steps as they are forecast. Visitors come in where they came in so far, by their shares; where nobody has yet, at the first step.
 * Throws RateError where an assumption is none.
 *
 * @param planned what somebody who buys at a step brings by what is sold there, where nothing was sold yet, minor units
 */
export function forecastSteps(
  steps: readonly MeasuredStep[],
  doc: ForecastDocument,
  planned: ReadonlyMap<number, number>,
): UnsureStep[] {
  const come = steps.reduce((n, s) => n + s.comes, 0)
  const all = doc.perDay * doc.days
  return steps.map((s, i) => ({
    id: s.id,
    comes: come > 0 ? (all * s.comes) / come : i === 0 ? all : 0,
    outcomes: s.outcomes.map((o) => ({
      name: o.name,
      rate: beliefOf(
        o,
        doc.rates.find((r) => r.step === s.id && r.outcome === o.name),
        doc.joined,
      ),
      brings: o.sells ? (doc.brings.find((b) => b.step === s.id)?.amount ?? (o.brings || (planned.get(s.id) ?? 0))) : 0,
      to: o.to,
    })),
  }))
}

export type Forecast = {
  /** How many come to each step, and go out by each outcome, by `step outcome`. */
  readonly visits: ReadonlyMap<number, number>
  readonly took: ReadonlyMap<string, number>
  /** Minor units, before what visitors cost. */
  readonly total: number
  readonly perVisitor: number | null
  readonly cost: number
  /** Of each who pays for the first time; null: nobody is expected to. */
  readonly perOrder: number | null
  readonly costOfBuyer: number | null
}

/** What is expected, exactly, at the mean of each rate. */
export function forecast(
  steps: readonly UnsureStep[],
  measured: readonly MeasuredStep[],
  doc: ForecastDocument,
): Forecast {
  const chain = atTheirMeans(steps)
  const e = expected(chain)
  const took = new Map(
    chain.flatMap((s) => s.outcomes.map((o) => [`${s.id} ${o.name}`, e.visits.get(s.id)! * o.rate] as const)),
  )
  const buyers = measured.reduce(
    (n, s) => n + s.outcomes.reduce((m, o) => m + (o.sells === "first" ? (took.get(`${s.id} ${o.name}`) ?? 0) : 0), 0),
    0,
  )
  const cost = doc.click * doc.perDay * doc.days
  return {
    visits: e.visits,
    took,
    total: e.total,
    perVisitor: e.perVisitor,
    cost,
    perOrder: buyers > 0 ? e.total / buyers : null,
    costOfBuyer: buyers > 0 && cost > 0 ? cost / buyers : null,
  }
}

/** The chance that less comes in than was spent. */
export const chanceToLose = ({ totals }: Pick<Simulated, "totals">, cost: number): number =>
  totals.length ? totals.filter((x) => x < cost).length / totals.length : 0

/**
 * What a plan is expected to bring without its tax: each later charge, with the chance that it still comes.
 *
 * @param keeps the share that pays each following charge, 0 to 1
 * @param most how many charges are looked at where it has no end
 */
export function expectedOf(plan: Plan, keeps: number, most = 24): number {
  if (!(keeps >= 0 && keeps <= 1)) throw new RangeError("a share lies between 0 and 1")
  return chargesOf(plan, most).reduce((sum, charge, n) => sum + charge.net * keeps ** n, 0)
}
