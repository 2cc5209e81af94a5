import Decimal from "decimal.js"
import fc from "fast-check"
import { describe, expect, it } from "vitest"
import { commissionLines } from "../ledger/journal"
import { type CommissionLine, commissionOn, feeShares, standing, takenBack } from "./commission"
import { type ProgrammeTerms, parsePercent, programmeRuns, type Rate, rateOn, termsFor, usualTerms } from "./programme"
import { termsText } from "./words"

const percent = (value: number): Rate => ({ kind: "percent", value })
const amount = (value: number): Rate => ({ kind: "amount", value })
const terms = (more: Partial<ProgrammeTerms> = {}): ProgrammeTerms => ({ ...usualTerms, ...more })
const paid = (net: number, more: Partial<{ gross: number; fee: number; n: number }> = {}) => ({
  net,
  gross: net,
  fee: 0,
  n: 1,
  ...more,
})

const anyRate = fc.oneof(
  fc.integer({ min: 0, max: 10_000 }).map(percent),
  fc.integer({ min: 0, max: 2_000_000 }).map(amount),
)
const anyTerms = fc.record({
  rate: anyRate,
  charges: fc.option(fc.integer({ min: 1, max: 12 })),
  bumps: fc.boolean(),
  further: fc.boolean(),
  lessFees: fc.boolean(),
  steps: fc
    .array(fc.record({ from: fc.integer({ min: 2, max: 30 }), rate: fc.integer({ min: 0, max: 10_000 }) }), {
      maxLength: 4,
    })
    .map((s) => s.sort((a, b) => a.from - b.from)),
  second: fc.integer({ min: 0, max: 10_000 }),
})
const anyPaid = fc
  .record({
    net: fc.integer({ min: 0, max: 5_000_000 }),
    tax: fc.integer({ min: 0, max: 500_000 }),
    fee: fc.integer({ min: 0, max: 20_000 }),
    n: fc.integer({ min: 1, max: 12 }),
  })
  .map((p) => ({ net: p.net, gross: p.net + p.tax, fee: Math.min(p.fee, p.net + p.tax), n: p.n }))

describe("commission", () => {
  it("is the rate of what was paid, rounded half up once, as decimal arithmetic has it", () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 9_999_999_999 }), fc.integer({ min: 0, max: 10_000 }), (base, rate) => {
        const exact = new Decimal(base).mul(rate).div(10_000).toDecimalPlaces(0, Decimal.ROUND_HALF_UP).toNumber()
        expect(rateOn(percent(rate), base)).toBe(exact)
      }),
    )
  })
  it("is never more than was paid, at both levels together, and never below nothing", () => {
    fc.assert(
      fc.property(anyTerms, fc.option(anyRate), fc.integer({ min: 1, max: 40 }), anyPaid, (t, own, place, p) => {
        const e = commissionOn(termsFor(t, own, place), p)
        expect(e.first).toBeGreaterThanOrEqual(0)
        expect(e.second).toBeGreaterThanOrEqual(0)
        expect(e.first + e.second).toBeLessThanOrEqual(Math.max(0, p.net))
      }),
    )
  })
  it("never pays less for one sale more: the next sale of a month brings something or nothing, and a step never takes away", () => {
    fc.assert(
      fc.property(anyTerms, fc.option(anyRate), fc.array(anyPaid, { minLength: 1, maxLength: 30 }), (t, own, sales) => {
        let sum = 0
        for (const [i, p] of sales.entries()) {
          const with_ = commissionOn(termsFor(t, own, i + 1), p).first
          const without = commissionOn(termsFor({ ...t, steps: [] }, own, i + 1), p).first
          expect(with_).toBeGreaterThanOrEqual(without)
          expect(sum + with_).toBeGreaterThanOrEqual(sum)
          sum += with_
        }
      }),
    )
  })
  it("is paid on as many charges as was agreed", () => {
    const t = termsFor(terms({ charges: 2 }), null, 1)
    expect([1, 2, 3].map((n) => commissionOn(t, paid(10_000, { n })).first)).toEqual([3_000, 3_000, 0])
  })
  it("of an amount is paid for the sale, and not again for what comes along", () => {
    const t = terms({ rate: amount(5_000) })
    expect(commissionOn(termsFor(t, null, 1), paid(20_000)).first).toBe(5_000)
    expect(commissionOn(termsFor(t, null, 1), paid(3_000)).first).toBe(3_000)
    expect(commissionOn(termsFor(t, null, 1, "bump"), paid(20_000)).first).toBe(0)
  })
  it("takes the fee of the processor off first where that is chosen, and shares it among the lines to the cent", () => {
    expect(commissionOn(termsFor(terms({ lessFees: true }), null, 1), paid(10_000, { fee: 175 })).base).toBe(9_825)
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 50_000 }),
        fc.array(fc.integer({ min: 0, max: 1_000_000 }), { minLength: 1, maxLength: 6 }),
        (fee, gross) => {
          expect(feeShares(fee, gross).reduce((a, b) => a + b, 0)).toBe(fee)
        },
      ),
    )
  })
})

describe("what goes back with refunds", () => {
  it("in any parts and any order comes to exactly the whole, and never the wrong way", () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 1_000_000 }),
        fc.integer({ min: 1, max: 2_000_000 }),
        fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { maxLength: 8 }),
        (commission, gross, parts) => {
          let refunded = 0
          let back = 0
          const give = (part: number) => {
            refunded += part
            const now = takenBack(commission, gross, refunded)
            expect(now).toBeGreaterThanOrEqual(back)
            back = now
          }
          for (const p of parts) give(Math.floor((gross - refunded) * p))
          give(gross - refunded)
          expect(back).toBe(commission)
        },
      ),
    )
  })
  it("in part is its part", () => {
    // 6,960 of 29,000; a third of it given back.
    expect(takenBack(6_960, 29_000, 9_667)).toBe(2_320)
    expect(takenBack(6_960, 29_000, 0)).toBe(0)
    expect(takenBack(0, 0, 0)).toBe(0)
  })
})

describe("two levels in two currencies, worked by hand", () => {
  // Ada brought Ben. Programme: 30 %, from the third sale of a month 40 %, 5 % for whoever brought them, on every charge,
  // also on order bumps. Tax 25 % inside. Ben sells in one month:
  //  1. EUR 290.00, of which net 232.00: Ben 30 % = 69.60, Ada 5 % = 11.60
  //  2. NOK 1,999.00, of which net 1,599.20, with a bump of NOK 99.00, net 79.20: Ben 479.76 + 23.76, Ada 79.96 + 3.96
  //  3. EUR 145.00 of it by a coupon of half, net 116.00: Ben 40 % = 46.40, Ada 5.80
  // The first is refunded to a half (145.00): Ben -34.80, Ada -5.80.
  const t = terms({ steps: [{ from: 3, rate: 4000 }], second: 500 })
  const first = commissionOn(termsFor(t, null, 1), paid(23_200, { gross: 29_000 }))
  const second = commissionOn(termsFor(t, null, 2), paid(159_920, { gross: 199_900 }))
  const bump = commissionOn(termsFor(t, null, 2, "bump"), paid(7_920, { gross: 9_900 }))
  const third = commissionOn(termsFor(t, null, 3), paid(11_600, { gross: 14_500 }))
  it("comes to the cent", () => {
    expect([first.first, first.second]).toEqual([6_960, 1_160])
    expect([second.first + bump.first, second.second + bump.second]).toEqual([50_352, 8_392])
    expect([third.first, third.second]).toEqual([4_640, 580])
    expect(takenBack(first.first, 29_000, 14_500)).toBe(3_480)
    expect(takenBack(first.second, 29_000, 14_500)).toBe(580)
  })
  it("and stands so in the books", () => {
    const entries = [first.first, first.second, third.first, third.second, -3_480, -580].flatMap(commissionLines)
    const of = (account: string) => entries.filter((l) => l.account === account).reduce((sum, l) => sum + l.amount, 0)
    // 69.60 + 46.40 - 34.80 and 11.60 + 5.80 - 5.80.
    expect(of("commission")).toBe(8_120 + 1_160)
    expect(of("affiliates")).toBe(-9_280)
  })
})

describe("how lines stand", () => {
  it("each is pending, due, in a payout or paid, and they add up to the whole", () => {
    const line = fc.record({
      affiliate: fc.constant(1),
      currency: fc.constant("EUR"),
      amount: fc.integer({ min: -10_000, max: 10_000 }),
      due: fc.integer({ min: 0, max: 100 }),
      payout: fc.option(fc.record({ paid: fc.boolean() })),
    })
    fc.assert(
      fc.property(fc.array(line), fc.integer({ min: 0, max: 100 }), (lines: CommissionLine[], at) => {
        const s = standing(lines, at)
        expect(s.pending + s.due + s.inPayout + s.paid).toBe(lines.reduce((sum, l) => sum + l.amount, 0))
      }),
    )
  })
})

describe("a programme", () => {
  it("runs from its beginning to its end, while it is on", () => {
    const p = { on: true, from: 10, until: 20 }
    expect([9, 10, 19, 20].map((at) => programmeRuns(p, at))).toEqual([false, true, true, false])
    expect(programmeRuns({ ...p, on: false }, 15)).toBe(false)
    expect(programmeRuns({ on: true, from: null, until: null }, 0)).toBe(true)
  })
  it.each([
    ["30", 3000],
    ["33,5 %", 3350],
    [" 12.25", 1225],
    ["0", 0],
    ["100", 10_000],
    ["100.01", null],
    ["-1", null],
    ["1.234", null],
    ["", null],
    ["a third", null],
  ])("reads a percentage typed as %j", (typed, value) => {
    expect(parsePercent(typed)).toBe(value)
  })
  it.each([
    [
      terms(),
      null,
      "30 % of what was paid, without tax, with every charge, also on order bumps and upsells of the same order.",
    ],
    [
      terms({ charges: 1, bumps: false, further: false }),
      null,
      "30 % of what was paid, without tax, on the first charge.",
    ],
    [
      terms({ charges: 1, bumps: false, further: false, steps: [{ from: 6, rate: 3500 }] }),
      percent(4000),
      "40 % of what was paid, without tax, on the first charge.",
    ],
    [terms({ rate: amount(5_000), charges: 1 }), null, "€50.00 for each sale, on the first charge."],
    [
      terms({
        lessFees: true,
        further: false,
        steps: [
          { from: 11, rate: 4000 },
          { from: 22, rate: 4550 },
        ],
      }),
      percent(3500),
      "35 % of what was paid, without tax and the card processor's fee, with every charge, also on order bumps of the same order. 40 % from the 11th sale of a month, 45.5 % from the 22nd sale of a month.",
    ],
  ] as [ProgrammeTerms, Rate | null, string][])("is said in a sentence, %#", (t, own, words) => {
    expect(termsText(t, own, "EUR")).toBe(words)
  })
})
