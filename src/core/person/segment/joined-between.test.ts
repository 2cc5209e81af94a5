// Days on which somebody joined, where the school is: against an independent date library (moment-timezone), across the clock
// changes of every zone, where its table and Node's agree.
import fc from "fast-check"
import moment from "moment-timezone"
import { expect, it } from "vitest"
import { joinedBetween } from "./joined-between"

const zones = Intl.supportedValuesOf("timeZone").filter((z) => moment.tz.zone(z) !== null)
const isFound = (c: Parameters<typeof joinedBetween.sql>[0], joinedAt: number) => {
  const [least, before] = joinedBetween.sql(c, 0, () => ({ sql: "FALSE", values: [] })).values as [Date, Date]
  return joinedAt >= least.getTime() && joinedAt < before.getTime()
}
const agree = (zone: string, at: number) => {
  const there = new Intl.DateTimeFormat("en-CA", { timeZone: zone, dateStyle: "short" }).format(at)
  return there === moment.tz(at, zone).format("YYYY-MM-DD")
}

it("are those of the calendar there, as SQL asks for them", () => {
  let compared = 0
  fc.assert(
    fc.property(
      fc.constantFrom(...zones),
      fc.integer({ min: Date.UTC(2024, 0, 1), max: Date.UTC(2027, 11, 31) }),
      fc.integer({ min: -3, max: 3 }),
      fc.integer({ min: 0, max: 4 }),
      (zone, joinedAt, offset, length) => {
        fc.pre(agree(zone, joinedAt))
        const from = moment.tz(joinedAt, zone).add(offset, "days").format("YYYY-MM-DD")
        const to = moment
          .tz(joinedAt, zone)
          .add(offset + length, "days")
          .format("YYYY-MM-DD")
        const day = moment.tz(joinedAt, zone).format("YYYY-MM-DD")
        const wanted = day >= from && day <= to
        const c = { kind: "joined-between" as const, from, to, zone }
        expect(isFound(c, joinedAt)).toBe(wanted)
        compared++
      },
    ),
    { seed: 12, numRuns: 3_000 },
  )
  expect(compared).toBeGreaterThan(2_500)
})

it.each([
  [{ from: "2026-01-01", to: "2026-01-31" }, "joined from 2026-01-01 to 2026-01-31"],
  [{ from: "2026-01-01", to: null }, "joined on 2026-01-01 or later"],
  [{ from: null, to: "2026-01-31" }, "joined on 2026-01-31 or before"],
  [{ from: null, to: null }, "joined on any day"],
])("%j reads “%s”", (ends, says) =>
  expect(joinedBetween.says({ kind: "joined-between", zone: "UTC", ...ends }, () => null)).toBe(says),
)

it("has no end where none is given, and takes UTC for a zone that is none", () => {
  const at = Date.UTC(2026, 0, 1, 0, 30)
  const day = { kind: "joined-between" as const, from: "2026-01-01", to: null, zone: "Mars/Base" }
  expect(isFound(day, at)).toBe(true)
  expect(isFound({ ...day, zone: "America/Lima" }, at)).toBe(false)
  expect(joinedBetween.stranger(day)).toBe(false)
})
