// What came of a webinar: from those who registered to those who bought, and where in it people left.
import { type Proportion, proportion } from "../proportion"

/** Counted of everybody who had a seat; each is among those before, apart from whoever bought without pressing. */
export type Came = {
  readonly registered: number
  /** Were in the room at all. */
  readonly came: number
  /** Stayed for as long as the webinar calls attended. */
  readonly stayed: number
  readonly saw: number
  readonly pressed: number
  /** Paid for what it leads to, within so many days after its start, and weren't given it back whole. */
  readonly bought: number
}

/** How long after its start somebody who buys has bought after a webinar, days. Common practice: two weeks. */
export const boughtWithin = 14

export const nobodyCame: Came = { registered: 0, came: 0, stayed: 0, saw: 0, pressed: 0, bought: 0 }

export type Stage = { readonly stage: keyof Came; readonly share: Proportion }

/** Each stage as a share of everybody who had a seat, with its 95 % interval (Wilson). */
export const stagesOf = (c: Came): Stage[] =>
  (["registered", "came", "stayed", "saw", "pressed", "bought"] as const).map((stage) => ({
    stage,
    share: proportion(Math.min(c[stage], c.registered), c.registered),
  }))

/** How long before the start somebody registered. */
export const leads = ["hour", "day", "three-days", "week", "longer"] as const
export type Lead = (typeof leads)[number]

const longest: readonly (readonly [Lead, number])[] = [
  ["hour", 3_600_000],
  ["day", 86_400_000],
  ["three-days", 3 * 86_400_000],
  ["week", 7 * 86_400_000],
]

/** @param ms from registering to the start; below zero: after it */
export const leadOf = (ms: number): Lead => longest.find(([, most]) => ms <= most)?.[0] ?? "longer"

export type Drop = { readonly minute: number; readonly left: number }

/** Over how many minutes a drop is looked at. */
const dropOver = 5

/**
 * Where the most people left, at most three places: stretches of five minutes in which at least a tenth of the most that were there went, and
 * no fewer than three; the greatest first chosen, none over another. The last twentieth of it is left out: there everybody goes.
 *
 * @param curve people in each minute
 * @param fewest how few are told at least
 * @returns the last minute of each stretch, in order
 */
export function dropsOf(curve: readonly number[], fewest = 3): Drop[] {
  const least = Math.max(fewest, Math.max(0, ...curve) / 10)
  const end = curve.length - Math.max(1, Math.ceil(curve.length / 20))
  const falls = curve
    .slice(0, end)
    .map((n, minute): Drop => ({ minute, left: curve[Math.max(0, minute - dropOver)]! - n }))
    .filter((d) => d.left >= least)
    .sort((a, b) => b.left - a.left || a.minute - b.minute)
  const found: Drop[] = []
  for (const d of falls) if (found.every((x) => Math.abs(x.minute - d.minute) >= dropOver)) found.push(d)
  return found.slice(0, 3).sort((a, b) => a.minute - b.minute)
}

/** The middle of several curves, minute by minute; as long as the longest. */
export function meanCurve(curves: readonly (readonly number[])[]): number[] {
  const long = Math.max(0, ...curves.map((c) => c.length))
  return Array.from({ length: long }, (_, m) => {
    const there = curves.flatMap((c) => (m < c.length ? [c[m]!] : []))
    return there.reduce((sum, n) => sum + n, 0) / there.length
  })
}
