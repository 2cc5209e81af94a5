// Against moment-timezone for weeks, months and the days of instants; the months named were read off a printed calendar.
import fc from "fast-check"
import moment from "moment-timezone"
import * as v from "valibot"
import { describe, expect, it } from "vitest"
import { boundsOf, dayOr, dayRule, monthOf, placeOf, shownAround, weekOf } from "./days"

const anyDay = fc
  .integer({ min: 0, max: 3650 })
  .map((n) => moment.utc("2024-01-01").add(n, "days").format("YYYY-MM-DD"))

describe("days", () => {
  it.each([
    ["2026-02-14", 5, "2026-01-26"],
    ["2027-02-01", 4, "2027-02-01"],
    ["2026-08-31", 6, "2026-07-27"],
  ])("the month of %s is shown in %i weeks from %s", (day, weeks, first) => {
    const month = monthOf(day)
    expect([month.length, month[0]![0]]).toEqual([weeks, first])
  })

  it("of weeks and months are those of ISO 8601", () => {
    fc.assert(
      fc.property(anyDay, (day) => {
        const monday = moment.utc(day).isoWeekday(1)
        expect(weekOf(day)).toEqual(
          Array.from({ length: 7 }, (_, i) => monday.clone().add(i, "days").format("YYYY-MM-DD")),
        )
        const month = monthOf(day).flat()
        expect(month).toContain(moment.utc(day).startOf("month").format("YYYY-MM-DD"))
        expect(month).toContain(moment.utc(day).endOf("month").format("YYYY-MM-DD"))
        expect(month.filter((d) => d.slice(0, 7) === day.slice(0, 7))).toHaveLength(moment.utc(day).daysInMonth())
        // Nothing more than the weeks in which it lies.
        expect(month[6]!.slice(0, 7)).toBe(day.slice(0, 7))
      }),
      { seed: 11, numRuns: 300 },
    )
  })

  it("lie between the midnights of their zone, also where the clock changes", () => {
    fc.assert(
      fc.property(
        anyDay,
        fc.constantFrom("Europe/Oslo", "America/Lima", "Asia/Kathmandu", "Australia/Lord_Howe"),
        (day, zone) => {
          const { from, to } = boundsOf([day], zone)
          expect(from).toBe(moment.tz(day, zone).startOf("day").valueOf())
          expect(to).toBe(moment.tz(day, zone).add(1, "day").startOf("day").valueOf())
          expect(placeOf(from, zone).day).toBe(day)
          expect(placeOf(to - 1, zone).day).toBe(day)
        },
      ),
      { seed: 12, numRuns: 300 },
    )
    expect(placeOf(Date.parse("2026-12-03T18:30:00Z"), "Europe/Oslo")).toEqual({ day: "2026-12-03", minute: 1170 })
  })

  it("go on and back by what is shown", () => {
    expect(shownAround("2026-01-31", "month")).toMatchObject({ before: "2025-12-01", after: "2026-02-01" })
    expect(shownAround("2026-11-26", "week")).toMatchObject({ before: "2026-11-19", after: "2026-12-03" })
    expect(shownAround("2026-11-26", "list").days).toHaveLength(56)
    expect(dayOr("2026-13-40", "2026-11-26")).toBe("2026-11-26")
    expect(dayOr("2026-12-24", "2026-11-26")).toBe("2026-12-24")
    expect(["2026-02-28", "2026-02-31", "2026-13-01", "28 Feb"].map((d) => v.is(dayRule(), d))).toEqual([
      true,
      false,
      false,
      false,
    ])
  })
})
