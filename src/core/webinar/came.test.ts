// Expected values are counted out by hand; the intervals have their own test, in proportion.test.ts.
import { describe, expect, it } from "vitest"
import { dropsOf, leadOf, meanCurve, nobodyCame, stagesOf } from "./came"

describe("what came of it", () => {
  it("tells every stage as a share of those who had a seat", () => {
    const stages = stagesOf({ registered: 80, came: 40, stayed: 30, saw: 32, pressed: 12, bought: 5 })
    expect(stages.map((s) => [s.stage, s.share.hits, s.share.of])).toEqual([
      ["registered", 80, 80],
      ["came", 40, 80],
      ["stayed", 30, 80],
      ["saw", 32, 80],
      ["pressed", 12, 80],
      ["bought", 5, 80],
    ])
    expect(stages[1]!.share.low).toBeGreaterThan(0.39)
    expect(stages[1]!.share.high).toBeLessThan(0.61)
    expect(stagesOf(nobodyCame).every((s) => s.share.of === 0)).toBe(true)
  })

  it.each([
    [-60_000, "hour"],
    [3_600_000, "hour"],
    [3_600_001, "day"],
    [2 * 86_400_000, "three-days"],
    [7 * 86_400_000, "week"],
    [30 * 86_400_000, "longer"],
  ])("%i ms before the start: %s", (ms, lead) => expect(leadOf(ms)).toBe(lead))

  it("marks where the most left, and not the end", () => {
    // Forty to the tenth minute, thirty to the thirtieth, twelve to the end; by hand.
    const curve = Array.from({ length: 60 }, (_, m) => (m < 10 ? 40 : m < 30 ? 30 : m < 58 ? 12 : 0))
    expect(dropsOf(curve)).toEqual([
      { minute: 10, left: 10 },
      { minute: 30, left: 18 },
    ])
    // Two at a time over five minutes is one place, at the end of which ten have gone.
    const slow = Array.from({ length: 60 }, (_, m) => 40 - 2 * Math.min(5, Math.max(0, m - 20)))
    expect(dropsOf(slow)).toEqual([{ minute: 25, left: 10 }])
    expect(dropsOf([4, 3, 2, 1])).toEqual([])
    expect(dropsOf([])).toEqual([])
  })

  it("lays curves of different lengths over each other", () => {
    expect(
      meanCurve([
        [10, 20],
        [20, 10, 6],
      ]),
    ).toEqual([15, 15, 6])
    expect(meanCurve([])).toEqual([])
  })
})
