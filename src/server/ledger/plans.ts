// Plans as the studio reads them: who pays on, what is behind, and what comes in the next twelve months.
import { type ComingMonth, comingByMonth } from "@/core/ledger/coming"
import { chargeAt, type Plan } from "@/core/offer/plan"
import { sentence } from "@/core/offer/sentence"
import type { Db } from "../db/pool"
import { dayKey } from "../offer/shown"
import { countsOf } from "../tally"

export const planPage = 50

export type PlanState = "running" | "behind" | "ended" | "finished"

export type PlanListed = {
  readonly id: number
  readonly order_id: number
  readonly name: string
  readonly buyer: string
  readonly email: string
  readonly state: PlanState
  readonly failed: number
  readonly says: string
  readonly next: { readonly day: string; readonly gross: number } | null
  readonly try_at: Date
  readonly currency: string
  readonly ended_at: Date | null
  readonly ended_why: string | null
}

/** One page of plans, those that are behind first. */
export async function listPlans(db: Db, state: PlanState | null, page: number): Promise<PlanListed[]> {
  const rows = await db.rows<Omit<PlanListed, "says" | "next"> & { plan: string; next_n: number }>(
    `SELECT p.id, p.order_id, l.name, o.name AS buyer, o.email, p.state, p.failed, p.try_at, p.next_n, l.plan, o.currency, p.ended_at, p.ended_why
     FROM plan p JOIN order_line l ON l.id = p.order_line_id JOIN orders o ON o.id = p.order_id WHERE (? IS NULL OR p.state = ?)
     ORDER BY FIELD(p.state, 'behind', 'running', 'ended', 'finished'), p.try_at, p.id LIMIT ? OFFSET ?`,
    [state, state, planPage, page * planPage],
  )
  return rows.map((r) => {
    const plan = JSON.parse(r.plan) as Plan
    const next = r.state === "running" || r.state === "behind" ? chargeAt(plan, r.next_n) : null
    return { ...r, says: sentence([plan]), next: next && { day: next.day, gross: next.gross } }
  })
}

export async function countPlans(db: Db): Promise<Record<PlanState, number>> {
  const counts = await countsOf(db, "plans")
  const of = (state: PlanState) => counts.find((c) => c.part === state)?.n ?? 0
  return { running: of("running"), behind: of("behind"), ended: of("ended"), finished: of("finished") }
}

export type Coming = { readonly currency: string; readonly months: readonly ComingMonth[] }

/** What running plans bring in this month and the eleven after it, if every charge goes well; by currency. */
export async function comingIn(db: Db, now: number, zone: string): Promise<Coming[]> {
  const rows = await db.rows<{ plan: string; next_n: number; next_due: Date }>(
    "SELECT l.plan, p.next_n, p.next_due FROM plan p JOIN order_line l ON l.id = p.order_line_id WHERE p.state IN ('running', 'behind')",
  )
  const running = rows.map((r) => ({
    plan: JSON.parse(r.plan) as Plan,
    next: r.next_n,
    month: dayKey(r.next_due.getTime(), zone).slice(0, 7),
  }))
  const first = dayKey(now, zone).slice(0, 7)
  return [...new Set(running.map((r) => r.plan.currency))].sort().map((currency) => ({
    currency,
    months: comingByMonth(
      running.filter((r) => r.plan.currency === currency),
      first,
    ),
  }))
}
