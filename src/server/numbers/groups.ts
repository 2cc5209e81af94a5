// Who joined in the same week: what they were worth later, and how long it took them to buy.
import { type SurvivalStep, survival } from "@/core/numbers/survival"
import type { Db } from "../db/pool"
import { countsOf } from "../tally"
import { groupAges, rollSold } from "./roll-sold"

type Age = (typeof groupAges)[number]

export type Group = {
  /** Their Monday, of UTC (YYYY-MM-DD). */
  readonly monday: string
  readonly joined: number
  /** What was kept of each after so many days, minor units; null: not all of them have been here for that long. */
  readonly worth: Readonly<Record<Age, number | null>>
  /** What was kept of each by now. */
  readonly now: number
}

const day = 86_400_000
const weeks = 26

/** The Monday of a day, both as YYYY-MM-DD. */
function mondayOf(date: string): string {
  const at = Date.parse(`${date}T00:00:00Z`)
  return dateOf(at - ((new Date(at).getUTCDay() + 6) % 7) * day)
}

const dateOf = (at: number) => new Date(at).toISOString().slice(0, 10)

/** How many joined on each day of UTC from one on (YYYY-MM-DD), those of today among them. */
async function joinedByDay(db: Db, from: string, now: number): Promise<{ day: string; n: number }[]> {
  const days = (await countsOf(db, "people")).map((c) => ({ day: c.part, n: c.n }))
  return days.filter((d) => d.day >= from && d.day <= dateOf(now) && d.n > 0)
}

/**
 * The groups of the last 26 weeks of UTC, the latest first: people by when the school first knew them, in an instant's eyes (ms). Kept: income
 * less tax, refunds, fees and commissions, of whatever they bought.
 */
export async function groups(db: Db, now: number, currency: string): Promise<Group[]> {
  const first = mondayOf(dateOf(now - (weeks - 1) * 7 * day))
  const people = await joinedByDay(db, first, now)
  while ((await rollSold(db)) > 0);
  const kept = await db.rows<{ day: string; now: number } & Record<`d${Age}`, number>>(
    `SELECT DATE_FORMAT(joined, '%Y-%m-%d') AS day, kept AS now, ${groupAges.map((a) => `kept_${a} AS d${a}`).join(", ")} FROM sold_group WHERE joined >= ? AND currency = ?`,
    [first, currency],
  )
  const mondays = [...new Set(people.map((p) => mondayOf(p.day)))].sort().reverse()
  return mondays.map((monday): Group => {
    const joined = people.reduce((n, p) => n + (mondayOf(p.day) === monday ? p.n : 0), 0)
    const sums = kept.filter((k) => mondayOf(k.day) === monday)
    const ended = Date.parse(`${monday}T00:00:00Z`) + 7 * day
    const each = (of: (k: (typeof kept)[number]) => number) => sums.reduce((n, k) => n + of(k), 0) / joined
    const worth = Object.fromEntries(
      groupAges.map((a) => [a, ended + a * day <= now ? each((k) => k[`d${a}`]) : null]),
    ) as Group["worth"]
    return { monday, joined, worth, now: each((k) => k.now) }
  })
}

/** How many days of UTC after joining people first bought, of those who joined in the last 26 weeks: the share who hadn't yet. */
export async function timeToBuy(
  db: Db,
  now: number,
): Promise<{ people: number; bought: number; steps: SurvivalStep[] }> {
  const from = dateOf(now - weeks * 7 * day)
  const people = await joinedByDay(db, from, now)
  while ((await rollSold(db)) > 0);
  const first = await db.rows<{ joined: string; days: number; n: number }>(
    "SELECT DATE_FORMAT(joined, '%Y-%m-%d') AS joined, days, n FROM sold_first WHERE joined >= ? AND joined <= ? AND n > 0",
    [from, dateOf(now)],
  )
  const bought = new Map<string, number>()
  for (const f of first) bought.set(f.joined, (bought.get(f.joined) ?? 0) + f.n)
  const today = Date.parse(dateOf(now))
  return {
    people: people.reduce((n, p) => n + p.n, 0),
    bought: first.reduce((n, f) => n + f.n, 0),
    // Whoever bought on the day they joined did so within their first day.
    steps: survival([
      ...first.map((f) => ({ for: f.days + 1, happened: true, people: f.n })),
      ...people.map((p) => ({
        for: (today - Date.parse(p.day)) / day + 1,
        happened: false,
        people: p.n - (bought.get(p.day) ?? 0),
      })),
    ]),
  }
}
