// When money comes: what somebody who bought brings in each month after it, as it was seen, or as it is planned.
import { Temporal } from "temporal-polyfill"
import { chargesOf, type Plan } from "../offer/plan"

/** Months that are looked ahead, after a sale and in all. */
export const monthsAhead = 24

/** The average month, days. */
export const daysOfMonth = 365.25 / 12

/** A charge of a plan: which one from 0, in which month after the sale, its amount without tax in minor units. */
export type PlannedCharge = { readonly n: number; readonly month: number; readonly net: number }

/** What is known of a sale at a step. */
export type SaleCash = {
  /** By month after the sale: what was kept of each, minor units, of so many sales that are old enough for the whole of that month. */
  readonly seen: readonly { readonly kept: number; readonly of: number }[]
  readonly planned: readonly PlannedCharge[]
}

export const nothingKnown: SaleCash = { seen: [], planned: [] }

/** Shares, 0 to 1: who pays each later charge; and of what is paid, what goes back, to the processor, and to affiliates. */
export type MoneyShares = {
  readonly later: number
  readonly refunds: number
  readonly fees: number
  readonly commissions: number
}

/** The charges of a plan within the months that are looked ahead. */
export function plannedCharges(plan: Plan): PlannedCharge[] {
  const dayOf = (at: number) => Temporal.Instant.fromEpochMilliseconds(at).toZonedDateTimeISO(plan.zone).toPlainDate()
  const start = dayOf(plan.start)
  // A weekly one has the most within two years.
  return chargesOf(plan, 120).flatMap((c) => {
    const month = start.until(dayOf(c.at), { largestUnit: "months" }).months
    return month < monthsAhead ? [{ n: c.n, month, net: c.net }] : []
  })
}

/** From so many sales on, what was seen says more than what is planned. */
const enough = 5

/**
 * What a sale is expected to bring in each month after it, minor units: as it was seen, as far as enough sales are old enough; after that
 * as it is planned, each charge with the chance that it still comes, less what goes to others, in proportion to what was seen so far.
 * Throws RangeError for shares that are none.
 */
export function monthsOf({ seen, planned }: SaleCash, m: MoneyShares): number[] {
  if (Object.values(m).some((x) => !(x >= 0 && x <= 1))) throw new RangeError("a share lies between 0 and 1")
  const left = Math.max(0, 1 - m.refunds - m.fees - m.commissions)
  const plan = Array<number>(monthsAhead).fill(0)
  for (const c of planned) plan[c.month]! += c.net * m.later ** c.n * left
  const known = seen.findIndex((x) => x.of < enough)
  const until = Math.min(monthsAhead, known < 0 ? seen.length : known)
  const sum = (of: readonly number[]) => of.slice(0, until).reduce((a, b) => a + b, 0)
  const came = seen.slice(0, until).map((x) => x.kept)
  const scale = sum(plan) > 0 ? sum(came) / sum(plan) : 1
  return plan.map((p, i) => (i < until ? came[i]! : p * scale))
}

/** Money that comes and goes in a month, minor units. */
export type CashMonth = { readonly kept: number; readonly cost: number }

/**
 * Cash by month from the day on which the first visitor comes: sales are spread evenly over the days in which visitors come, and each brings
 * what it does in the months after it.
 *
 * @param sales how many, and what each brings by month
 */
export function cashByMonth(
  days: number,
  cost: number,
  sales: readonly { readonly n: number; readonly months: readonly number[] }[],
): CashMonth[] {
  const months = Array.from({ length: monthsAhead }, () => ({ kept: 0, cost: 0 }))
  for (let d = 0; d < days; d++) {
    const first = Math.floor(d / daysOfMonth)
    if (first >= monthsAhead) break
    months[first]!.cost += cost / days
    for (const s of sales)
      for (let k = 0; first + k < monthsAhead; k++) months[first + k]!.kept += (s.n / days) * (s.months[k] ?? 0)
  }
  return months
}
