// Days and instants of a rule against `rrule` (RFC 5545) and moment-timezone, two libraries of their own, for zones with and without
// clock changes, 2026 to 2029; and worked examples of RFC 5545, 3.8.5.3.
import fc from "fast-check"
import moment from "moment-timezone"
import rrule from "rrule"
import { describe, expect, it } from "vitest"
import { type DateRule, instantAt, ruleDays, startsOf } from "./rule"

const { RRule, rrulestr } = rrule

const byDay = ["", "MO", "TU", "WE", "TH", "FR", "SA", "SU"]

/** Content lines of RFC 5545: DTSTART, RRULE and, where days are left out, EXDATE; null for a rule that yields nothing. */
function rruleOf(rule: DateRule, zone: string): string[] | null {
  const start = ruleDays({ ...rule, except: [] }, rule.from, 1)[0]
  if (!start) return null
  const local = (day: string) => `${day.replaceAll("-", "")}T${clock(rule.at)}00`
  const days = [...new Set(rule.on)].sort((a, b) => a - b)
  const parts = [
    `FREQ=${rule.unit === "week" ? "WEEKLY" : "MONTHLY"}`,
    `INTERVAL=${rule.every}`,
    `BYDAY=${days.map((d) => (rule.unit === "week" ? byDay[d] : `${rule.nth}${byDay[d]}`)).join(",")}`,
    ...(rule.until === null ? [] : [`UNTIL=${utc(instantAt(rule.until, rule.at, zone))}`]),
  ]
  const left = exceptions(rule)
  return [
    `DTSTART;TZID=${zone}:${local(start)}`,
    `RRULE:${parts.join(";")}`,
    ...(left.length ? [`EXDATE;TZID=${zone}:${left.map(local).join(",")}`] : []),
  ]
}

/** The days that would be there, were they not left out. */
function exceptions(rule: DateRule): string[] {
  const all = { ...rule, except: [] }
  return rule.except
    .flatMap(({ from, to }) => ruleDays(all, from, 400).filter((d) => d <= to))
    .filter((d, i, them) => them.indexOf(d) === i)
}

const utc = (at: number) => new Date(at).toISOString().replace(/[-:]|\.\d+/g, "")
const clock = (minute: number) => `${two(Math.floor(minute / 60))}${two(minute % 60)}`
const two = (n: number) => String(n).padStart(2, "0")

const weekly = (over: Partial<DateRule> = {}): DateRule => ({
  unit: "week",
  every: 1,
  on: [4],
  nth: 1,
  at: 19 * 60,
  from: "2026-12-03",
  until: null,
  except: [],
  ...over,
})

describe("the days of a rule", () => {
  // RFC 5545, 3.8.5.3: "Every other week", "Weekly on Tuesday and Thursday for five weeks", "Monthly on the first Friday",
  // "Monthly on the second-to-last Monday" is not one of ours; "the last … of the month" by the calendar.
  it.each([
    [
      "every second week on Tuesday",
      weekly({ every: 2, on: [2], from: "1997-09-02" }),
      ["1997-09-02", "1997-09-16", "1997-09-30", "1997-10-14"],
    ],
    [
      "Tuesday and Thursday",
      weekly({ on: [4, 2], from: "1997-09-02" }),
      ["1997-09-02", "1997-09-04", "1997-09-09", "1997-09-11"],
    ],
    [
      "every second week on Monday, Wednesday, Friday",
      weekly({ every: 2, on: [1, 3, 5], from: "1997-09-01" }),
      ["1997-09-01", "1997-09-03", "1997-09-05", "1997-09-15"],
    ],
    [
      "the first Friday",
      weekly({ unit: "month", on: [5], from: "1997-09-05" }),
      ["1997-09-05", "1997-10-03", "1997-11-07", "1997-12-05"],
    ],
    [
      "the last Friday",
      weekly({ unit: "month", on: [5], nth: -1, from: "2026-01-01" }),
      ["2026-01-30", "2026-02-27", "2026-03-27", "2026-04-24"],
    ],
    [
      "not in Easter week (Easter 2027: 28 March)",
      weekly({ from: "2027-03-12", except: [{ from: "2027-03-22", to: "2027-03-29" }] }),
      ["2027-03-18", "2027-04-01", "2027-04-08", "2027-04-15"],
    ],
    ["until June", weekly({ from: "2027-06-10", until: "2027-06-24" }), ["2027-06-10", "2027-06-17", "2027-06-24"]],
    [
      "begins at the first day that fits, and counts from it",
      weekly({ every: 2, from: "2027-01-01" }),
      ["2027-01-07", "2027-01-21", "2027-02-04", "2027-02-18"],
    ],
    ["nothing", weekly({ from: "2027-01-01", until: "2027-01-06" }), []],
    ["all left out", weekly({ until: "2026-12-31", except: [{ from: "2026-01-01", to: "2027-12-31" }] }), []],
  ] as const)("%s", (_, rule, days) => {
    expect(ruleDays(rule as DateRule, "1990-01-01", 4)).toEqual(days)
  })

  it("are the same from the middle as from the beginning", () => {
    fc.assert(
      fc.property(rules(), fc.integer({ min: 0, max: 1400 }), (rule, ahead) => {
        const all = ruleDays(rule, rule.from, 3000)
        const after = moment.utc(rule.from).add(ahead, "days").format("YYYY-MM-DD")
        expect(ruleDays(rule, after, 10)).toEqual(all.filter((d) => d >= after).slice(0, 10))
      }),
      { seed: 5, numRuns: 500 },
    )
  })

  it("are at most as many as are asked for, years on as well", () => {
    expect(ruleDays(weekly({ on: [1, 2, 3, 4, 5, 6, 7] }), "2026-12-03", 1000)).toHaveLength(1000)
    expect(ruleDays(weekly({ from: "2010-01-01" }), "2026-12-03", 2)).toEqual(["2026-12-03", "2026-12-10"])
  })
})

const day = (n: number) => moment.utc("2026-01-01").add(n, "days").format("YYYY-MM-DD")

function rules() {
  return fc
    .record({
      unit: fc.constantFrom("week" as const, "month" as const),
      every: fc.integer({ min: 1, max: 4 }),
      on: fc.uniqueArray(fc.integer({ min: 1, max: 7 }), { minLength: 1, maxLength: 7 }),
      nth: fc.constantFrom(1 as const, 2 as const, 3 as const, 4 as const, -1 as const),
      at: fc.integer({ min: 0, max: 1439 }),
      start: fc.integer({ min: 0, max: 700 }),
      length: fc.option(fc.integer({ min: 0, max: 700 })),
      gaps: fc.array(fc.tuple(fc.integer({ min: 0, max: 900 }), fc.integer({ min: 0, max: 30 })), { maxLength: 3 }),
    })
    .map(
      ({ start, length, gaps, ...r }): DateRule => ({
        ...r,
        from: day(start),
        until: length === null ? null : day(start + length),
        except: gaps.map(([a, b]) => ({ from: day(a), to: day(a + b) })),
      }),
    )
}

describe("a rule as RFC 5545 writes it", () => {
  it("has the same days to an independent library", () => {
    let some = 0
    fc.assert(
      fc.property(rules(), (rule) => {
        const lines = rruleOf({ ...rule, at: 720 }, "UTC")
        const ours = ruleDays(rule, rule.from, 40)
        if (!lines) {
          expect(ours).toEqual([])
          return
        }
        const text = lines
          .join("\n")
          .replaceAll(";TZID=UTC", "")
          .replace(/^DTSTART:(\S+)$/m, "DTSTART:$1Z")
        const set = rrulestr(
          text.replace(/^EXDATE:(.*)$/m, (_, d: string) => `EXDATE:${d.replaceAll(",", "Z,")}Z`),
          {
            forceset: true,
          },
        )
        const theirs = set.all((_, n) => n < 40).map((d) => d.toISOString().slice(0, 10))
        some += ours.length
        expect(ours).toEqual(theirs)
      }),
      { seed: 7, numRuns: 600 },
    )
    expect(some).toBeGreaterThan(5000)
  })

  it("says zone, end in UTC and what is left out (RFC 5545, 3.3.10: UNTIL is UTC where DTSTART has a zone)", () => {
    expect(
      rruleOf(
        weekly({ every: 2, until: "2027-06-30", except: [{ from: "2026-12-15", to: "2027-01-10" }] }),
        "Europe/Oslo",
      ),
    ).toEqual([
      "DTSTART;TZID=Europe/Oslo:20261203T190000",
      "RRULE:FREQ=WEEKLY;INTERVAL=2;BYDAY=TH;UNTIL=20270630T170000Z",
      "EXDATE;TZID=Europe/Oslo:20261217T190000,20261231T190000",
    ])
    expect(RRule.fromString(rruleOf(weekly({ unit: "month", on: [5], nth: -1 }), "UTC")![1]!).toString()).toContain(
      "FREQ=MONTHLY",
    )
  })
})

/** Whether both tables agree about a zone around an instant: they may be of different years. */
const sameTables = (zone: string, at: number) =>
  [-2, 2].every((days) => {
    const t = at + days * 86_400_000
    const local = new Date(t).toLocaleString("sv", { timeZone: zone })
    return moment.tz(t, zone).format("YYYY-MM-DD HH:mm:ss") === local
  })

describe("the instants of a rule", () => {
  it("agree with an independent date library around every zone's clock changes, 2026 to 2029", () => {
    let compared = 0
    const daily = weekly({ on: [1, 2, 3, 4, 5, 6, 7], from: "2026-01-01", until: "2029-12-31" })
    for (const zone of Intl.supportedValuesOf("timeZone").filter((z) => moment.tz.zone(z))) {
      const [from, to] = [Date.UTC(2026, 0, 3), Date.UTC(2029, 11, 28)]
      const changes = moment.tz.zone(zone)!.untils.filter((u) => u !== null && u > from && u < to)
      for (const change of [...changes, Date.UTC(2027, 5, 15)])
        for (const at of [90, 150, 19 * 60]) {
          if (!sameTables(zone, change)) continue
          const after = change - 30 * 3_600_000
          const ours = startsOf({ ...daily, at }, zone, after, 3)
          const clock = `${String(Math.floor(at / 60)).padStart(2, "0")}:${String(at % 60).padStart(2, "0")}`
          const theirs = Array.from({ length: 5 }, (_, d) => {
            const day = moment.tz(after, zone).add(d, "days").format("YYYY-MM-DD")
            return moment.tz(`${day} ${clock}`, "YYYY-MM-DD HH:mm", zone).valueOf()
          }).filter((t) => t >= after)
          expect([zone, at, ours]).toEqual([zone, at, theirs.slice(0, 3)])
          compared++
        }
    }
    expect(compared).toBeGreaterThan(3000)
  })
})
