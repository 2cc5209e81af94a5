// A block for those whom a segment finds, and one for everybody else: what isn't for a visitor is not in their page.
import { afterAll, beforeAll, expect, test } from "vitest"
import { changePage } from "@/core/funnel/edit"
import { readPage } from "@/core/page/document"
import { change } from "@/server/funnel/change"
import { publishFunnel } from "@/server/funnel/release"
import { makeCoupon } from "@/server/offer/coupon"
import { newSegment, removeSegment, saveSegment } from "@/server/person/segment"
import { beginSession, couponCookie, sessionCookie } from "@/server/person/session"
import { openFront, type TestFront } from "../support/front"
import { buy, openShop, reread, type Shop } from "../support/shop"

let shop: Shop
let front: TestFront
let segment: number
beforeAll(async () => {
  shop = await openShop("seen_by")
  const { s } = shop.t
  const made = await newSegment(s, "Buyers of the year")
  if (!("id" in made)) throw new Error(JSON.stringify(made))
  segment = made.id
  const parts = [{ kind: "bought", offer: shop.offers.main, has: true, days: null }]
  await saveSegment(s, segment, { question: { match: "all", parts } })
  const text = (id: string, says: string, are?: boolean) => ({
    id,
    kind: "text" as const,
    html: `<p>${says}</p>`,
    ...(are === undefined ? {} : { seenBy: { segment, are } }),
  })
  const faq = {
    id: "q",
    kind: "questions" as const,
    title: "Asked",
    items: [{ asks: "Mine already?", says: "Yes, yours." }],
  }
  const blocks = [
    text("a", "For everybody"),
    text("b", "Welcome back", true),
    {
      id: "c",
      kind: "section",
      tone: "tinted",
      seenBy: { segment, are: false },
      blocks: [text("d", "Not yet yours"), { id: "p", kind: "price", offer: shop.offers.main }],
    },
    { ...faq, seenBy: { segment, are: true } },
    { id: "e", kind: "countdown", offer: shop.offers.main, pieces: false, end: "price" },
  ]
  const changed = await change(s, {
    of: { step: shop.step.sales },
    change: (f) => changePage(f, shop.step.sales, readPage({ version: 1, title: "A Year", blocks })),
  })
  expect(changed).toEqual({ ok: true })
  const done = await publishFunnel(s, shop.funnel, true)
  if ("refused" in done) throw new Error(done.refused)
  front = await openFront(s)
})
afterAll(async () => {
  await front.stop()
  await shop.end()
})

const signedIn = async (person: number) => {
  const { db, config } = shop.t.s
  return { cookie: `${sessionCookie(config, "learn")}=${await beginSession(db, "learn", person)}` }
}
const seen = async (headers: Record<string, string> = {}) => {
  const res = await front.get("/a-year", headers)
  expect(res.headers.get("cache-control")).toBe("no-store")
  return res.text()
}

test("it stands in the page of those alone whom it is for, with the parts that it holds", async () => {
  const { order } = await buy(shop, "fine")
  const buyer = (await reread(shop, order)).person_id!
  const theirs = await seen(await signedIn(buyer))
  expect(theirs).toContain("For everybody")
  expect(theirs).toContain("Welcome back")
  expect(theirs).toContain("Yes, yours.")
  expect(theirs).not.toContain("Not yet yours")
  expect(theirs).not.toContain('class="price"')
  const nobody = await seen()
  expect(nobody).toContain("For everybody")
  expect(nobody).toContain("Not yet yours")
  expect(nobody).toContain('class="price"')
  expect(nobody).not.toContain("Welcome back")
  // Nor in what programs are told.
  expect(nobody).not.toContain("yours.")
})

test("the end of a lower price is told to whoever has one by their link, while it lasts", async () => {
  const until = shop.t.at() + 86_400_000
  const code = { code: "DAY", givenOut: "a letter", kind: "percent", value: 1_000, currency: null, on: "all" }
  const none = { from: null, usesInAll: null, usesPerPerson: null }
  expect(await makeCoupon(shop.t.s, { ...code, ...none, offers: [], until })).toHaveProperty("id")
  const by = async (query: string) => (await front.get(`/a-year${query}`)).text()
  const told = await by("?coupon=day")
  expect(told).toContain(`data-ends="${until}"`)
  expect(told).toContain("Your lower price is there until ")
  const kept = { cookie: `${couponCookie(shop.t.s.config)}=DAY` }
  expect(await seen(kept)).toContain(`data-ends="${until}"`)
  for (const other of ["", "?coupon=NIGHT", "?coupon=%25"]) expect(await by(other), other).not.toContain('data-ends="')
  expect(await seen({ cookie: `${couponCookie(shop.t.s.config)}=%E0%A4%A` })).not.toContain('data-ends="')
  const was = shop.t.at()
  shop.t.set(until)
  expect(await by("?coupon=day")).not.toContain('data-ends="')
  shop.t.set(was)
})

test("a device that an order lets in has proved nothing: it sees what somebody unknown sees", async () => {
  const { order, visitor } = await buy(shop, "fine", { email: "bo@post.example" })
  expect((await reread(shop, order)).person_id).not.toBeNull()
  expect(await seen({ cookie: `heron_test_v=${visitor.toString("base64url")}` })).not.toContain("Welcome back")
})

test("whoever has done nothing is somebody who hasn't bought; a segment that a block is for can't be removed", async () => {
  const parts = [{ kind: "bought", offer: shop.offers.main, has: false, days: null }]
  await saveSegment(shop.t.s, segment, { question: { match: "all", parts } })
  expect(await seen()).toContain("Welcome back")
  expect(await removeSegment(shop.t.s, segment)).toHaveProperty("refused")
})
