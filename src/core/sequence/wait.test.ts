// Waits against moment-timezone, a library of its own with its own tables of zones, across the clock changes of many of them.
import fc from "fast-check"
import moment from "moment-timezone"
import { describe, expect, it } from "vitest"
import { type Wait, waitsUntil } from "./wait"
import { spanWords, waitWords } from "./words"

const zones = moment.tz.names().filter((z) => {
  try {
    new Intl.DateTimeFormat("en", { timeZone: z })
    return z.includes("/")
  } catch {
    return false
  }
})

/** Whether both tables agree about a zone around an instant: they are of different years. */
const agree = (zone: string, at: number) => {
  const offset = (t: number) => {
    const parts = new Intl.DateTimeFormat("en", { timeZone: zone, timeZoneName: "longOffset" }).formatToParts(t)
    const m = /GMT(?:([+-])(\d+):(\d+))?/.exec(parts.find((p) => p.type === "timeZoneName")!.value)!
    return m[1] ? (m[1] === "-" ? -1 : 1) * (Number(m[2]) * 60 + Number(m[3])) : 0
  }
  for (let d = -2; d < 12; d++) {
    const t = at + d * 86_400_000
    if (moment.tz(t, zone).utcOffset() !== offset(t)) return false
  }
  return true
}

const instants = fc.integer({ min: Date.UTC(2024, 0, 1), max: Date.UTC(2027, 11, 1) })
const none = () => null

describe("a wait until a weekday", () => {
  it("is the next one at that time, where the reader is, in every zone", () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...zones),
        instants,
        fc.integer({ min: 1, max: 7 }),
        fc.integer({ min: 0, max: 1439 }),
        (zone, from, weekday, at) => {
          if (!agree(zone, from)) return
          const due = moment.tz(waitsUntil({ for: "weekday", weekday, at }, from, zone), zone)
          expect(due.valueOf()).toBeGreaterThan(from)
          expect(due.isoWeekday()).toBe(weekday)
          // The same clock time as another library makes of it: one that doesn't exist is moved on alike.
          const clock = due
            .clone()
            .startOf("day")
            .hour(Math.floor(at / 60))
            .minute(at % 60)
          expect(due.valueOf()).toBe(clock.valueOf())
          expect(due.diff(moment.tz(from, zone), "days", true)).toBeLessThanOrEqual(7.1)
        },
      ),
      { seed: 20, numRuns: 800 },
    )
  })
})

describe("a wait until a date", () => {
  it("is that date at that time there, and none where it is past", () => {
    fc.assert(
      fc.property(fc.constantFrom(...zones), instants, fc.integer({ min: 0, max: 1439 }), (zone, from, at) => {
        if (!agree(zone, from)) return
        const date = moment.tz(from, zone).add(3, "days").format("YYYY-MM-DD")
        const clock = moment
          .tz(date, zone)
          .hour(Math.floor(at / 60))
          .minute(at % 60)
        expect(waitsUntil({ for: "date", date, at }, from, zone)).toBe(clock.valueOf())
        const past = moment.tz(from, zone).subtract(2, "days").format("YYYY-MM-DD")
        expect(waitsUntil({ for: "date", date: past, at }, from, zone)).toBe(from)
      }),
      { seed: 21, numRuns: 500 },
    )
  })
})

describe("a span, and so long before a moment", () => {
  it("are counted in elapsed time", () => {
    const from = Date.UTC(2026, 2, 29, 0, 30)
    expect(waitsUntil({ for: "span", minutes: 90 }, from, "Europe/Oslo")).toBe(from + 5_400_000)
    const before: Wait = { for: "moment", moment: { of: "offer-ends", id: 1 }, minutes: -60 }
    expect(waitsUntil(before, from, "UTC", from + 7_200_000)).toBe(from + 3_600_000)
    expect(waitsUntil(before, from, "UTC", from)).toBe(from)
    expect(waitsUntil(before, from, "UTC", null)).toBe(from)
  })
})

describe("in words", () => {
  it.each([
    [1, "a minute"],
    [60, "an hour"],
    [90, "90 minutes"],
    [1440, "a day"],
    [2880, "2 days"],
    [20_160, "2 weeks"],
  ])("%d minutes are %s", (minutes, says) => expect(spanWords(minutes)).toBe(says))

  it.each<[Wait, string]>([
    [{ for: "days", days: 1, at: 450 }, "a day, until 07:30, their time"],
    [{ for: "days", days: 0, at: 450 }, "until 07:30, their time"],
    [{ for: "days", days: 3, at: null }, "3 days"],
    [{ for: "weekday", weekday: 7, at: 0 }, "until Sunday, 00:00, their time"],
    [{ for: "date", date: "2027-01-31", at: 600 }, "until 31 January 2027, 10:00, their time"],
    [
      { for: "moment", moment: { of: "offer-ends", id: 1 }, minutes: -1440 },
      "until a day before the offer something that is no longer there ends",
    ],
  ])("%j", (wait, says) => expect(waitWords(wait, none)).toBe(says))
})
