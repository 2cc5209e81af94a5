// Dates to choose from and the seat that somebody has, as a page shows them.
import { XMLValidator } from "fast-xml-parser"
import { describe, expect, it } from "vitest"
import * as dates from "./dates"

const at = Date.parse("2026-12-02T18:30:00Z")
const day = 86_400_000
const datesHtml = (v: Parameters<typeof dates.datesHtml>[0]) => dates.datesHtml(v).text
const momentHtml = (at: number, zone: string) => dates.momentHtml(at, zone).text
const seatHtml = (v: Parameters<typeof dates.seatHtml>[0]) => dates.seatHtml(v).text
const wellFormed = (html: string) =>
  XMLValidator.validate(
    `<x>${html.replace(/<(input|br)([^>]*)>/g, "<$1$2/>").replace(/ (required|checked|disabled|data-asks)(?=[ />])/g, ' $1=""')}</x>`,
  )

describe("dates to choose from", () => {
  const choices = [
    { value: "1", at, left: 0 },
    { value: "2", at: at + day, left: 3 },
    { value: "3", at: at + 2 * day, left: null },
  ]
  const html = (more: object = {}) =>
    datesHtml({ dates: choices, chosen: null, zone: "Europe/Oslo", asks: false, replayDays: 3, ...more })
  const radios = (text: string) => [...text.matchAll(/<input type="radio"[^>]*>/g)].map((m) => m[0])

  it("have the first free one chosen; one that is full can't be", () => {
    const [full, few, many] = radios(html())
    expect(full).toContain(" disabled")
    expect(full).not.toContain(" checked")
    expect(few).toContain(" checked")
    expect(many).not.toContain(" checked")
    expect(wellFormed(html())).toBe(true)
  })

  it("keep what was chosen, unless it has filled up meanwhile or is none of them", () => {
    expect(radios(html({ chosen: "3" }))[2]).toContain(" checked")
    for (const chosen of ["1", "99", '"><script>']) expect(radios(html({ chosen }))[1]).toContain(" checked")
    expect(html({ chosen: '"><script>' })).not.toContain("<script>")
  })

  it("are said in the zone that is named, with their instant for browsers", () => {
    expect(momentHtml(at, "Europe/Oslo")).toBe(
      `<time datetime="2026-12-02T18:30:00.000Z">${momentHtml(at, "Europe/Oslo").match(/>([^<]+)</)![1]}</time>`,
    )
    expect(momentHtml(at, "Europe/Oslo")).toContain("19:30")
    // Half past seven in the evening in Oslo is past midnight in Tokyo, of the next day.
    expect(momentHtml(at, "Asia/Tokyo")).toMatch(/Thursday.*03:30/)
  })

  it("say so where there are none, and where everything is full nothing is chosen", () => {
    expect(html({ dates: [] })).not.toContain("<input")
    expect(html({ dates: [choices[0]] })).not.toContain(" checked")
  })

  it("ask for other dates where they depend on the zone", () => {
    expect(html({ asks: true })).toContain("data-asks")
    expect(html()).not.toContain("data-asks")
  })
})

describe("a seat", () => {
  const seat = {
    at,
    zone: "Europe/Oslo",
    minutes: 60,
    calledOff: false,
    theirs: { room: "/room/1?a=1&b=2", calendar: "/calendar/1" },
  }

  it("shows the way into the room only to who has proved to be the one", () => {
    expect(seatHtml(seat)).toContain('href="/room/1?a=1&amp;b=2"')
    const stranger = seatHtml({ ...seat, theirs: null })
    expect(stranger).not.toContain("/room/")
    expect(stranger).not.toContain("/calendar/")
    for (const html of [seatHtml(seat), stranger]) expect(wellFormed(html)).toBe(true)
  })

  it("shows no way in once it is called off, whoever looks", () => {
    expect(seatHtml({ ...seat, calledOff: true })).not.toContain("href=")
  })
})

// schema.org/Event as search engines ask for it: name, startDate, location; online ones have a VirtualLocation with its address.
it("each date is an event for programs that read; a webinar that begins whenever it suits is none", () => {
  const at = Date.parse("2026-12-03T18:00:00Z")
  const event = { name: "Why </script> brine", about: "", minutes: 60, url: "https://x.example/brine", school: "J" }
  const v = {
    dates: [{ value: "1", at, left: null }],
    chosen: null,
    zone: "Europe/Oslo",
    asks: false,
    replayDays: null,
  }
  const found = /<script type="application\/ld\+json">(.*?)<\/script>/.exec(datesHtml({ ...v, event }))!
  expect(JSON.parse(found[1]!)).toEqual([
    expect.objectContaining({
      "@type": "Event",
      name: event.name,
      startDate: "2026-12-03T18:00:00.000Z",
      endDate: "2026-12-03T19:00:00.000Z",
      location: { "@type": "VirtualLocation", url: event.url },
    }),
  ])
  expect(datesHtml(v)).not.toContain("ld+json")
})
