// Starts offered to a visitor, by what must hold of any: ahead, in the hours allowed where they are, distinct, the same at every look,
// and never at a time that the clock leaves out; and worked examples (common practice).
import fc from "fast-check"
import moment from "moment-timezone"
import { describe, expect, it } from "vitest"
import { type AnyTime, heldStarts, leastAhead, offeredStarts } from "./any-time"

const usual: AnyTime = { soon: true, times: [19 * 60], from: 8 * 60, to: 22 * 60, choices: 3 }
const at = (iso: string) => Date.parse(iso)
const iso = (them: readonly number[]) => them.map((t) => new Date(t).toISOString().slice(0, 16))

describe("the starts offered", () => {
  // Oslo is an hour ahead of UTC in winter, Lima five behind.
  it.each([
    ["a morning", "2026-12-03T09:05:00Z", "Europe/Oslo", ["2026-12-03T09:15", "2026-12-03T18:00", "2026-12-04T18:00"]],
    [
      "two minutes to the quarter: the next",
      "2026-12-03T09:13:00Z",
      "Europe/Oslo",
      ["2026-12-03T09:30", "2026-12-03T18:00", "2026-12-04T18:00"],
    ],
    [
      "at night: none now",
      "2026-12-03T01:00:00Z",
      "Europe/Oslo",
      ["2026-12-03T18:00", "2026-12-04T18:00", "2026-12-05T18:00"],
    ],
    [
      "the same moment elsewhere",
      "2026-12-03T01:00:00Z",
      "America/Lima",
      ["2026-12-03T01:15", "2026-12-04T00:00", "2026-12-05T00:00"],
    ],
    [
      "just after tonight's",
      "2026-12-03T18:00:01Z",
      "Europe/Oslo",
      ["2026-12-03T18:15", "2026-12-04T18:00", "2026-12-05T18:00"],
    ],
  ])("%s", (_, now, zone, starts) => {
    expect(iso(offeredStarts(usual, at(now), zone))).toEqual(starts)
  })

  it("leave out a time that a clock change leaves out (Oslo, 28 March 2027, 02:30)", () => {
    const night = { ...usual, soon: false, times: [150], from: 0, choices: 2 }
    expect(iso(offeredStarts(night, at("2027-03-27T12:00:00Z"), "Europe/Oslo"))).toEqual([
      "2027-03-29T00:30",
      "2027-03-30T00:30",
    ])
  })

  const zones = Intl.supportedValuesOf("timeZone").filter((z) => moment.tz.zone(z))
  const any = fc.record({
    soon: fc.boolean(),
    times: fc.array(fc.integer({ min: 0, max: 1439 }), { maxLength: 4 }),
    from: fc.integer({ min: 0, max: 700 }),
    to: fc.integer({ min: 701, max: 1439 }),
    choices: fc.integer({ min: 1, max: 6 }),
  })
  const instants = fc.integer({ min: Date.UTC(2026, 0, 1), max: Date.UTC(2029, 11, 31) })

  it("lie ahead, in the allowed hours there, distinct, in order, and on the clock", () => {
    fc.assert(
      fc.property(any, instants, fc.constantFrom(...zones), (a, now, zone) => {
        const starts = offeredStarts(a, now, zone)
        expect(starts.length).toBeLessThanOrEqual(a.choices)
        expect(new Set(starts).size).toBe(starts.length)
        expect([...starts].sort((x, y) => x - y)).toEqual(starts)
        for (const start of starts) {
          expect(start).toBeGreaterThanOrEqual(now + leastAhead)
          // By Node's own tables: another library's may be of another year.
          const [h, m] = new Date(start).toLocaleTimeString("sv", { timeZone: zone }).split(":").map(Number)
          const clock = h! * 60 + m!
          expect(clock).toBeGreaterThanOrEqual(a.from)
          expect(clock).toBeLessThan(a.to)
          expect(a.times.includes(clock) || start % 900_000 === 0).toBe(true)
        }
      }),
      { seed: 4, numRuns: 600 },
    )
  })

  it("stand for whoever was shown them, until they have passed", () => {
    fc.assert(
      fc.property(
        any,
        instants,
        fc.integer({ min: 0, max: 86_400_000 }),
        fc.constantFrom(...zones),
        (a, now, later, zone) => {
          const first = offeredStarts(a, now, zone)
          // The same at the same moment, and whatever still lies ahead is still there later.
          expect(heldStarts(first, a, now, zone)).toEqual(first)
          const then = heldStarts(first, a, now + later, zone)
          const ahead = first.filter((t) => t >= now + later + leastAhead)
          expect(ahead.every((t) => then.includes(t))).toBe(true)
          expect(heldStarts(then, a, now + later, zone)).toEqual(then)
          expect(new Set(then).size).toBe(then.length)
        },
      ),
      { seed: 6, numRuns: 400 },
    )
  })
})
