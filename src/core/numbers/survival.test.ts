// Kaplan–Meier: the 6-MP remission data, and by hand.
import { describe, expect, it } from "vitest"
import { shareAt, survival } from "./survival"

const seen = (...weeks: number[]) => weeks.map((w) => ({ for: w, happened: true }))
const yet = (...weeks: number[]) => weeks.map((w) => ({ for: w, happened: false }))

/** Weeks in remission, Freireich et al. (1963), Blood 21, 699–716, as handbooks print them (from memory). */
const sixMp = [...seen(6, 6, 6, 7, 10, 13, 16, 22, 23), ...yet(6, 9, 10, 11, 17, 19, 20, 25, 32, 32, 34, 35)]
const placebo = seen(1, 1, 2, 2, 3, 4, 4, 5, 5, 8, 8, 8, 8, 11, 11, 12, 12, 15, 17, 22, 23)

describe("survival", () => {
  it("estimates 6-MP as the handbooks do (Kleinbaum and Klein, Survival Analysis, from memory; recomputed below)", () => {
    const steps = survival(sixMp)
    expect(steps.map((s) => [s.at, s.atRisk, s.happened, s.share.toFixed(4), s.error.toFixed(4)])).toEqual([
      [6, 21, 3, "0.8571", "0.0764"],
      [7, 17, 1, "0.8067", "0.0869"],
      [10, 15, 1, "0.7529", "0.0963"],
      [13, 12, 1, "0.6902", "0.1068"],
      [16, 11, 1, "0.6275", "0.1141"],
      [22, 7, 1, "0.5378", "0.1282"],
      [23, 6, 1, "0.4482", "0.1346"],
    ])
    // The same as products of fractions, worked by hand.
    expect(steps.at(-1)!.share).toBeCloseTo((18 * 16 * 14 * 11 * 10 * 6 * 5) / (21 * 17 * 15 * 12 * 11 * 7 * 6), 12)
  })

  it("is the plain share where nobody is left out, to the end", () => {
    const steps = survival(placebo)
    for (const s of steps) expect(s.share).toBeCloseTo(placebo.filter((p) => p.for > s.at).length / placebo.length, 12)
    expect(steps.at(-1)).toMatchObject({ at: 23, share: 0, low: 0, high: 0 })
    expect(shareAt(steps, 8)).toBeCloseTo(8 / 21, 12)
    expect(shareAt(steps, 0.5)).toBe(1)
  })

  it("takes many alike together", () => {
    const together = [...new Set(sixMp.map((w) => JSON.stringify(w)))].map((w) => ({
      ...JSON.parse(w),
      people: sixMp.filter((x) => JSON.stringify(x) === w).length,
    }))
    expect(survival(together)).toEqual(survival(sixMp))
  })

  it("keeps its interval within 0 and 1, around the share", () => {
    for (const s of [...survival(sixMp), ...survival(seen(1, 2, 3)), ...survival([...seen(1), ...yet(1, 1, 1)])]) {
      expect(s.low).toBeLessThanOrEqual(s.share)
      expect(s.high).toBeGreaterThanOrEqual(s.share)
      expect(s.low).toBeGreaterThanOrEqual(0)
      expect(s.high).toBeLessThanOrEqual(1)
    }
    // log(−log S) interval of 6-MP at 23 weeks, worked out of the variance by hand: exponent 1.96 × 0.3003 / 0.8026.
    const last = survival(sixMp).at(-1)!
    expect([last.low, last.high]).toEqual([expect.closeTo(0.188, 3), expect.closeTo(0.68, 2)])
  })

  it("says nothing of nobody, of who hasn't yet, and refuses what can't be", () => {
    expect(survival([])).toEqual([])
    expect(survival(yet(1, 2, 3))).toEqual([])
    expect(() => survival(seen(-1))).toThrow(RangeError)
    expect(() => survival(seen(Number.NaN))).toThrow(RangeError)
  })
})
