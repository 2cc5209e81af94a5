import { describe, expect, it } from "vitest"
import { planOf } from "../offer/plan"
import { cashByMonth, daysOfMonth, monthsAhead, monthsOf, plannedCharges } from "./cash"

const context = { currency: "EUR", tax: { rate: 2_500, included: true }, zone: "UTC", start: Date.UTC(2026, 10, 1) }
const monthly = { unit: "month", count: 1 } as const
const four = plannedCharges(
  planOf({ kind: "instalments", upFront: 0, amount: 10_000, times: 4, every: monthly } as never, context),
)
const all = { later: 1, refunds: 0, fees: 0, commissions: 0 }
const sum = (of: readonly number[]) => of.reduce((a, b) => a + b, 0)

describe("what a sale brings by month", () => {
  it("is its charges without tax, each with the chance that it comes: a geometric series", () => {
    expect(monthsOf({ seen: [], planned: four }, all).slice(0, 6)).toEqual([8_000, 8_000, 8_000, 8_000, 0, 0])
    expect(sum(monthsOf({ seen: [], planned: four }, { ...all, later: 0.9 }))).toBeCloseTo(
      (8_000 * (1 - 0.9 ** 4)) / (1 - 0.9),
      6,
    )
    expect(sum(monthsOf({ seen: [], planned: four }, { ...all, later: 0 }))).toBe(8_000)
  })

  it("of a subscription goes on for as long as is looked ahead", () => {
    const terms = { kind: "subscription", amount: 1_250, every: monthly, trial: null, upFront: 0, times: null }
    const months = monthsOf(
      { seen: [], planned: plannedCharges(planOf(terms as never, context)) },
      { ...all, later: 0.9 },
    )
    expect(months).toHaveLength(monthsAhead)
    expect(months[23]).toBeCloseTo(1_000 * 0.9 ** 23, 6)
    // What they stay on average, where none of them is cut off: 1 / (1 − 0.9) charges.
    expect(sum(months) / (1_000 * (1 - 0.9 ** 24))).toBeCloseTo(10, 6)
  })

  it("leaves what goes back, to the processor and to affiliates", () => {
    const shares = { later: 1, refunds: 0.1, fees: 0.03, commissions: 0.07 }
    expect(sum(monthsOf({ seen: [], planned: four }, shares))).toBeCloseTo(32_000 * 0.8, 6)
    expect(sum(monthsOf({ seen: [], planned: four }, { ...shares, refunds: 1 }))).toBe(0)
    expect(() => monthsOf({ seen: [], planned: four }, { ...shares, fees: 1.2 })).toThrow(RangeError)
  })

  it("is as it was seen where enough sales are old enough, and as planned after that, in proportion", () => {
    const seen = [
      { kept: 4_000, of: 40 },
      { kept: 4_000, of: 12 },
      { kept: 9_999, of: 2 },
    ]
    // Half of what is planned was seen: so is half of what is to come.
    expect(monthsOf({ seen, planned: four }, all).slice(0, 5)).toEqual([4_000, 4_000, 4_000, 4_000, 0])
    expect(monthsOf({ seen, planned: [] }, all).slice(0, 3)).toEqual([4_000, 4_000, 0])
  })
})

describe("cash by month", () => {
  it("adds up to all that is kept and spent, unless it comes after two years", () => {
    const months = cashByMonth(28, 5_600, [{ n: 10, months: monthsOf({ seen: [], planned: four }, all) }])
    expect(sum(months.map((m) => m.kept))).toBeCloseTo(10 * 32_000, 4)
    expect(sum(months.map((m) => m.cost))).toBeCloseTo(5_600, 6)
    expect(months[0]!.cost).toBeCloseTo(5_600, 6)
    expect(months[3]!.kept).toBeCloseTo(80_000, 4)
    expect(months[4]!.kept).toBeCloseTo(0, 6)
  })

  it("spreads sales over the months in which visitors come", () => {
    const months = cashByMonth(60, 0, [{ n: 60, months: [100] }])
    // Days 0 to 30 lie in the first average month of 30.4 days.
    expect(months[0]!.kept).toBeCloseTo(31 * 100, 6)
    expect(months[1]!.kept).toBeCloseTo(29 * 100, 6)
    expect(daysOfMonth).toBeCloseTo(30.4375, 6)
    expect(cashByMonth(366, 0, [{ n: 1, months: [] }])).toHaveLength(24)
  })
})
