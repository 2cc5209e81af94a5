// A programme's terms: when it runs, what of them holds for a line, and what a rate comes to.
import fc from "fast-check"
import * as v from "valibot"
import { describe, expect, it } from "vitest"
import { parsePercent, programmeRuns, programmeTerms, rateOn, rateSchema, termsFor, usualTerms } from "./programme"

const rate = fc.oneof(
  fc.record({ kind: fc.constant("percent" as const), value: fc.integer({ min: 0, max: 10_000 }) }),
  fc.record({ kind: fc.constant("amount" as const), value: fc.integer({ min: 0, max: 50_000 }) }),
)
const step = fc.record({ from: fc.integer({ min: 2, max: 60 }), rate: fc.integer({ min: 0, max: 10_000 }) })
const best = (rates: readonly Parameters<typeof rateOn>[0][], base: number) =>
  Math.max(0, ...rates.map((r) => rateOn(r, base)))

describe("a programme", () => {
  it("runs from its first instant up to its last, and only while it is on", () => {
    const p = { on: true, from: 100, until: 200 }
    expect([99, 100, 199, 200].map((at) => programmeRuns(p, at))).toEqual([false, true, true, false])
    expect(programmeRuns({ ...p, on: false }, 150)).toBe(false)
    expect(programmeRuns({ on: true, from: null, until: null }, 0)).toBe(true)
  })

  it("pays nobody less for one sale more in a month, whatever the steps and the own rate", () => {
    fc.assert(
      fc.property(
        rate,
        fc.option(rate),
        fc.array(step, { maxLength: 6 }),
        fc.integer({ min: 1, max: 60 }),
        fc.integer({ min: 0, max: 100_000 }),
        (usual, own, steps, place, base) => {
          const terms = { ...usualTerms, rate: usual, steps }
          const now = best(termsFor(terms, own, place).rates, base)
          expect(best(termsFor(terms, own, place + 1).rates, base)).toBeGreaterThanOrEqual(now)
          expect(now).toBeGreaterThanOrEqual(rateOn(own ?? usual, base))
        },
      ),
      { seed: 5 },
    )
  })

  it("pays an amount for the sale, and not again for what came along with it", () => {
    const terms = { ...usualTerms, rate: { kind: "amount" as const, value: 4_000 }, steps: [{ from: 5, rate: 4_000 }] }
    expect(termsFor(terms, null, 1, "main").rates).toEqual([{ kind: "amount", value: 4_000 }])
    expect(termsFor(terms, null, 1, "bump").rates).toEqual([])
    expect(termsFor(terms, null, 5, "further").rates).toEqual([{ kind: "percent", value: 4_000 }])
  })

  it("takes no terms that can't be reckoned with", () => {
    const good = v.safeParse(programmeTerms, usualTerms)
    expect(good.success).toBe(true)
    for (const bad of [
      { ...usualTerms, rate: { kind: "percent", value: 10_001 } },
      { ...usualTerms, rate: { kind: "percent", value: -1 } },
      { ...usualTerms, rate: { kind: "percent", value: 33.3 } },
      { ...usualTerms, rate: { kind: "amount", value: Number.NaN } },
      { ...usualTerms, rate: { kind: "share", value: 1 } },
      { ...usualTerms, charges: 0 },
      { ...usualTerms, second: 10_001 },
      { ...usualTerms, steps: [{ from: 1, rate: 4_000 }] },
      { ...usualTerms, steps: Array.from({ length: 11 }, (_, i) => ({ from: i + 2, rate: 1 })) },
      { ...usualTerms, bumps: "yes" },
    ])
      expect(v.safeParse(programmeTerms, bad).success).toBe(false)
  })
})

describe("a rate", () => {
  it("is rounded half up, once, as on paper", () => {
    // 30 % of 0.05 is 0.015, which is 0.02; of 0.01 it is 0.003, which is nothing.
    expect(rateOn({ kind: "percent", value: 3000 }, 5)).toBe(2)
    expect(rateOn({ kind: "percent", value: 3000 }, 1)).toBe(0)
    expect(rateOn({ kind: "percent", value: 5000 }, 1)).toBe(1)
    expect(rateOn({ kind: "percent", value: 3333 }, 29_000)).toBe(9_666)
  })

  it("is never more than there is, never negative, and grows with what was paid", () => {
    fc.assert(
      fc.property(
        rate,
        fc.integer({ min: 0, max: 1_000_000_000 }),
        fc.integer({ min: 0, max: 1_000_000 }),
        (r, base, more) => {
          const n = rateOn(r, base)
          expect(Number.isInteger(n)).toBe(true)
          expect(n).toBeGreaterThanOrEqual(0)
          expect(n).toBeLessThanOrEqual(base)
          expect(rateOn(r, base + more)).toBeGreaterThanOrEqual(n)
          // Against whole numbers of any size.
          if (r.kind === "percent") expect(n).toBe(Number((BigInt(base) * BigInt(r.value) * 2n + 10_000n) / 20_000n))
        },
      ),
      { seed: 7 },
    )
  })

  it("is read as it is typed, in hundredths of a percent", () => {
    const read: [string, number | null][] = [
      ["30", 3000],
      ["30 %", 3000],
      ["33.5", 3350],
      ["33,5%", 3350],
      [" 7.25 ", 725],
      ["100", 10_000],
      ["0", 0],
      ["100.01", null],
      ["-1", null],
      ["1e2", null],
      ["33.333", null],
      ["", null],
      ["a third", null],
      ["１０", null],
    ]
    for (const [typed, value] of read) expect([typed, parsePercent(typed)]).toEqual([typed, value])
    expect(v.safeParse(rateSchema, { kind: "percent", value: parsePercent("29.99") }).success).toBe(true)
  })
})
