// What Today says of the webinars of the next seven days before it goes wrong: each trouble made, told, and mended.
import { afterAll, beforeAll, expect, it } from "vitest"
import { newFunnel } from "@/server/funnel/new-funnel"
import { publishFunnel, unpublishFunnel } from "@/server/funnel/release"
import { makeCoupon } from "@/server/offer/coupon"
import { nextDate, webinarTroubles } from "@/server/webinar/ahead"
import { listDates } from "@/server/webinar/dates"
import { newWebinarOf, saveWebinar } from "@/server/webinar/webinar"
import { filmOf } from "../support/film"
import { openShop, type Shop } from "../support/shop"

let shop: Shop
let webinar: number
let funnel: number
let set: Record<string, unknown>
const day = 86_400_000
const s = () => shop.t.s
const said = async () => (await webinarTroubles(s())).map((x) => x.words)
const when = "Thursday 3 December at 19:00"

async function change(more: Record<string, unknown>) {
  set = { ...set, ...more }
  expect(await saveWebinar(s(), webinar, set)).toHaveProperty("value")
}

beforeAll(async () => {
  shop = await openShop("webinar_ahead")
  // Live on Thursday 3 December at seven in the evening in Oslo; now it is the 30th of November.
  shop.t.set("2026-11-30T09:00:00Z")
  const made = await newWebinarOf(s(), "Why brine goes cloudy")
  if ("refused" in made) throw new Error(made.refused)
  webinar = made.id
  set = {
    zone: "Europe/Oslo",
    host: "Maren",
    recording: await filmOf(shop.t.s),
    offer: shop.offers.main,
    offerMinute: 40,
    replayDays: null,
    when: { kind: "dates", dates: [{ date: "2026-12-03", at: 19 * 60 }] },
  }
  await change({})
})
afterAll(() => shop.end())

it("nobody can register while no page is live, and can once one is", async () => {
  expect(await said()).toEqual([
    expect.stringMatching(/^Nobody can register for “Why brine goes cloudy” on .*: no page for it is live\.$/),
  ])
  const asked = await newFunnel(s(), { goal: "fill-webinar", webinar })
  if ("refused" in asked) throw new Error(asked.refused)
  funnel = asked.funnel
  expect(await publishFunnel(s(), funnel, true)).not.toHaveProperty("refused")
  expect(await said()).toEqual([])
})

it("one that is held live wants a meeting service", async () => {
  const film = set.recording
  await change({ recording: null })
  const [trouble] = await webinarTroubles(s())
  expect(trouble!.words).toContain("no meeting service is connected")
  expect(trouble!.words).toContain(when.slice(0, 8))
  expect(trouble!.href).toBe(`/studio/calendar/webinars/${webinar}`)
  await change({ recording: film })
  expect(await said()).toEqual([])
})

it("an offer that can't be had when it is shown is told, by the minute at which it is shown", async () => {
  const shown = Date.parse("2026-12-03T18:40:00Z")
  const until = (at: number | null) =>
    s().db.write("UPDATE offer SET until_at = ? WHERE id = ?", [at && new Date(at), shop.offers.main])
  await until(shown)
  expect(await said()).toEqual([expect.stringContaining("leads to an offer that can't be had when it is shown")])
  await until(shown + 60_000)
  expect(await said()).toEqual([])
  await until(null)
})

it("a coupon that is over before the end that whoever has a seat is told", async () => {
  const coupon = await makeCoupon(s(), {
    code: "BRINE",
    givenOut: "the webinar",
    kind: "percent",
    value: 2_000,
    currency: null,
    on: "all",
    offers: [shop.offers.main],
    from: null,
    until: null,
    usesInAll: null,
    usesPerPerson: null,
  })
  if ("refused" in coupon) throw new Error(coupon.refused)
  await change({ deal: { coupon: coupon.id, days: 3 } })
  expect(await said()).toEqual([])
  const until = (at: number) => s().db.write("UPDATE coupon SET until_at = ? WHERE id = ?", [new Date(at), coupon.id])
  await until(Date.parse("2026-12-03T18:00:00Z") + 2 * day)
  expect(await said()).toEqual([expect.stringMatching(/^The coupon of “Why brine goes cloudy” on .* is over before/)])
  await until(Date.parse("2026-12-20T00:00:00Z"))
  expect(await said()).toEqual([])
  await change({ deal: null })
})

it("the next one is told with how many have a seat; one that is called off, or past, is none", async () => {
  const [date] = await listDates(s(), webinar, "to-come")
  expect(await nextDate(s())).toMatchObject({ webinar, date: date!.id, title: "Why brine goes cloudy", registered: 0 })
  await s().db.write("UPDATE webinar_date SET called_off_at = NOW() WHERE id = ?", [date!.id])
  expect(await nextDate(s())).toBeNull()
  expect(await said()).toEqual([])
  await s().db.write("UPDATE webinar_date SET called_off_at = NULL WHERE id = ?", [date!.id])
})

it("it looks seven days ahead, and not further", async () => {
  await unpublishFunnel(s(), funnel)
  expect((await said()).length).toBe(1)
  shop.t.set("2026-11-26T17:59:00Z")
  expect(await said()).toEqual([])
  shop.t.set("2026-11-26T18:01:00Z")
  expect((await said()).length).toBe(1)
  shop.t.set("2026-12-03T18:01:00Z")
  expect(await said()).toEqual([])
})
