import { describe, expect, it } from "vitest"
import { bandsOfDays, rhythmOf, sharesOfDays, within } from "./days"
import type { UnsureStep } from "./simulate"

describe("a day's share", () => {
  const even = Array<number>(7).fill(1)
  const shares = (
    days: number,
    visitors: readonly number[],
    buying: readonly number[],
    months = [1],
    weekdays = even,
  ) => sharesOfDays(days, 10, 0, { visitors, weekdays, buying }, months)

  it("is the whole where visitors buy at once, or came before as they do now", () => {
    expect(shares(3, [], [])).toEqual([1, 1, 1])
    expect(shares(3, [10, 10, 10], [0.5, 0.75, 1])).toEqual([1, 1, 1])
  })

  it("rises where nobody came before, and lives on those who did", () => {
    expect(shares(4, [], [0.5, 0.75, 1])).toEqual([0.5, 0.75, 1, 1])
    // The last day before twice as many came: a quarter of them buy on the first day, another quarter on the second.
    expect(shares(3, [20], [0.5, 0.75, 1])).toEqual([1, 1.25, 1])
    expect(sharesOfDays(2, 0, 0, { visitors: [20], weekdays: even, buying: [0.5, 1] }, [1])).toEqual([0, 0])
  })

  it("has later charges in their months: of two halves the second comes when the next month begins", () => {
    const long = shares(40, [], [], [1, 1])
    expect(long.slice(28, 32)).toEqual([0.5, 0.5, 1, 1])
    expect(shares(2, Array<number>(60).fill(10), [], [1, 1])).toEqual([1, 1])
    expect(shares(2, [10], [], [])).toEqual([0, 0])
  })

  it("follows the days of the week", () => {
    expect(shares(8, [], [], [1], [2, 1, 1, 1, 1, 1, 0])).toEqual([2, 1, 1, 1, 1, 1, 0, 2])
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

describe("how visitors vary", () => {
  it("is by the day of the week, and by chance beyond that", () => {
    // Eight weeks that end on a Sunday, with twice as many on Mondays.
    const days = Array.from({ length: 56 }, (_, i) => (i % 7 === 0 ? 20 : 10))
    const { weekdays, spread } = rhythmOf(days, 6)
    expect(weekdays[0]! / weekdays[1]!).toBeCloseTo((160 + 80 / 7) / (80 + 80 / 7), 6)
    expect(weekdays.reduce((a, b) => a + b, 0)).toBeCloseTo(7, 9)
    expect(spread).toBe(1)
    // The same days, ending on a Monday: now it is Tuesdays.
    expect(rhythmOf(days, 0).weekdays[1]).toBeCloseTo(weekdays[0]!, 9)
  })

  it("is more than chance where days differ without a rule", () => {
    const days = Array.from({ length: 56 }, (_, i) => (Math.floor(i / 7) % 2 ? 20 : 0))
    // Mean 10, each day off by 10: 56 × 100 / 10, over 56 − 7.
    expect(rhythmOf(days, 6).spread).toBeCloseTo(560 / 49, 6)
    expect(rhythmOf([0, 50], 6)).toEqual({ weekdays: [1, 1, 1, 1, 1, 1, 1], spread: 1 })
    expect(rhythmOf(Array(20).fill(0), 3).spread).toBe(1)
  })
})
