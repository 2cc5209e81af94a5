// A forecast as it was made: kept, so that it can be laid beside what happened.
import * as v from "valibot"
import { monthsAhead } from "./cash"
import { bandsOfDays, type Past, sharesOfDays } from "./days"
import { type Forecast, type ForecastDocument, type ForecastStep, perDayOf } from "./forecast"
import { quantileOf, simulate } from "./simulate"

const n = v.number()
export const madeDocument = v.object({
  version: v.literal(1),
  /** Minor units: in all that those who come bring in two years, and between what, four times out of five. */
  total: n,
  low: n,
  high: n,
  perDay: n,
  /** What each day brings, whoever it is from. */
  bands: v.array(v.object({ mean: n, low: n, high: n })),
  /** How many come to each step, and how many take each outcome. */
  visits: v.array(v.object({ step: n, n })),
  took: v.array(v.object({ step: n, outcome: v.string(), n })),
})
export type MadeDocument = v.InferOutput<typeof madeDocument>

/** People who are made up for the width of the whole, about. */
const people = 100_000

/**
 * What a forecast says, with its width and its days, by simulation of a fixed seed. Throws as `forecast` does.
 *
 * @param firstWeekday of its first day, 0 for Monday
 */
export function madeOf(
  steps: readonly ForecastStep[],
  of: Forecast,
  doc: ForecastDocument,
  past: Past,
  firstWeekday: number,
  seed = 1,
): MadeDocument {
  const come = perDayOf(doc)
  const runs = Math.max(40, Math.min(600, Math.floor(people / Math.max(1, come * doc.days))))
  const whole = simulate(steps, { runs, seed, spread: past.spread })
  // Sales of all steps together, by month.
  const months = Array.from({ length: monthsAhead }, (_, k) =>
    steps.reduce((sum, s) => {
      const sold = s.outcomes.reduce((n, o) => n + (o.brings > 0 ? (of.took.get(`${s.id} ${o.name}`) ?? 0) : 0), 0)
      return sum + sold * (s.months[k] ?? 0)
    }, 0),
  )
  const shares = sharesOfDays(doc.days, come, firstWeekday, past, months)
  // A day's money is single charges, not whole orders: as much in all, from more that are smaller.
  const all = months.reduce((a, b) => a + b, 0)
  const part = all > 0 ? months[0]! / all || 1 : 1
  const charges = steps.map((s) => ({
    ...s,
    outcomes: s.outcomes.map((o) => ({ ...o, brings: o.brings * part, amounts: o.amounts?.map((a) => a * part) })),
  }))
  return {
    version: 1,
    total: of.total,
    low: quantileOf(whole, 0.1),
    high: quantileOf(whole, 0.9),
    perDay: come,
    bands: bandsOfDays(
      charges,
      doc.days,
      shares.map((s) => s / part),
      { runs: 400, seed, spread: past.spread },
    ),
    visits: [...of.visits].map(([step, n]) => ({ step, n })),
    took: [...of.took].map(([key, n]) => {
      const [step, outcome] = key.split(" ")
      return { step: Number(step), outcome: outcome!, n }
    }),
  }
}
