import fc from "fast-check"
import moment from "moment-timezone"
import { describe, expect, it } from "vitest"
import { proportion } from "../proportion"
import { dueIn, variantAt } from "./broadcast"
import { bestOf, difference } from "./subject-test"

describe("the difference of two shares", () => {
  // Newcombe (1998), Statistics in Medicine 17, 873–890, table II, method 10: contrasts (a) to (h).
  it.each([
    [56, 70, 48, 80, 0.0524, 0.3339],
    [9, 10, 3, 10, 0.1705, 0.809],
    [6, 7, 2, 7, 0.0582, 0.8062],
    [5, 56, 0, 29, -0.0381, 0.1926],
    [0, 10, 0, 20, -0.1611, 0.2775],
    [0, 10, 0, 10, -0.2775, 0.2775],
    [10, 10, 0, 20, 0.6791, 1],
    [10, 10, 0, 10, 0.6075, 1],
  ])("%i of %i against %i of %i", (a, m, b, n, low, high) => {
    const d = difference(proportion(a, m), proportion(b, n))
    expect(d.low).toBeCloseTo(low, 4)
    expect(d.high).toBeCloseTo(high, 4)
  })
})

describe("a trial of subjects", () => {
  it("is decided by clicks, or by opens where there is none, and says whether it is sure", () => {
    const t = (sent: number, opened: number, clicked: number) => ({ sent, opened, clicked })
    expect(bestOf([t(500, 200, 20), t(500, 150, 60)])).toMatchObject({ best: 1, by: "clicked", sure: true })
    expect(bestOf([t(50, 20, 2), t(50, 15, 3)])).toMatchObject({ best: 1, by: "clicked", sure: false })
    expect(bestOf([t(50, 20, 0), t(50, 15, 0)])).toMatchObject({ best: 0, by: "opened" })
    expect(bestOf([t(0, 0, 0), t(0, 0, 0)])).toMatchObject({ best: 0, sure: false })
    expect(bestOf([t(5, 1, 1)])).toMatchObject({ best: 0, ahead: null, sure: false })
  })

  it("gives every subject to as many, to within one, and to no more than were to try", () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 3000 }),
        fc.integer({ min: 2, max: 3 }),
        fc.integer({ min: 5, max: 50 }),
        (of, subjects, percent) => {
          const all = Array.from({ length: of }, (_, i) => variantAt(i, of, subjects, percent))
          const each = Array.from({ length: subjects }, (_, n) => all.filter((x) => x === n).length)
          expect(Math.max(...each) - Math.min(...each)).toBeLessThanOrEqual(1)
          expect(each.reduce((a, b) => a + b)).toBe(Math.min(of, Math.max(subjects, Math.floor((of * percent) / 100))))
        },
      ),
      { seed: 40 },
    )
    expect(variantAt(99, 100, 1, 20)).toBe(0)
  })
})

describe("when it comes", () => {
  const now = Date.parse("2026-11-24T09:00:00Z")
  it("is at its hour where the school is, or where each reader is", () => {
    const when = { date: "2026-11-26", at: 450 } as const
    for (const zone of ["Asia/Kathmandu", "America/Lima", "Europe/Oslo", "Australia/Lord_Howe"]) {
      const clock = (z: string) => moment.tz("2026-11-26 07:30", z).valueOf()
      expect(dueIn({ ...when, where: "reader" }, zone, "Europe/Oslo", now)).toBe(clock(zone))
      expect(dueIn({ ...when, where: "school" }, zone, "Europe/Oslo", now)).toBe(clock("Europe/Oslo"))
    }
    expect(dueIn(null, "UTC", "UTC", now)).toBe(now)
    expect(dueIn({ date: "2020-01-01", at: 0, where: "school" }, "UTC", "UTC", now)).toBe(now)
  })
})
