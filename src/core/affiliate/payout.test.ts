import fc from "fast-check"
import { describe, expect, it } from "vitest"
import { nextPayDay, noteNumber, obstacle, type Payee, type Sum, split, withTax } from "./payout"

const payee = (more: Partial<Payee> = {}): Payee => ({
  affiliate: 1,
  state: "active",
  known: true,
  iban: "NO9386011117947",
  agreed: true,
  taxNumber: "",
  ...more,
})
const rules = { least: 2_000 }

describe("who can be paid", () => {
  it.each([
    ["everything is there", {}, 5_000, null],
    ["exactly the least", {}, 2_000, null],
    ["less than the least", {}, 1_999, "under-least"],
    ["nothing left", {}, 0, "owes"],
    ["more taken back than earned", {}, -500, "owes"],
    ["no bank details", { iban: "" }, 5_000, "no-bank"],
    ["not approved", { state: "asked" }, 5_000, "not-approved"],
    ["invited only", { state: "invited" }, 5_000, "not-approved"],
    ["the conditions have changed", { agreed: false }, 5_000, "conditions"],
    ["ended: what is left, however little", { state: "ended" }, 3, null],
    ["erased", { known: false, state: "ended" }, 5_000, "ended-nobody"],
  ] as [string, Partial<Payee>, number, string | null][])("%s", (_, more, amount, why) => {
    expect(obstacle(payee(more), amount, rules)).toBe(why)
  })
})

describe("payouts one after the other", () => {
  it("conserve what was earned: paid and still open come to the whole, whatever is taken back in between", () => {
    const step = fc.oneof(
      fc.record({
        kind: fc.constant("earn" as const),
        affiliate: fc.integer({ min: 1, max: 5 }),
        amount: fc.integer({ min: -8_000, max: 9_000 }),
      }),
      fc.record({ kind: fc.constant("pay" as const) }),
    )
    fc.assert(
      fc.property(fc.array(step, { maxLength: 60 }), fc.integer({ min: 0, max: 5_000 }), (steps, least) => {
        const payees = new Map([1, 2, 3, 4, 5].map((a) => [a, payee({ affiliate: a, iban: a === 5 ? "" : "X" })]))
        const open: { affiliate: number; amount: number }[] = []
        let earned = 0
        let paid = 0
        for (const s of steps) {
          if (s.kind === "earn") {
            open.push({ affiliate: s.affiliate, amount: s.amount })
            earned += s.amount
            continue
          }
          const sums = new Map<number, Sum>()
          for (const o of open) {
            const before = sums.get(o.affiliate) ?? {
              affiliate: o.affiliate,
              currency: "EUR",
              amount: 0,
              lines: 0,
              leftOut: 0,
            }
            sums.set(o.affiliate, { ...before, amount: before.amount + o.amount, lines: before.lines + 1 })
          }
          const parts = split([...sums.values()], payees, { least })
          expect(parts.pay.length + parts.not.length).toBe(sums.size)
          for (const p of parts.pay) {
            expect(p.amount).toBeGreaterThan(0)
            paid += p.amount
            for (let i = open.length - 1; i >= 0; i--) if (open[i]!.affiliate === p.affiliate) open.splice(i, 1)
          }
        }
        expect(paid + open.reduce((sum, o) => sum + o.amount, 0)).toBe(earned)
      }),
    )
  })
})

describe("tax on a commission", () => {
  it("comes on top for whoever has a tax number, where the school pays it", () => {
    const tax = { rate: 2500, included: true }
    expect(withTax(6_960, tax, "NO 987 654 321 MVA")).toEqual({ net: 6_960, tax: 1_740, gross: 8_700 })
    expect(withTax(6_960, tax, "")).toEqual({ net: 6_960, tax: 0, gross: 6_960 })
    expect(withTax(6_960, null, "NO 1")).toEqual({ net: 6_960, tax: 0, gross: 6_960 })
  })
})

describe("the next day on which is paid", () => {
  it.each([
    [[1], "2026-11-26", "2026-12-01"],
    [[1], "2026-12-01", "2026-12-01"],
    [[1, 15], "2026-12-02", "2026-12-15"],
    [[31], "2026-11-26", "2026-11-30"],
    [[31], "2027-02-10", "2027-02-28"],
    [[29, 31], "2028-02-10", "2028-02-29"],
    [[5], "2026-12-06", "2027-01-05"],
  ] as [number[], string, string][])("of %j, from %s on, is %s", (days, today, day) => {
    expect(nextPayDay(days, today)).toBe(day)
  })
  it("numbers a credit note so that it sorts", () => {
    expect([1, 42, 12_345].map((n) => noteNumber("CN", 2026, n))).toEqual([
      "CN-2026-0001",
      "CN-2026-0042",
      "CN-2026-12345",
    ])
  })
})
