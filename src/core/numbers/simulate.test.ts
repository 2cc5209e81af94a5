import fc from "fast-check"
import { describe, expect, it } from "vitest"
import { expected } from "./chain"
import { atTheirMeans, quantileOf, simulate, type UnsureStep } from "./simulate"

/** A rate that is as good as known. */
const sure = (rate: number) => ({ a: rate * 1e9, b: (1 - rate) * 1e9 })

describe("simulate", () => {
  it("comes within three standard errors of the exact, for sixty random funnels with unsure rates", () => {
    const runs = 2_000
    // The funnels and the seeds are fixed: of sixty, one in six times one would lie beyond three errors by chance.
    for (const [i, steps] of fc.sample(funnels, { numRuns: 60, seed: 7 }).entries()) {
      const { totals } = simulate(steps, { runs, seed: i * 7919 + 1 })
      const mean = totals.reduce((a, b) => a + b) / runs
      const error = Math.sqrt(totals.reduce((a, b) => a + (b - mean) ** 2, 0) / (runs - 1) / runs)
      // Rates are drawn apart, so that their means multiply along a way.
      expect(Math.abs(mean - expected(atTheirMeans(steps)).total), `funnel ${i}`).toBeLessThanOrEqual(3 * error + 1e-6)
    }
  })

  it("is the same for the same seed, another for another", () => {
    const steps = [{ id: 1, comes: 200, outcomes: [{ name: "bought", rate: { a: 5, b: 95 }, brings: 100, to: null }] }]
    const of = (seed: number) => [...simulate(steps, { runs: 50, seed }).totals]
    expect(of(1)).toEqual(of(1))
    expect(of(1)).not.toEqual(of(2))
  })

  it("has the width of people alone where rates are known, and a greater one where they aren't", () => {
    const steps = (rate: { a: number; b: number }): UnsureStep[] => [
      { id: 1, comes: 1_000, outcomes: [{ name: "bought", rate, brings: 1, to: null }] },
    ]
    const wide = (rate: { a: number; b: number }) => {
      const s = simulate(steps(rate), { runs: 4_000, seed: 3 })
      return quantileOf(s, 0.9) - quantileOf(s, 0.1)
    }
    // Poisson of mean 100 (thinned): 80 % lie within ±1.2816 × 10.
    expect(wide(sure(0.1))).toBeGreaterThan(22)
    expect(wide(sure(0.1))).toBeLessThan(30)
    // Beta(10, 90) adds a standard deviation of 29.9 to 10.
    expect(wide({ a: 10, b: 90 })).toBeGreaterThan(70)
    expect(wide({ a: 10, b: 90 })).toBeLessThan(92)
  })

  it("walks nobody, one, and refuses what can't be walked", () => {
    const one = (comes: number, brings = 1): UnsureStep[] => [
      { id: 1, comes, outcomes: [{ name: "a", rate: sure(0.5), brings, to: null }] },
    ]
    expect([...simulate(one(0), { runs: 3, seed: 1 }).totals]).toEqual([0, 0, 0])
    expect(simulate([], { runs: 2, seed: 1 }).people).toBe(0)
    expect(() => simulate(one(-1), { runs: 1, seed: 1 })).toThrow()
    const round: UnsureStep[] = [{ id: 1, comes: 1, outcomes: [{ name: "a", rate: { a: 1, b: 0 }, brings: 0, to: 1 }] }]
    expect(() => simulate(round, { runs: 1, seed: 1 })).toThrow(/nobody ever leaves/)
  })
})

const funnels = fc
  .array(
    fc.record({
      comes: fc.integer({ min: 0, max: 60 }),
      outs: fc.array(fc.record({ a: fc.integer({ min: 1, max: 20 }), brings: fc.integer({ min: 0, max: 300 }) }), {
        minLength: 1,
        maxLength: 2,
      }),
    }),
    { minLength: 1, maxLength: 5 },
  )
  // Onwards only, and rates far below one in sum, so that none is brought down.
  .map((all) =>
    all.map(
      (s, i): UnsureStep => ({
        id: i,
        comes: s.comes,
        outcomes: s.outs.map((o, k) => ({
          name: `o${k}`,
          rate: { a: o.a, b: 120 },
          brings: o.brings,
          to: i + 1 + k < all.length ? i + 1 + k : null,
        })),
      }),
    ),
  )
