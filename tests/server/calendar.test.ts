// The school's calendar: what has a date stands in it, can be moved, and is read from outside by whoever has the address.
import ICAL from "ical.js"
import { afterAll, beforeAll, describe, expect, it } from "vitest"
import { type FrontServer, frontServer } from "@/front/server"
import { newBroadcast, saveBroadcast } from "@/server/broadcast/store"
import { entriesBetween } from "@/server/calendar/entries"
import { feedAddress, newFeedAddress } from "@/server/calendar/feed"
import { moveEntry, whatMoves } from "@/server/calendar/move"
import { makeCoupon } from "@/server/offer/coupon"
import { makePerson } from "@/server/person/person"
import { listDates } from "@/server/webinar/dates"
import { takeSeat } from "@/server/webinar/seat"
import { newWebinarOf, saveWebinar } from "@/server/webinar/webinar"
import { thatTuesday } from "../support/school"
import { offer, openShop, type Shop, saved } from "../support/shop"

let shop: Shop
let web: FrontServer
let origin: string
let date: number
let sale: number
const zone = "Europe/Oslo"
const december = { from: Date.parse("2026-11-30T23:00:00Z"), to: Date.parse("2026-12-31T23:00:00Z") }
const s = () => shop.t.s
const month = () => entriesBetween(s(), december.from, december.to, zone)
const shown = async () => (await month()).map((e) => [e.kind, e.title, new Date(e.at).toISOString(), e.movable])

beforeAll(async () => {
  shop = await openShop("calendar", { start: thatTuesday })
  const made = await newWebinarOf(s(), "Why brine goes cloudy")
  if ("refused" in made) throw new Error(made.refused)
  await saveWebinar(s(), made.id, {
    zone: "America/New_York",
    when: { kind: "dates", dates: [{ date: "2026-12-03", at: 13 * 60 }] },
  })
  date = (await listDates(s(), made.id, "to-come"))[0]!.id
  sale = await saved(
    shop.t,
    offer("Advent jar", [{ kind: "full", amount: 1_900 }], {
      gifts: [{ kind: "course", course: shop.course }],
      from: Date.parse("2026-12-01T08:00:00Z"),
      until: Date.parse("2026-12-24T17:00:00Z"),
    }),
  )
  const coupon = await makeCoupon(s(), {
    code: "STJERNE",
    givenOut: "advent letter",
    kind: "percent",
    value: 1_000,
    currency: null,
    on: "first",
    offers: [],
    from: null,
    until: Date.parse("2026-12-20T22:59:00Z"),
    usesInAll: null,
    usesPerPerson: null,
  })
  expect(coupon).toHaveProperty("ok")
  const letter = await newBroadcast(s(), "December letter")
  if ("refused" in letter) throw new Error(letter.refused)
  const row = await s().db.row<{ document: string }>("SELECT document FROM broadcast WHERE id = ?", [letter.id])
  await saveBroadcast(s(), letter.id, {
    document: { ...JSON.parse(row!.document), when: { date: "2026-12-05", at: 450, where: "school" } },
  })
  await s().db.write(
    `UPDATE lesson SET opens = '{"kind":"on-date","date":"2026-12-06","at":"06:00"}' WHERE course_id = ?`,
    [shop.course],
  )
  web = frontServer(s(), async (_, res) => void res.end("next"))
  await web.front.live.refresh()
  await new Promise<void>((r) => web.server.listen(0, "127.0.0.1", () => r()))
  origin = `http://127.0.0.1:${(web.server.address() as { port: number }).port}`
})
afterAll(async () => {
  await web.close()
  await shop.end()
})

it("holds everything that has a date, in the order of time", async () => {
  expect(await shown()).toEqual([
    ["offer-from", "Advent jar", "2026-12-01T08:00:00.000Z", true],
    ["webinar", "Why brine goes cloudy", "2026-12-03T18:00:00.000Z", true],
    ["broadcast", "December letter", "2026-12-05T06:30:00.000Z", true],
    ["course", "Lesson 1 opens", "2026-12-06T05:00:00.000Z", false],
    ["coupon-until", "STJERNE", "2026-12-20T22:59:00.000Z", true],
    ["offer-until", "Advent jar", "2026-12-24T17:00:00.000Z", true],
  ])
  // What is past stays where it was.
  expect((await entriesBetween(s(), 0, december.from, zone)).every((e) => !e.movable)).toBe(true)
})

describe("moving", () => {
  it("says first what it changes, and moves a webinar to that hour of the school, wherever its own clock is", async () => {
    const { person } = await s().db.transaction((tx) =>
      makePerson(
        tx,
        {
          canonical: "a@post.example",
          email: "a@post.example",
          name: "Ann",
          zone: "UTC",
          source: "direct",
          confirmed: true,
        },
        shop.t.at(),
      ),
    )
    await s().db.transaction((tx) => takeSeat(tx, date, person, shop.t.at()))
    expect(await whatMoves(s(), { kind: "webinar", id: date })).toMatch(/^1 person has a seat: it moves along/)
    expect(await moveEntry(s(), { kind: "webinar", id: date, day: "2026-12-04", minute: 20 * 60 })).toEqual({
      ok: true,
    })
    expect((await shown())[1]).toEqual(["webinar", "Why brine goes cloudy", "2026-12-04T19:00:00.000Z", true])
    expect(await s().db.row("SELECT COUNT(*) AS n FROM mail WHERE kind = 'seat' AND person_id = ?", [person])).toEqual({
      n: 1,
    })
  })

  it.each([
    ["offer-until", "Advent jar", "2026-12-26", "2026-12-26T11:00:00.000Z"],
    ["offer-from", "Advent jar", "2026-12-02", "2026-12-02T11:00:00.000Z"],
    ["coupon-until", "STJERNE", "2026-12-21", "2026-12-21T11:00:00.000Z"],
    ["broadcast", "December letter", "2026-12-07", "2026-12-07T11:00:00.000Z"],
  ] as const)("moves %s, and leaves the rest of it", async (kind, title, day, at) => {
    const before = await s().db.row("SELECT * FROM offer_terms WHERE offer_id = ?", [sale])
    const entry = (await month()).find((e) => e.kind === kind)!
    expect((await whatMoves(s(), { kind, id: Number(entry.id) }))!.length).toBeGreaterThan(20)
    expect(await moveEntry(s(), { kind, id: Number(entry.id), day, minute: 12 * 60 })).toEqual({ ok: true })
    expect(await shown()).toContainEqual([kind, title, at, true])
    expect(await s().db.row("SELECT * FROM offer_terms WHERE offer_id = ?", [sale])).toEqual(before)
  })

  it("refuses what is over, has the wrong order, or isn't there", async () => {
    const move = (kind: string, id: number, day: string) => moveEntry(s(), { kind, id, day, minute: 0 })
    expect(await move("offer-until", sale, "2026-11-01")).toHaveProperty("refused")
    expect(await move("offer-until", sale, "2026-12-01")).toHaveProperty("refused")
    expect(await move("webinar", date, "2026-11-01")).toHaveProperty("refused")
    expect(await move("webinar", 9_999, "2026-12-10")).toHaveProperty("refused")
    expect(await move("charges", 1, "2026-12-10")).toHaveProperty("refused")
    expect(await whatMoves(s(), { kind: "webinar", id: 9_999 })).toBeNull()
    expect(await moveEntry(s(), { kind: "webinar", id: date, day: "2026-02-31", minute: 0 })).toHaveProperty("refused")
  })
})

describe("from outside", () => {
  const read = async (address: string) => {
    const res = await fetch(address.replace(s().config.origin, origin))
    return { status: res.status, type: res.headers.get("content-type") ?? "", text: await res.text() }
  }

  it("is read as iCalendar by whoever has the address, without anybody's name", async () => {
    expect(await feedAddress(s())).toBeNull()
    await newFeedAddress(s())
    const address = (await feedAddress(s()))!
    const { status, type, text } = await read(address)
    expect([status, type.split(";")[0]]).toEqual([200, "text/calendar"])
    const calendar = new ICAL.Component(ICAL.parse(text))
    const events = calendar.getAllSubcomponents("vevent").map((e) => new ICAL.Event(e))
    const webinar = events.find((e) => e.uid.startsWith("webinar-"))!
    expect(webinar.summary).toBe("Webinar: Why brine goes cloudy")
    expect(webinar.startDate.toJSDate().toISOString()).toBe("2026-12-04T19:00:00.000Z")
    expect(webinar.duration.toSeconds()).toBe(3_600)
    expect(new Set(events.map((e) => e.uid)).size).toBe(events.length)
    // RFC 5545, 3.1: lines end by CRLF and have at most 75 octets.
    expect(text.split("\r\n").every((l) => Buffer.byteLength(l) <= 75)).toBe(true)
    expect(text).not.toContain("a@post.example")
    expect(text).not.toContain("Ann")
  })

  it("is read no more once another address was made, nor by a made-up one", async () => {
    const old = (await feedAddress(s()))!
    await newFeedAddress(s())
    expect((await read(old)).status).toBe(404)
    expect((await read((await feedAddress(s()))!)).status).toBe(200)
    expect((await read(`${s().config.origin}/calendar/school/1.AAAAAAAAAAAAAAAAAAAAAAAAAAA.ics`)).status).toBe(404)
    expect((await read(`${s().config.origin}/calendar/school/.ics`)).status).toBe(404)
  })
})
