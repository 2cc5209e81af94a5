// Who joined in the same week: what they were worth later, and how long it took them to buy.
import { type SurvivalStep, survival } from "@/core/numbers/survival"
import type { Db } from "../db/pool"
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
  return new Date(at - ((new Date(at).getUTCDay() + 6) % 7) * day).toISOString().slice(0, 10)
}

/**
 * The groups of the last 26 weeks of UTC, the latest first: people by when the school first knew them, in an instant's eyes (ms). Kept: income
 * less tax, refunds, fees and commissions, of whatever they bought.
 */
export async function groups(db: Db, now: number, currency: string): Promise<Group[]> {
  const first = mondayOf(new Date(now - (weeks - 1) * 7 * day).toISOString().slice(0, 10))
  const from = new Date(`${first}T00:00:00Z`)
  const people = await db.rows<{ day: string; n: number }>(
    "SELECT DATE_FORMAT(joined_at, '%Y-%m-%d') AS day, COUNT(*) AS n FROM person WHERE joined_at >= ? AND joined_at <= ? GROUP BY 1",
    [from, new Date(now)],
  )
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

/** How long after joining people first bought, in days, of those who joined in the last 26 weeks: the share who hadn't yet. */
export async function timeToBuy(
  db: Db,
  now: number,
): Promise<{ people: number; bought: number; steps: SurvivalStep[] }> {
  while ((await rollSold(db)) > 0);
  const rows = await db.rows<{ days: number; bought: number; n: number }>(
    `SELECT FLOOR(TIMESTAMPDIFF(SECOND, joined_at, COALESCE(GREATEST(first, joined_at), ?)) / 86400) AS days, first IS NOT NULL AS bought, COUNT(*) AS n
     FROM (SELECT p.joined_at, (SELECT MIN(x.made_at) FROM sold x WHERE x.buyer = p.id) AS first
           FROM person p WHERE p.joined_at >= ? AND p.joined_at <= ?) who GROUP BY 1, 2`,
    [new Date(now), new Date(now - weeks * 7 * day), new Date(now)],
  )
  const sum = (of: readonly { n: number }[]) => of.reduce((n, r) => n + r.n, 0)
  return {
    people: sum(rows),
    bought: sum(rows.filter((r) => r.bought)),
    // Whoever bought on the day they joined did so within their first day.
    steps: survival(rows.map((r) => ({ for: r.days + 1, happened: Boolean(r.bought), people: r.n }))),
  }
}
