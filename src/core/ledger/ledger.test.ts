import fc from "fast-check"
import { describe, expect, it } from "vitest"
import { taxed } from "../offer/tax"
import { paymentLines, refundable, refundLines } from "./journal"
import { afterEvent, type OrderEvent, type OrderState } from "./order"
import { retryAt } from "./retry"

const events: OrderEvent[] = ["placed", "needs-confirmation", "succeeded", "refused", "lapsed", "refunded"]

describe("an order's story", () => {
  // The whole machine as a decision table; "." is what can't happen there.
  it.each([
    ["begun", "open . . . lapsed ."],
    ["open", ". confirming paid refused lapsed ."],
    ["confirming", ". confirming paid refused lapsed ."],
    ["refused", "open . paid refused lapsed ."],
    ["lapsed", ". . paid lapsed lapsed ."],
    ["paid", ". . paid . . refunded"],
    ["refunded", ". . refunded . . refunded"],
  ] as [OrderState, string][])("%s", (state, row) => {
    expect(events.map((e) => afterEvent(state, e) ?? ".").join(" ")).toBe(row)
  })
  it("stays paid or refunded once it was paid, whatever comes late, twice or out of order", () => {
    fc.assert(
      fc.property(fc.array(fc.constantFrom(...events)), (later) => {
        let state: OrderState = "paid"
        for (const e of later) state = afterEvent(state, e) ?? state
        expect(["paid", "refunded"]).toContain(state)
      }),
    )
  })
})

describe("the journal", () => {
  const paid = fc
    .record({
      price: fc.integer({ min: 1, max: 1_000_000 }),
      rate: fc.integer({ min: 0, max: 3000 }),
      included: fc.boolean(),
    })
    .map((p) => taxed(p.price, p))
  const sum = (lines: { amount: number }[]) => lines.reduce((s, l) => s + l.amount, 0)
  it("sums to zero for every story, and refunds in parts give back the whole tax and no more", () => {
    fc.assert(
      fc.property(paid, fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { maxLength: 6 }), (p, parts) => {
        const lines = paymentLines(p)
        let back = 0
        for (const part of parts) {
          const amount = Math.floor(refundable(p.gross, back) * part)
          const refund = refundLines(p, back, amount)
          expect(sum(refund)).toBe(0)
          // Never a line that takes tax back the wrong way.
          for (const l of refund) expect(l.account === "cards" ? -l.amount : l.amount).toBeGreaterThanOrEqual(0)
          lines.push(...refund)
          back += amount
        }
        lines.push(...refundLines(p, back, p.gross - back))
        expect(sum(lines)).toBe(0)
        for (const account of ["cards", "tax"] as const) expect(sum(lines.filter((l) => l.account === account))).toBe(0)
        expect(refundable(p.gross, p.gross)).toBe(0)
      }),
    )
  })
  it("books a payment with its tax (119.00 at 19 %)", () => {
    expect(paymentLines({ net: 10_000, tax: 1_900, gross: 11_900 })).toEqual([
      { account: "cards", amount: 11_900 },
      { account: "income", amount: -10_000 },
      { account: "tax", amount: -1_900 },
    ])
  })
})

it("tries a refused charge again after 1, 3 and 7 days, and then no more", () => {
  const day = 86_400_000
  expect([1, 2, 3, 4].map((n) => retryAt(0, n))).toEqual([day, 3 * day, 7 * day, null])
})
