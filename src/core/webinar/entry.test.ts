// Calendar entries read back by ical.js, in every zone, on both sides of its clock changes 2026 to 2029; the method, UID and SEQUENCE
// that RFC 5546 wants, and text that RFC 5545 escapes.
import ICAL from "ical.js"
import { describe, expect, it } from "vitest"
import { entryText, type WebinarEntry } from "./entry"

const entry = (over: Partial<WebinarEntry> = {}): WebinarEntry => ({
  uid: "seat-7@crock.example",
  sequence: 0,
  title: "Why brine goes cloudy",
  promise: "See which clouds are good",
  start: Date.parse("2026-12-03T18:00:00Z"),
  minutes: 60,
  zone: "Europe/Oslo",
  url: "https://crock.example/room/abc",
  organiser: { name: "Maren Solvik", email: "maren@crock.example" },
  attendee: { name: "Ines", email: "ines@post.example" },
  at: Date.parse("2026-11-26T08:00:00Z"),
  ...over,
})

function readBack(text: string) {
  const calendar = new ICAL.Component(ICAL.parse(text))
  const event = calendar.getFirstSubcomponent("vevent")!
  const zone = calendar.getFirstSubcomponent("vtimezone")
  if (zone) ICAL.TimezoneService.register(zone)
  return { calendar, event: new ICAL.Event(event), raw: event, zone }
}

const utc = (time: ICAL.Time) => time.convertToZone(ICAL.Timezone.utcTimezone).toString()

describe("an entry", () => {
  it("is asked for, changed and cancelled under one UID (RFC 5546, 3.2.2 and 3.2.5)", () => {
    const [asked, changed, cancelled] = [
      readBack(entryText(entry(), "request")),
      readBack(entryText(entry({ sequence: 1, start: Date.parse("2026-12-04T18:00:00Z") }), "request")),
      readBack(entryText(entry({ sequence: 2 }), "cancel")),
    ]
    expect([asked, changed, cancelled].map((x) => x.event.uid)).toEqual(Array(3).fill("seat-7@crock.example"))
    expect([asked, changed, cancelled].map((x) => x.event.sequence)).toEqual([0, 1, 2])
    expect([asked, cancelled].map((x) => x.calendar.getFirstPropertyValue("method"))).toEqual(["REQUEST", "CANCEL"])
    expect([asked, cancelled].map((x) => x.raw.getFirstPropertyValue("status"))).toEqual(["CONFIRMED", "CANCELLED"])
    expect(String(asked.raw.getFirstPropertyValue("organizer")).toLowerCase()).toBe("mailto:maren@crock.example")
    expect(String(asked.raw.getFirstPropertyValue("attendee")).toLowerCase()).toBe("mailto:ines@post.example")
    expect(utc(changed.event.startDate)).toBe("2026-12-04T18:00:00Z")
    expect(utc(changed.event.endDate)).toBe("2026-12-04T19:00:00Z")
  })

  it("is a file without an attendee where it is published", () => {
    const { calendar, raw } = readBack(entryText(entry(), "publish"))
    expect(calendar.getFirstPropertyValue("method")).toBe("PUBLISH")
    expect(raw.getFirstProperty("attendee")).toBeNull()
  })

  it("keeps commas, semicolons, line breaks and what would be a line of its own as text (RFC 5545, 3.3.11)", () => {
    const title = "Brine; clouds, and\nEND:VCALENDAR \\ more"
    const { event, calendar } = readBack(
      entryText(entry({ title, attendee: { name: 'A "b"; c\r\nX:1', email: "a@b.example" } }), "request"),
    )
    expect(event.summary).toBe(title)
    expect(calendar.getAllSubcomponents("vevent")).toHaveLength(1)
    expect(calendar.getAllProperties("x")).toHaveLength(0)
  })

  it("is the same instant by its zone's own block, in every zone", () => {
    let withBlock = 0
    for (const zone of [...Intl.supportedValuesOf("timeZone"), "UTC"])
      for (const start of ["2026-07-15T09:30:00Z", "2027-03-29T06:00:00Z", "2029-05-01T20:15:00Z"]) {
        const back = readBack(entryText(entry({ zone, start: Date.parse(start) }), "publish"))
        if (back.zone) withBlock++
        expect([zone, utc(back.event.startDate)]).toEqual([zone, start])
        ICAL.TimezoneService.reset()
      }
    expect(withBlock).toBeGreaterThan(1000)
  })
})
