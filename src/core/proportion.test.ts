import fc from "fast-check"
import { describe, expect, it } from "vitest"
import wilson from "wilson-score-interval"
import { proportion } from "./proportion"

describe("proportion", () => {
  // Newcombe (1998), Statistics in Medicine 17, 857–872, Table I, method 3 (score, no continuity correction), 95 %.
  it.each([
    [81, 263, 0.2553, 0.3662],
    [15, 148, 0.0624, 0.1605],
    [0, 20, 0.0, 0.1611],
    [1, 29, 0.0061, 0.1718],
  ])("%i of %i lies between %f and %f", (hits, of, low, high) => {
    const p = proportion(hits, of)
    expect(p.low).toBeCloseTo(low, 4)
    expect(p.high).toBeCloseTo(high, 4)
  })

  it("agrees with an independent package (wilson-score-interval, which rounds z to 1.96)", () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 100_000 }), fc.double({ min: 0, max: 1, noNaN: true }), (of, share) => {
        const hits = Math.round(share * of)
        const ours = proportion(hits, of)
        const theirs = wilson(hits, of)
        expect(Math.abs(ours.low - Math.max(0, theirs.left))).toBeLessThan(2e-5)
        expect(Math.abs(ours.high - Math.min(1, theirs.right))).toBeLessThan(2e-5)
      }),
      { seed: 1 },
    )
  })

  it("solves |p̂ − p| = z·√(p(1 − p)/n) at both bounds: the definition (Wilson 1927)", () => {
    const { low, high } = proportion(61, 212)
    for (const p of [low, high])
      expect(Math.abs(61 / 212 - p)).toBeCloseTo(1.959963984540054 * Math.sqrt((p * (1 - p)) / 212), 12)
  })

  it("holds the share, stays in 0..1, mirrors, and says nothing of nobody", () => {
    fc.assert(
      fc.property(fc.nat(5000), fc.nat(5000), (a, b) => {
        const p = proportion(a, a + b)
        const q = proportion(b, a + b)
        expect(p.low).toBeGreaterThanOrEqual(0)
        expect(p.high).toBeLessThanOrEqual(1)
        if (a + b > 0) {
          expect(p.low - 1e-12).toBeLessThanOrEqual(a / (a + b))
          expect(p.high + 1e-12).toBeGreaterThanOrEqual(a / (a + b))
          expect(p.low).toBeCloseTo(1 - q.high, 10)
        }
      }),
      { seed: 2 },
    )
    expect(proportion(0, 0)).toMatchObject({ low: 0, high: 1 })
    expect(() => proportion(2, 1)).toThrow(RangeError)
    expect(() => proportion(0.5, 1)).toThrow(RangeError)
  })
})
