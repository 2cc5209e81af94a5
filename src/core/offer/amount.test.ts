// What a plan costs at a glance, against the charges that are really made.
import fc from "fast-check"
import { describe, expect, it } from "vitest"
import { amountText } from "./amount"
import { moneyShort, moneyText } from "./money"
import { chargesOf, type Plan, planOf } from "./plan"
import type { Terms } from "./terms"

const of = (terms: Terms, currency = "EUR", discount: Plan["discount"] = null) =>
  planOf(terms, {
    currency,
    tax: { rate: 0, included: true },
    zone: "UTC",
    start: Date.UTC(2026, 11, 1),
    discount,
  })
const month = { unit: "month", count: 1 } as const
const instalments = (amount: number, times: number, upFront = 0): Terms => ({
  kind: "instalments",
  upFront,
  amount,
  every: month,
  times,
})
const subscription = (amount: number, more: Partial<Extract<Terms, { kind: "subscription" }>> = {}): Terms => ({
  kind: "subscription",
  upFront: 0,
  trial: null,
  amount,
  every: month,
  times: null,
  ...more,
})
const seen = (plan: Plan) => amountText(plan).replace(/\u00a0/g, " ")

describe("what is seen", () => {
  it.each([
    [29_000, "EUR", "€290"],
    [29_050, "EUR", "€290.50"],
    [100_000, "EUR", "€1,000"],
    [123_456_700, "EUR", "€1,234,567"],
    [5_000, "JPY", "JP¥5,000"],
    [1_500, "KWD", "KWD 1.500"],
    [2_000_000, "KWD", "KWD 2,000"],
  ])("%i of %s at once is %j", (amount, currency, text) => {
    expect(seen(of({ kind: "full", amount }, currency))).toBe(text)
  })

  it.each([
    [instalments(7_900, 4), "4 × €79"],
    [instalments(7_900, 3, 10_000), "€100 + 3 × €79"],
    [subscription(1_900), "€19 a month"],
    [subscription(19_000, { every: { unit: "year", count: 1 } }), "€190 a year"],
    [subscription(4_900, { every: { unit: "month", count: 3 } }), "€49 every 3 months"],
    [subscription(1_900, { upFront: 500 }), "€5, then €19 a month"],
    [{ kind: "free" } as Terms, "free"],
  ])("%j", (terms, text) => expect(seen(of(terms))).toBe(text))

  it("instalments that are said are those that are charged", () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 90_000 }), fc.integer({ min: 2, max: 24 }), (amount, times) => {
        const plan = of(instalments(amount, times))
        expect(amountText(plan)).toBe(`${times} × ${moneyShort(amount, "EUR")}`)
        expect(chargesOf(plan, times).map((c) => c.gross)).toEqual(Array(times).fill(amount))
      }),
      { seed: 24 },
    )
  })

  it("is without cents only where there are none", () => {
    fc.assert(
      fc.property(fc.nat(9_999_999), (minor) => {
        const short = moneyShort(minor, "EUR")
        expect(short === moneyText(minor, "EUR")).toBe(minor % 100 !== 0)
        expect(Number(short.replace(/[^\d.]/g, "")) * 100).toBeCloseTo(minor, 4)
      }),
      { seed: 24 },
    )
  })
})
