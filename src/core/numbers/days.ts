// A forecast day by day: what each day will bring, with its band, and how many days turned out to lie within it.
import type { UnsureStep } from "./simulate"
import { quantileOf, simulate } from "./simulate"

/** Minor units; four days out of five lie between low and high. */
export type DayBand = { readonly mean: number; readonly low: number; readonly high: number }

/** How far back it matters who came, days. */
export const longestLag = 120

/**
 * How much of a steady day's money each day brings: visitors bring theirs over the days after they came, so that the first days live on
 * those who came before.
 *
 * @param lag the share of what visitors bring that has come by the end of so many days after they came, rising to 1; empty: all of it at once
 * @param before visitors a day before, the earliest first
 */
export function sharesOfDays(
  days: number,
  perDay: number,
  before: readonly number[],
  lag: readonly number[],
): number[] {
  const by = lag.length ? lag : [1]
  return Array.from({ length: days }, (_, d) => {
    let share = 0
    for (const [a, reached] of by.entries()) {
      const part = reached - (by[a - 1] ?? 0)
      const came = a <= d ? perDay : (before[before.length - (a - d)] ?? 0)
      share += perDay > 0 ? (part * came) / perDay : 0
    }
    return share
  })
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

/**
 * How much more visitors vary from day to day than by chance alone: variance over mean, 1 where it is chance; at least 1. Fewer than seven
 * days say nothing. Common practice (the dispersion index).
 */
export function spreadOf(perDay: readonly number[]): number {
  if (perDay.length < 7) return 1
  const mean = perDay.reduce((a, b) => a + b, 0) / perDay.length
  if (mean === 0) return 1
  const variance = perDay.reduce((a, b) => a + (b - mean) ** 2, 0) / (perDay.length - 1)
  return Math.max(1, variance / mean)
}
