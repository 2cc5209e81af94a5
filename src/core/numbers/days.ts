// A forecast day by day: what each day will bring, with its band, and how many days turned out to lie within it.
import { daysOfMonth } from "./cash"
import type { UnsureStep } from "./simulate"
import { quantileOf, simulate } from "./simulate"

/** Minor units; four days out of five lie between low and high. */
export type DayBand = { readonly mean: number; readonly low: number; readonly high: number }

/** How far back it matters who came, days: as long as money is looked ahead. */
export const longestLag = 730

/** How visitors came so far, and how soon they bought. */
export type Past = {
  /** Visitors a day, the earliest first, the last on the day before the forecast begins. */
  readonly visitors: readonly number[]
  /** How many come on each day of the week against the average, Monday first. */
  readonly weekdays: readonly number[]
  /** How much more they vary than that, and than by chance: variance over mean. */
  readonly spread: number
  /** The share of buyers who have bought by so many days after they came, rising to 1; empty: at once. */
  readonly buying: readonly number[]
}

/**
 * How much of an average day's money each day brings: visitors bring theirs over the days and months after they came, so that the first days
 * live on those who came before.
 *
 * @param firstWeekday of the first day, 0 for Monday
 * @param months what sales bring by month after them, in any unit
 */
export function sharesOfDays(
  days: number,
  perDay: number,
  firstWeekday: number,
  past: Pick<Past, "visitors" | "weekdays" | "buying">,
  months: readonly number[],
): number[] {
  const buying = past.buying.length ? past.buying : [1]
  const all = months.reduce((a, b) => a + b, 0)
  if (perDay <= 0 || all === 0) return Array<number>(days).fill(0)
  const before = past.visitors.length
  // Who comes on each day, of before and of the forecast, against the average of the forecast; and so who buys on it.
  const came = [
    ...past.visitors.map((n) => n / perDay),
    ...Array.from({ length: days }, (_, d) => past.weekdays[(firstWeekday + d) % 7] ?? 1),
  ]
  const bought = came.map((_, d) =>
    buying.reduce((sum, reached, a) => sum + (reached - (buying[a - 1] ?? 0)) * (came[d - a] ?? 0), 0),
  )
  return Array.from({ length: days }, (_, d) =>
    months.reduce((sum, m, k) => sum + (m / all) * (bought[before + d - Math.round(k * daysOfMonth)] ?? 0), 0),
  )
}

/**
 * The band of each day, by simulation: a day's money is that of as many visitors as its share says, each of whom brings all of theirs.
 *
 * @param steps a whole forecast's, of `of` days
 */
export function bandsOfDays(
  steps: readonly UnsureStep[],
  of: number,
  shares: readonly number[],
  { runs, seed, spread }: { readonly runs: number; readonly seed: number; readonly spread?: number },
): DayBand[] {
  // Days whose shares are nearly the same have the same band: to a twentieth.
  const made = new Map<number, DayBand>()
  return shares.map((share) => {
    const near = Math.round(share * 20) / 20
    const known = made.get(near)
    if (known) return known
    const walked = simulate(
      steps.map((s) => ({ ...s, comes: (s.comes / of) * near })),
      { runs, seed, spread },
    )
    const mean = walked.totals.length ? walked.totals.reduce((a, b) => a + b, 0) / walked.totals.length : 0
    const band = { mean, low: quantileOf(walked, 0.1), high: quantileOf(walked, 0.9) }
    made.set(near, band)
    return band
  })
}

/** How many days lay within their band, of those that are over; null: the day isn't over. */
export function within(
  bands: readonly DayBand[],
  was: readonly (number | null)[],
): { readonly within: number; readonly of: number } {
  const over = bands.flatMap((b, i) => {
    const x = was[i]
    return x === null || x === undefined ? [] : [x >= b.low && x <= b.high]
  })
  return { within: over.filter(Boolean).length, of: over.length }
}

/** Days of which visitors are looked at for what is usual on a day of the week: eight weeks. */
const weekdayDays = 56

/**
 * How visitors vary: by the day of the week, and beyond that from day to day, as variance over mean (the dispersion index, common practice),
 * at least 1, which is chance. Each day of the week counts as if there had been one average one more. Fewer than two weeks say nothing.
 *
 * @param perDay visitors a day, the earliest first
 * @param lastWeekday of the last of them, 0 for Monday
 */
export function rhythmOf(
  perDay: readonly number[],
  lastWeekday: number,
): { readonly weekdays: readonly number[]; readonly spread: number } {
  const late = perDay.slice(-weekdayDays)
  const mean = late.reduce((a, b) => a + b, 0) / late.length
  if (late.length < 14 || !(mean > 0)) return { weekdays: Array<number>(7).fill(1), spread: 1 }
  const on = (i: number) => (((lastWeekday - (late.length - 1 - i)) % 7) + 7) % 7
  const raw = Array.from({ length: 7 }, (_, w) => {
    const days = late.filter((_, i) => on(i) === w)
    return (days.reduce((a, b) => a + b, 0) + mean) / ((days.length + 1) * mean)
  })
  const weight = raw.reduce((a, b) => a + b, 0) / 7
  const weekdays = raw.map((w) => w / weight)
  const off = late.reduce((sum, n, i) => sum + (n - mean * weekdays[on(i)]!) ** 2 / (mean * weekdays[on(i)]!), 0)
  return { weekdays, spread: Math.max(1, off / Math.max(1, late.length - 7)) }
}
