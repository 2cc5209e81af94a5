// What two windows save, what is brought back, what is given out as files, and counts that are kept.
import Papa from "papaparse"
import { afterAll, beforeAll, describe, expect, it } from "vitest"
import { readCourse, saveCourse } from "@/server/course/course"
import { bringBack, publishFunnel, releasesOf, unpublishFunnel } from "@/server/funnel/release"
import { myOrders } from "@/server/ledger/my-orders"
import { exportCharges } from "@/server/ledger/orders"
import { changeCoupon, couponByCode, endCoupon, makeCoupon } from "@/server/offer/coupon"
import { type Counted, countsOf, rollTally } from "@/server/tally"
import { buy, openShop, type Shop } from "../support/shop"

let shop: Shop
beforeAll(async () => {
  shop = await openShop("shared")
})
afterAll(() => shop.end())
const s = () => shop.t.s

describe("a course open in two windows", () => {
  const read = async () => {
    const { course } = (await readCourse(s().db, shop.course))!
    return {
      revision: course.revision,
      value: {
        course: course.id,
        title: course.title,
        promise: course.promise,
        teacher: course.teacher,
        picture: course.picture_id,
        state: course.state,
      },
    }
  }
  it("has both changes where they touch different fields", async () => {
    const before = await read()
    await saveCourse(s(), { ...before.value, title: "A Whole Year" }, before)
    const second = await saveCourse(s(), { ...before.value, promise: "Twelve crocks" }, before)
    expect(second).toMatchObject({ value: { title: "A Whole Year", promise: "Twelve crocks" } })
    expect((await read()).value).toMatchObject({ title: "A Whole Year", promise: "Twelve crocks" })
  })
  it("keeps what stands where both changed the same, and says so", async () => {
    const before = await read()
    await saveCourse(s(), { ...before.value, title: "Hers" }, before)
    const clash = await saveCourse(s(), { ...before.value, title: "His", teacher: "Ines" }, before)
    expect(clash).toMatchObject({ clash: ["title"], theirs: { title: "Hers" } })
    expect((await read()).value).toMatchObject({ title: "Hers", teacher: "Maren" })
  })
})

describe("an earlier release", () => {
  it("is what visitors get again, and not if its addresses are taken", async () => {
    await s().db.write("UPDATE step SET name = 'Changed' WHERE id = ?", [shop.step.sales])
    const second = await publishFunnel(s(), shop.funnel, true)
    expect(second).toMatchObject({ number: 2 })
    expect(await bringBack(s(), shop.funnel, shop.release)).toEqual({ number: 1 })
    expect((await releasesOf(s().db, shop.funnel)).map((r) => [r.number, r.live])).toEqual([
      [2, false],
      [1, true],
    ])
    const page = await s().db.row<{ release_id: number }>("SELECT release_id FROM live_page WHERE step_id = ?", [
      shop.step.checkout,
    ])
    expect(page?.release_id).toBe(shop.release)
    expect(await bringBack(s(), shop.funnel, 9_999)).toMatchObject({ refused: expect.any(String) })
    await unpublishFunnel(s(), shop.funnel)
    expect(await s().db.rows("SELECT path FROM live_page WHERE funnel_id = ?", [shop.funnel])).toEqual([])
    expect(await bringBack(s(), shop.funnel, shop.release)).toEqual({ number: 1 })
  })
})

describe("a coupon", () => {
  const coupon = {
    code: "SPRING",
    givenOut: "the letter",
    kind: "percent",
    value: 1_000,
    currency: null,
    on: "first",
    offers: [] as number[],
    from: null,
    until: null as number | null,
    usesInAll: null,
    usesPerPerson: null,
  }
  it("is changed, ends, and gives its code up once it is over", async () => {
    const made = (await makeCoupon(s(), coupon)) as { id: number }
    expect(await makeCoupon(s(), coupon)).toMatchObject({ field: "code" })
    expect(await changeCoupon(s(), made.id, { ...coupon, value: 2_000 })).toMatchObject({ ok: true })
    expect(await couponByCode(s().db, "s-p-r-i-n-g")).toMatchObject({ id: made.id, discount: { value: 2_000 } })
    await endCoupon(s(), made.id)
    const again = (await makeCoupon(s(), coupon)) as { id: number }
    expect(again.id).not.toBe(made.id)
    expect((await couponByCode(s().db, "SPRING"))?.id).toBe(again.id)
    // The old one, prolonged, would want its code back.
    const later = (await s().clock.now()) + 86_400_000
    expect(await changeCoupon(s(), made.id, { ...coupon, until: later })).toMatchObject({ field: "code" })
  })
  it("can't end in the past", async () => {
    const ago = (await s().clock.now()) - 1_000
    expect(await makeCoupon(s(), { ...coupon, code: "LATE", until: ago })).toMatchObject({ field: "until" })
  })
})

describe("charges and orders", () => {
  it("are a file with each charge once, and the buyer's own list", async () => {
    const one = await buy(shop, "fine", { email: "file@post.example", name: "=1+1" })
    await buy(shop, "fine", { email: "other@post.example" })
    let text = ""
    for await (const part of exportCharges(s().db, { search: "file@post", state: null, offer: null, post: false }))
      text += part
    const { data } = Papa.parse<Record<string, string>>(text.replace(/^\uFEFF/, ""), {
      header: true,
      skipEmptyLines: true,
    })
    expect(data).toHaveLength(1)
    expect(data[0]).toMatchObject({
      order: String(one.order.id),
      name: "'=1+1",
      currency: "EUR",
      net: "232.00",
      tax: "58.00",
      gross: "290.00",
      refunded: "0.00",
      state: "succeeded",
    })
    const mine = await myOrders(s().db, { person: one.order.person_id!, scope: null })
    expect(mine.map((o) => o.id)).toEqual([one.order.id])
  })
})

describe("counts that are kept", () => {
  const counted: readonly [Counted, string][] = [
    [
      "people",
      "SELECT 0 AS about, DATE_FORMAT(joined_at, '%Y-%m-%d') AS part, COUNT(*) AS n FROM person GROUP BY part",
    ],
    ["orders", "SELECT 0 AS about, state AS part, COUNT(*) AS n FROM orders GROUP BY state"],
    [
      "learners",
      "SELECT course_id AS about, '' AS part, COUNT(DISTINCT person_id) AS n FROM admission WHERE course_id IS NOT NULL GROUP BY course_id",
    ],
    [
      "sold",
      "SELECT l.offer_id AS about, '' AS part, COUNT(*) AS n FROM order_line l JOIN orders o ON o.id = l.order_id WHERE o.state = 'paid' GROUP BY l.offer_id",
    ],
    ["plans", "SELECT 0 AS about, state AS part, COUNT(*) AS n FROM plan GROUP BY state"],
    [
      "running",
      "SELECT sequence_id AS about, '' AS part, SUM(ended_at IS NULL) AS n FROM enrolment GROUP BY sequence_id",
    ],
  ]
  it.each(counted)("%s are what counting gives, before and after they are summed", async (what, sql) => {
    await buy(shop, "refused")
    await buy(shop, "fine")
    const key = (r: { about: number; part: string; n: number | string }) => `${r.about}|${r.part}|${Number(r.n)}`
    const wanted = (await s().db.rows<{ about: number; part: string; n: string }>(sql))
      .map(key)
      .filter((k) => !k.endsWith("|0"))
    const kept = async () => (await countsOf(s().db, what)).map(key).filter((k) => !k.endsWith("|0"))
    expect((await kept()).sort()).toEqual(wanted.sort())
    while (await rollTally(s()));
    expect((await kept()).sort()).toEqual(wanted.sort())
  })
})
