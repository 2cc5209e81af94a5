// Days on which somebody joined, where the school is: against an independent date library (moment-timezone), across the clock
// changes of every zone, where its table and Node's agree.
import fc from "fast-check"
import moment from "moment-timezone"
import { expect, it } from "vitest"
import { joinedBetween } from "./joined-between"
import type { Known } from "./kind"

const zones = Intl.supportedValuesOf("timeZone").filter((z) => moment.tz.zone(z) !== null)
const agree = (zone: string, at: number) => {
  const there = new Intl.DateTimeFormat("en-CA", { timeZone: zone, dateStyle: "short" }).format(at)
  return there === moment.tz(at, zone).format("YYYY-MM-DD")
}

it("are those of the calendar there, in the filter and in SQL", () => {
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
        expect(joinedBetween.holds(c, { joinedAt } as Known, 0)).toBe(wanted)
        const [least, before] = joinedBetween.sql(c, 0, () => ({ sql: "FALSE", values: [] })).values as [Date, Date]
        expect(joinedAt >= least.getTime() && joinedAt < before.getTime()).toBe(wanted)
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
  const at = { joinedAt: Date.UTC(2026, 0, 1, 0, 30) } as Known
  const day = { kind: "joined-between" as const, from: "2026-01-01", to: null, zone: "Mars/Base" }
  expect(joinedBetween.holds(day, at, 0)).toBe(true)
  expect(joinedBetween.holds({ ...day, zone: "America/Lima" }, at, 0)).toBe(false)
  expect(joinedBetween.stranger(day)).toBe(false)
})
