import fc from "fast-check"
import { RRule } from "rrule"
import { describe, expect, it } from "vitest"
import { chargeAt, chargesOf, type Plan, planOf } from "../offer/plan"
import type { Terms } from "../offer/terms"
import { comingByMonth } from "./coming"

const context = (start: string) => ({
  currency: "EUR",
  tax: { rate: 0, included: true },
  zone: "UTC",
  start: Date.parse(start),
})
/** A plan with the charge that comes next, as the ledger keeps it. */
const running = (plan: Plan, next: number) => ({ plan, next, month: chargeAt(plan, next)!.day.slice(0, 7) })
const monthly = { unit: "month", count: 1 } as const
const subscription = (amount: number, times: number | null = null): Terms => ({
  kind: "subscription",
  upFront: 0,
  trial: null,
  amount,
  every: monthly,
  times,
})
const instalments = (amount: number, times: number): Terms => ({
  kind: "instalments",
  upFront: 0,
  amount,
  times,
  every: monthly,
})

describe("what is still to come in", () => {
  it("keeps what is owed apart from what may be ended, month by month", () => {
    const months = comingByMonth(
      [
        running(planOf(instalments(7_900, 4), context("2026-11-20")), 1),
        running(planOf(subscription(1_900), context("2026-11-03")), 1),
      ],
      "2026-11",
      5,
    )
    expect(months).toEqual([
      { month: "2026-11", instalments: 0, subscriptions: 0 },
      { month: "2026-12", instalments: 7_900, subscriptions: 1_900 },
      { month: "2027-01", instalments: 7_900, subscriptions: 1_900 },
      { month: "2027-02", instalments: 7_900, subscriptions: 1_900 },
      { month: "2027-03", instalments: 0, subscriptions: 1_900 },
    ])
  })
  it("counts a charge that is behind in the first month", () => {
    const [first] = comingByMonth([running(planOf(subscription(1_900), context("2026-09-03")), 1)], "2026-11", 1)
    expect(first).toEqual({ month: "2026-11", instalments: 0, subscriptions: 3_800 })
  })
  it("goes on over the end of a year, and is empty without plans", () => {
    expect(comingByMonth([], "2026-11", 3).map((m) => m.month)).toEqual(["2026-11", "2026-12", "2027-01"])
  })
  // RFC 5545 by the package rrule: how many monthly charges fall into the twelve months.
  it("has as many charges as rrule counts", () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 700 }), fc.integer({ min: 1, max: 28 }), (back, day) => {
        const start = new Date(Date.UTC(2026, 10, day) - back * 86_400_000)
        start.setUTCDate(Math.min(28, start.getUTCDate()))
        const plan = planOf(subscription(100), context(start.toISOString()))
        let next = 1
        while (chargeAt(plan, next)!.day < "2026-11-01") next++
        const sum = comingByMonth([running(plan, next)], "2026-11").reduce((t, m) => t + m.subscriptions, 0)
        const rule = new RRule({ freq: RRule.MONTHLY, dtstart: start })
        const from = new Date(Math.max(Date.UTC(2026, 10, 1), start.getTime() + 1))
        expect(sum / 100).toBe(rule.between(from, new Date(Date.UTC(2027, 9, 31, 23, 59, 59)), true).length)
      }),
      { seed: 7, numRuns: 200 },
    )
  })
  it("puts every charge in the month of its day, whatever the rhythm, the trial and the zone", () => {
    const terms = fc.record({
      unit: fc.constantFrom("week" as const, "month" as const, "year" as const),
      count: fc.integer({ min: 1, max: 5 }),
      trial: fc.option(
        fc.record({
          length: fc.integer({ min: 1, max: 45 }),
          unit: fc.constantFrom("day" as const, "month" as const),
          amount: fc.constant(0),
        }),
      ),
      times: fc.option(fc.integer({ min: 2, max: 40 })),
      start: fc.integer({ min: Date.parse("2026-01-01"), max: Date.parse("2026-12-31") }),
      zone: fc.constantFrom("Europe/Oslo", "America/Los_Angeles", "Asia/Kathmandu", "Pacific/Auckland"),
      next: fc.integer({ min: 0, max: 3 }),
    })
    fc.assert(
      fc.property(terms, (t) => {
        const plan = planOf(
          {
            kind: "subscription",
            upFront: 0,
            trial: t.trial,
            amount: 100,
            every: { unit: t.unit, count: t.count },
            times: t.times,
          },
          { currency: "EUR", tax: { rate: 0, included: true }, zone: t.zone, start: t.start },
        )
        const charges = chargesOf(plan, 400).slice(t.next)
        if (!charges.length) return
        const months = comingByMonth([running(plan, t.next)], "2026-06", 14)
        const wanted = new Map<string, number>()
        for (const c of charges) {
          const month = c.day.slice(0, 7) < "2026-06" ? "2026-06" : c.day.slice(0, 7)
          wanted.set(month, (wanted.get(month) ?? 0) + c.gross)
        }
        for (const m of months) expect(m.subscriptions + m.instalments, m.month).toBe(wanted.get(m.month) ?? 0)
      }),
      { seed: 11, numRuns: 150 },
    )
  })
})
