import fc from "fast-check"
import { RRule } from "rrule"
import { describe, expect, it } from "vitest"
import { chargeAt, planOf } from "../offer/plan"
import type { Terms } from "../offer/terms"
import { comingByMonth } from "./coming"

const context = (start: string) => ({
  currency: "EUR",
  tax: { rate: 0, included: true },
  zone: "UTC",
  start: Date.parse(start),
})
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
        { plan: planOf(instalments(7_900, 4), context("2026-11-20")), next: 1 },
        { plan: planOf(subscription(1_900), context("2026-11-03")), next: 1 },
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
    const [first] = comingByMonth([{ plan: planOf(subscription(1_900), context("2026-09-03")), next: 1 }], "2026-11", 1)
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
        const sum = comingByMonth([{ plan, next }], "2026-11").reduce((t, m) => t + m.subscriptions, 0)
        const rule = new RRule({ freq: RRule.MONTHLY, dtstart: start })
        const from = new Date(Math.max(Date.UTC(2026, 10, 1), start.getTime() + 1))
        expect(sum / 100).toBe(rule.between(from, new Date(Date.UTC(2027, 9, 31, 23, 59, 59)), true).length)
      }),
      { seed: 7, numRuns: 200 },
    )
  })
})
