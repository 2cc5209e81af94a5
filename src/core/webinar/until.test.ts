// Against moment-timezone, which brings zone tables of its own; where its table and Node's tell a day's end differently, the zone is left out
// and counted.
import moment from "moment-timezone"
import { describe, expect, it } from "vitest"
import { dayEnd, untilWords } from "./until"

describe("the end of a day where somebody is", () => {
  it("is midnight there, in every zone, around the year", () => {
    let agreed = 0
    const apart: string[] = []
    for (const zone of Intl.supportedValuesOf("timeZone").filter((z) => moment.tz.zone(z))) {
      for (let month = 0; month < 12; month++) {
        const from = Date.UTC(2027, month, 3 + 2 * month, 19, 45)
        const expected = moment
          .tz(from, zone)
          .startOf("day")
          .add(3 + 1, "days")
          .startOf("day")
          .valueOf()
        if (dayEnd(from, 3, zone) === expected) agreed++
        else apart.push(`${zone} ${month}`)
      }
    }
    expect(agreed).toBeGreaterThan(4500)
    // Tables of different years: a few zones have changed their rules since.
    expect(apart.length, apart.join(", ")).toBeLessThan(60)
  })

  // Worked by hand: Oslo is at +01:00 in December, New York at −05:00; the clocks of Oslo go on on 28 March 2027.
  it.each([
    ["2026-12-03T20:00:00Z", 3, "Europe/Oslo", "2026-12-06T23:00:00Z"],
    ["2026-12-03T23:30:00Z", 0, "Europe/Oslo", "2026-12-04T23:00:00Z"],
    ["2026-12-03T23:30:00Z", 0, "America/New_York", "2026-12-04T05:00:00Z"],
    ["2027-03-27T12:00:00Z", 1, "Europe/Oslo", "2027-03-28T22:00:00Z"],
  ])("%s and %i days, %s", (from, days, zone, end) =>
    expect(new Date(dayEnd(Date.parse(from), days, zone)).toISOString()).toBe(new Date(end).toISOString()),
  )

  it("is told by its last minute", () =>
    expect(untilWords(Date.parse("2026-12-06T23:00:00Z"), "Europe/Oslo")).toMatch(/^Sunday,? 6 December at 23:59 \(/))
})
