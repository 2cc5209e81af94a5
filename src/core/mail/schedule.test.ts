import fc from "fast-check"
import moment from "moment-timezone"
import { describe, expect, it } from "vitest"
import { knownZone } from "../calendar/zone"
import { nextDue } from "./schedule"

const minutes = (at: string) => {
  const [h, m] = at.split(":").map(Number)
  return h! * 60 + m!
}
const ms = (iso: string) => Date.parse(iso)

describe("nextDue", () => {
  // Zone facts from the IANA time zone database; what a gap and a double hour mean from RFC 5545, 3.3.5.
  it.each([
    ["a plain morning", "2026-11-23T20:00:00Z", 1, "07:30", "Europe/Oslo", "2026-11-24T06:30:00Z"],
    [
      "over the clock change, the wall clock counts",
      "2026-10-24T06:00:00Z",
      1,
      "07:30",
      "Europe/Oslo",
      "2026-10-25T06:30:00Z",
    ],
    [
      "a time that doesn't exist moves on by the gap",
      "2026-03-28T12:00:00Z",
      1,
      "02:30",
      "Europe/Oslo",
      "2026-03-29T01:30:00Z",
    ],
    ["a time that comes twice is the first", "2026-10-24T12:00:00Z", 1, "02:30", "Europe/Oslo", "2026-10-25T00:30:00Z"],
    ["a zone at a quarter-hour", "2026-11-23T20:00:00Z", 1, "07:30", "Asia/Kathmandu", "2026-11-25T01:45:00Z"],
    ["a half-hour change", "2026-04-04T00:00:00Z", 1, "01:45", "Australia/Lord_Howe", "2026-04-04T14:45:00Z"],
    ["the far side of the date line", "2026-11-23T09:00:00Z", 1, "07:30", "Pacific/Kiritimati", "2026-11-23T17:30:00Z"],
    [
      "today, when the time is still to come",
      "2026-11-24T05:00:00Z",
      0,
      "07:30",
      "Europe/Oslo",
      "2026-11-24T06:30:00Z",
    ],
    ["tomorrow, when it is past", "2026-11-24T07:00:00Z", 0, "07:30", "Europe/Oslo", "2026-11-25T06:30:00Z"],
    ["at once", "2026-11-24T07:00:00.123Z", 0, null, "Europe/Oslo", "2026-11-24T07:00:00.123Z"],
    ["the same time of day, two days on", "2026-10-24T12:00:00Z", 2, null, "Europe/Oslo", "2026-10-26T13:00:00Z"],
    // Samoa had no 30 December 2011 (IANA tzdata, australasia).
    ["a day that a zone left out", "2011-12-30T05:00:00Z", 1, "07:30", "Pacific/Apia", "2011-12-30T17:30:00Z"],
  ])("%s", (_, from, afterDays, at, zone, due) => {
    expect(
      new Date(nextDue(ms(from), { afterDays, atMinute: at === null ? null : minutes(at) }, zone)).toISOString(),
    ).toBe(new Date(due).toISOString())
  })

  it("agrees with an independent date library with tables of its own, over every zone's clock changes of 2024–2027", () => {
    const apart = new Map<string, string>()
    let compared = 0
    const zones = Intl.supportedValuesOf("timeZone").filter((z) => moment.tz.zone(z))
    for (const zone of zones) {
      const table = moment.tz.zone(zone)!
      const changes = table.untils.filter(
        (u) => u !== null && u > ms("2024-01-01T00:00:00Z") && u < ms("2028-01-01T00:00:00Z"),
      )
      for (const change of [...changes, ms("2025-06-15T10:00:00Z")]) {
        if (!sameTables(zone, change)) {
          apart.set(zone, new Date(change).toISOString())
          continue
        }
        for (const hours of [-30, -20]) {
          const from = change + hours * 3_600_000
          for (const at of ["00:00", "01:30", "02:00", "02:30", "03:15", "23:45"]) {
            const ours = nextDue(from, { afterDays: 1, atMinute: minutes(at) }, zone)
            const day = moment.tz(from, zone).add(1, "day").format("YYYY-MM-DD")
            const theirs = moment.tz(`${day} ${at}`, "YYYY-MM-DD HH:mm", zone).valueOf()
            compared++
            if (ours !== theirs)
              expect({ zone, from: new Date(from).toISOString(), at, due: new Date(ours).toISOString() }).toEqual({
                zone,
                from: new Date(from).toISOString(),
                at,
                due: new Date(theirs).toISOString(),
              })
          }
        }
      }
    }
    if (apart.size)
      console.log(
        `Zone tables differ, not compared: ${[...apart].map(([z, at]) => `${z} (${at.slice(0, 10)})`).join(", ")}`,
      )
    expect(zones.length).toBeGreaterThan(300)
    expect(compared).toBeGreaterThan(10_000)
  })

  it("never goes back, and never more than a day and the gap beyond the days asked for", () => {
    const zones = [
      "Europe/Oslo",
      "America/St_Johns",
      "Asia/Kathmandu",
      "Australia/Lord_Howe",
      "Pacific/Chatham",
      "Africa/Casablanca",
      "America/Nuuk",
      "UTC",
    ]
    fc.assert(
      fc.property(
        fc.integer({ min: ms("2024-01-01"), max: ms("2028-01-01") }),
        fc.nat(30),
        fc.option(fc.nat(1439)),
        fc.constantFrom(...zones),
        (from, afterDays, atMinute, zone) => {
          const due = nextDue(from, { afterDays, atMinute }, zone)
          expect(due).toBeGreaterThanOrEqual(from)
          expect(due - from).toBeLessThanOrEqual((afterDays + 1) * 86_400_000 + 2 * 3_600_000)
        },
      ),
      { seed: 3, numRuns: 2000 },
    )
  })
})

/** Whether this machine's zone table and the library's give the same offsets in the three days around. */
function sameTables(zone: string, around: number): boolean {
  const format = new Intl.DateTimeFormat("en-GB", {
    timeZone: zone,
    hour: "2-digit",
    minute: "2-digit",
    day: "2-digit",
    hourCycle: "h23",
  })
  for (let h = -40; h <= 40; h += 0.5) {
    const at = around + h * 3_600_000
    const parts = Object.fromEntries(format.formatToParts(at).map((p) => [p.type, p.value]))
    if (`${parts.day} ${parts.hour}:${parts.minute}` !== moment.tz(at, zone).format("DD HH:mm")) return false
  }
  return true
}

describe("knownZone", () => {
  it.each([
    ["Europe/Oslo", "Europe/Oslo"],
    ["Mars/Olympus", "UTC"],
    ["", "UTC"],
    ["../../etc", "UTC"],
    ["<b>", "UTC"],
    ["Europe/Oslo\r\nX: y", "UTC"],
  ])("%j is %s", (typed, zone) => {
    expect(knownZone(typed, "UTC")).toBe(zone)
  })
})
