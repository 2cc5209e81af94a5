// A time of the school in the words of where somebody is: against an independent date library (moment-timezone), where its table
// and Node's agree.
import fc from "fast-check"
import moment from "moment-timezone"
import { expect, it } from "vitest"
import { cityOf } from "@/core/words/moment"
import { momentWords } from "./personal"

const zones = Intl.supportedValuesOf("timeZone").filter((z) => moment.tz.zone(z) !== null)
const offsetOf = (zone: string, at: number) => {
  const parts = new Intl.DateTimeFormat("en-US", { timeZone: zone, timeZoneName: "longOffset" }).formatToParts(at)
  return parts.find((p) => p.type === "timeZoneName")!.value.replace("GMT", "") || "+00:00"
}

it("is the same moment everywhere", () => {
  let compared = 0
  fc.assert(
    fc.property(
      fc.constantFrom(...zones),
      fc.constantFrom("Europe/Oslo", "America/Lima", "Asia/Kathmandu"),
      fc.integer({ min: Date.UTC(2025, 0, 1) / 60_000, max: Date.UTC(2027, 11, 31) / 60_000 }),
      (zone, school, minute) => {
        const local = moment.tz(minute * 60_000, school)
        const at = local.valueOf()
        fc.pre(offsetOf(zone, at) === moment.tz(at, zone).format("Z"))
        // In the hour that comes twice the first is meant: left out here, since the words name no other.
        fc.pre(moment.tz(local.format("YYYY-MM-DDTHH:mm"), school).valueOf() === at)
        const there = moment.tz(at, zone)
        expect(momentWords(local.format("YYYY-MM-DDTHH:mm"), school, zone)).toBe(
          `${there.format("dddd D MMMM [at] HH:mm")} (${cityOf(zone)} time)`,
        )
        compared++
      },
    ),
    { seed: 3, numRuns: 2_000 },
  )
  expect(compared).toBeGreaterThan(1_500)
})

it.each(["2026-13-45T99:00", "", "tomorrow"])("%j is no time", (none) =>
  expect(momentWords(none, "Europe/Oslo", "UTC")).toBe(""),
)
