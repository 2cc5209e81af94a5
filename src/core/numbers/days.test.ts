import { describe, expect, it } from "vitest"
import { bandsOfDays, sharesOfDays, spreadOf, within } from "./days"
import type { UnsureStep } from "./simulate"

describe("a day's share", () => {
  it("is the whole where visitors bring at once, or came before as they do now", () => {
    expect(sharesOfDays(3, 10, [], [])).toEqual([1, 1, 1])
    expect(sharesOfDays(3, 10, [10, 10, 10], [0.5, 0.75, 1])).toEqual([1, 1, 1])
  })

  it("rises where nobody came before, and lives on those who did", () => {
    expect(sharesOfDays(4, 10, [], [0.5, 0.75, 1])).toEqual([0.5, 0.75, 1, 1])
    // The last day before twice as many came: a quarter of theirs on the first day, another quarter on the second.
    expect(sharesOfDays(3, 10, [20], [0.5, 0.75, 1])).toEqual([1, 1.25, 1])
    expect(sharesOfDays(2, 0, [20], [0.5, 1])).toEqual([0, 0])
  })
})

describe("a day's band", () => {
  const steps = (comes: number): UnsureStep[] => [
    { id: 1, comes, outcomes: [{ name: "bought", rate: { a: 1e8, b: 9e8 }, brings: 100, to: null }] },
  ]
  it("is that of as many visitors as its share says", () => {
    // Of 1,000 a day a tenth buys: a Poisson of mean 100, of which four fifths lie within 1.28 × 10 of it.
    const [whole, half] = bandsOfDays(steps(28_000), 28, [1, 0.5], { runs: 2_000, seed: 4 })
    expect(whole!.mean / 100).toBeCloseTo(100, -1)
    expect((whole!.high - whole!.low) / 100).toBeGreaterThan(22)
    expect((whole!.high - whole!.low) / 100).toBeLessThan(30)
    expect(half!.mean / 100).toBeCloseTo(50, -1)
  })

  it("is wider where visitors vary more than by chance", () => {
    const wide = (spread: number) => {
      const [b] = bandsOfDays(steps(1_000), 10, [1], { runs: 2_000, seed: 4, spread })
      return b!.high - b!.low
    }
    // Visitors with the variance nine times their mean: 10 buyers with the variance 10 + 0.01 × 8 × 100.
    expect(wide(9) / wide(1)).toBeCloseTo(Math.sqrt(18 / 10), 0)
  })

  it("counts the days that are over and lie within", () => {
    const bands = [0, 1, 2].map(() => ({ mean: 5, low: 2, high: 8 }))
    expect(within(bands, [2, 9, null])).toEqual({ within: 1, of: 2 })
    expect(within(bands, [])).toEqual({ within: 0, of: 0 })
  })
})

describe("how much visitors vary", () => {
  it("is variance over mean, and at least chance", () => {
    expect(spreadOf([5, 5, 5, 5, 5, 5, 5])).toBe(1)
    // Mean 10, variance (4 × 100 + 4 × 100) / 7.
    expect(spreadOf([0, 20, 0, 20, 0, 20, 0, 20])).toBeCloseTo(800 / 7 / 10, 9)
    expect(spreadOf([0, 50])).toBe(1)
    expect(spreadOf(Array(10).fill(0))).toBe(1)
  })
})
