// Plans as the studio reads them: who pays on, what is behind, and what comes in the next twelve months.

import { Temporal } from "temporal-polyfill"
import { type ComingMonth, comingByMonth } from "@/core/ledger/coming"
import { chargeAt } from "@/core/offer/plan"
import { readPlan } from "@/core/offer/plan-document"
import { sentence } from "@/core/offer/sentence"
import type { Db } from "../db/pool"
import { dayKey } from "../offer/shown"
import { countsOf } from "../tally"

export const planPage = 50

export type PlanStateListed = "running" | "behind" | "ended" | "finished"

export type PlanListed = {
  readonly id: number
  readonly order_id: number
  readonly name: string
  readonly buyer: string
  readonly email: string
  readonly state: PlanStateListed
  readonly failed: number
  readonly says: string
  readonly next: { readonly day: string; readonly gross: number } | null
  readonly try_at: Date
  readonly currency: string
  readonly ended_at: Date | null
  readonly ended_why: string | null
}

/** Those that are behind come first. */
const order: readonly PlanStateListed[] = ["behind", "running", "ended", "finished"]

/** One page of plans, those that are behind first; within a state by when they are tried next. */
export async function listPlans(db: Db, state: PlanStateListed | null, page: number): Promise<PlanListed[]> {
  const counts = await countPlans(db)
  const found: (Omit<PlanListed, "says" | "next"> & { plan: string; next_n: number })[] = []
  // State by state, so that each has its rows in the order of an index.
  let skip = page * planPage
  for (const of of state === null ? order : [state]) {
    const wanted = planPage - found.length
    if (wanted === 0) break
    if (skip >= counts[of]) {
      skip -= counts[of]
      continue
    }
    const ids = await db.rows<{ id: number }>(
      "SELECT id FROM plan WHERE state = ? ORDER BY try_at, id LIMIT ? OFFSET ?",
      [of, wanted, skip],
    )
    skip = 0
    found.push(
      ...(await db.rows<(typeof found)[number]>(
        `SELECT p.id, p.order_id, l.name, o.name AS buyer, o.email, p.state, p.failed, p.try_at, p.next_n, l.plan, o.currency, p.ended_at, p.ended_why
         FROM plan p JOIN order_line l ON l.id = p.order_line_id JOIN orders o ON o.id = p.order_id WHERE p.id IN (?) ORDER BY p.try_at, p.id`,
        [[0, ...ids.map((r) => r.id)]],
      )),
    )
  }
  return found.map((r) => {
    const plan = readPlan(r.plan)
    const next = r.state === "running" || r.state === "behind" ? chargeAt(plan, r.next_n) : null
    return { ...r, says: sentence([plan]), next: next && { day: next.day, gross: next.gross } }
  })
}

export async function countPlans(db: Db): Promise<Record<PlanStateListed, number>> {
  const counts = await countsOf(db, "plans")
  const of = (state: PlanStateListed) => counts.find((c) => c.part === state)?.n ?? 0
  return { running: of("running"), behind: of("behind"), ended: of("ended"), finished: of("finished") }
}

export type ComingCharges = { readonly currency: string; readonly months: readonly ComingMonth[] }

/** What running plans bring in this month and the eleven after it, if every charge goes well; by currency. */
export async function comingIn(db: Db, now: number, zone: string): Promise<ComingCharges[]> {
  const first = dayKey(now, zone).slice(0, 7)
  const start = Temporal.PlainYearMonth.from(first)
  // Where each month after the first begins in the school's zone, seconds: what falls due before counts in the first.
  const bounds = Array.from({ length: 12 }, (_, i) =>
    Math.floor(
      start
        .add({ months: i + 1 })
        .toPlainDate({ day: 1 })
        .toZonedDateTime(zone).epochMilliseconds / 1000,
    ),
  )
  const alike = await db.rows<{ line: number; next_n: number; month: number; n: number }>(
    `SELECT MIN(order_line_id) AS line, next_n, INTERVAL(UNIX_TIMESTAMP(next_due), ${bounds.map(() => "?").join(", ")}) AS month, COUNT(*) AS n
     FROM plan WHERE state IN ('running', 'behind') GROUP BY shape, next_n, month`,
    bounds,
  )
  const plans = new Map(
    (
      await db.rows<{ id: number; plan: string }>("SELECT id, plan FROM order_line WHERE id IN (?)", [
        [0, ...alike.map((a) => a.line)],
      ])
    ).map((l) => [l.id, readPlan(l.plan)]),
  )
  const running = alike.flatMap((a) => {
    const plan = plans.get(a.line)
    const month = start.add({ months: a.month }).toString()
    return plan && a.month < 12 ? [{ plan, next: a.next_n, month, count: a.n }] : []
  })
  return [...new Set(running.map((r) => r.plan.currency))].sort().map((currency) => ({
    currency,
    months: comingByMonth(
      running.filter((r) => r.plan.currency === currency),
      first,
    ),
  }))
}
