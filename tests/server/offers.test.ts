// Offers and their limits: what is refused when one is written, what can be had, for how many, until when, and what of a
// further offer that takes the place of what was bought.
import { afterAll, beforeAll, describe, expect, it } from "vitest"
import type { Terms } from "@/core/offer/terms"
import { publishFunnel } from "@/server/funnel/release"
import { leadOutcome } from "@/server/funnel/steps"
import { acceptOffer, offeredTo } from "@/server/ledger/further"
import type { OrderRow } from "@/server/ledger/order"
import { placeOrder } from "@/server/ledger/place"
import { couponReport, makeCoupon } from "@/server/offer/coupon"
import { alsoToHave, checkoutPathOf } from "@/server/offer/link"
import { listOffers } from "@/server/offer/list"
import { loadOffers, type OfferInput, removeOffer, saveOffer } from "@/server/offer/offer"
import { offerCards } from "@/server/offer/shown"
import { soldIn } from "@/server/offer/sold-in"
import { someVisitor, thatTuesday } from "../support/school"
import { buy, formOf, offer, openShop, type Shop, saved } from "../support/shop"

let shop: Shop
beforeAll(async () => {
  shop = await openShop("offers", { start: thatTuesday })
})
afterAll(() => shop.end())
const s = () => shop.t.s
const from = () => ({ path: "a-year/checkout", ip: "192.0.2.1", visitor: someVisitor(), source: "letter" })
const count = async (sql: string, values: unknown[] = []) =>
  (await s().db.row<{ n: number }>(`SELECT COUNT(*) AS n FROM ${sql}`, values))!.n
const main = (more: Partial<OfferInput> = {}) =>
  offer("A Year", [{ kind: "full", amount: 29_000 }], {
    id: shop.offers.main,
    gifts: [{ kind: "course", course: shop.course }],
    ...more,
  })

describe("an offer is refused", () => {
  const full: Terms[] = [{ kind: "full", amount: 100 }]
  const cases: [string, () => unknown, string][] = [
    ["without a name", () => offer(" ", full), "publicName"],
    ["with a name over two lines", () => offer("A\nB", full), "publicName"],
    ["with a name that is too long", () => offer("x".repeat(121), full), "publicName"],
    ["with a negative amount", () => offer("A", [{ kind: "full", amount: -1 }]), "terms.0.terms.amount"],
    ["with a huge amount", () => offer("A", [{ kind: "full", amount: 1e12 }]), "terms.0.terms.amount"],
    ["with half a cent", () => offer("A", [{ kind: "full", amount: 10.5 }]), "terms.0.terms.amount"],
    ["with an amount of nothing", () => offer("A", [{ kind: "full", amount: 0 }]), "terms.0.terms.amount"],
    ["without terms", () => offer("A", []), "terms"],
    [
      "with nine ways to pay",
      () =>
        offer(
          "A",
          Array.from({ length: 9 }, () => full[0]!),
        ),
      "terms",
    ],
    ["in a currency that is none", () => ({ ...offer("A", full), currency: "XXX" }), "currency"],
    ["ending before it begins", () => offer("A", full, { from: 2_000, until: 1_000 }), "until"],
    ["of no pieces", () => offer("A", full, { pieces: 0 }), "pieces"],
    ["of half a piece", () => offer("A", full, { pieces: 1.5 }), "pieces"],
    [
      "with a parcel that isn't said",
      () => offer("A", full, { gifts: [{ kind: "post", title: " " }] }),
      "gifts.0.title",
    ],
    [
      "holding itself",
      () => offer("A Year", full, { id: shop.offers.main, gifts: [{ kind: "offer", offer: shop.offers.main }] }),
      "gifts",
    ],
  ]
  it.each(cases)("%s", async (_, input, field) => {
    const before = await count("offer")
    expect(await saveOffer(s(), input())).toMatchObject({ refused: expect.stringMatching(/./), field })
    expect(await count("offer")).toBe(before)
  })
  it("when it would hold itself by way of another, and when it is gone", async () => {
    const bundle = await saved(
      shop.t,
      offer("Bundle", full, { gifts: [{ kind: "offer", offer: shop.offers.further }] }),
    )
    expect(
      await saveOffer(s(), offer("Koji", full, { id: shop.offers.further, gifts: [{ kind: "offer", offer: bundle }] })),
    ).toMatchObject({ field: "gifts" })
    expect(await removeOffer(s(), shop.offers.further)).toMatchObject({
      refused: expect.stringContaining("A Year: sale"),
    })
    expect(await removeOffer(s(), bundle)).toEqual({ ok: true, id: bundle })
    expect((await loadOffers(s().db)).has(bundle)).toBe(false)
    expect(await saveOffer(s(), offer("Bundle", full, { id: bundle }))).toMatchObject({
      refused: "This offer is no longer there.",
    })
  })
  it("keeps the numbers of its terms when it is saved again, so that nothing that names them is lost", async () => {
    const made = await saveOffer(s(), offer("Two ways", [{ kind: "full", amount: 100 }, { kind: "free" }]))
    if (!("ok" in made)) throw new Error()
    const [one, two] = made.terms as [number, number]
    const again = await saveOffer(s(), {
      ...offer("Two ways", []),
      id: made.id,
      terms: [
        { id: two, name: "now first", terms: { kind: "free" } },
        { id: one, name: "", terms: { kind: "full", amount: 200 } },
        { id: null, name: "new", terms: { kind: "full", amount: 300 } },
      ],
    })
    expect("terms" in again && again.terms!.slice(0, 2)).toEqual([two, one])
    expect((await loadOffers(s().db)).get(made.id)!.terms.map((t) => t.name)).toEqual(["now first", "", "new"])
  })
})

describe("what can be had", () => {
  it("a few pieces among many buyers at once: exactly those, nobody charged without one", async () => {
    const already = await count("orders WHERE state = 'paid' AND first_id IS NULL")
    await saved(shop.t, main({ pieces: already + 3 }))
    const forms = await Promise.all(Array.from({ length: 24 }, () => formOf(shop, "fine")))
    const placed = await Promise.all(forms.map((f) => placeOrder(s(), f, from())))
    expect(placed.filter((p) => "goTo" in p)).toHaveLength(3)
    expect(placed.filter((p) => "says" in p && /sold out/.test(p.says))).toHaveLength(21)
    expect(await count("orders WHERE state = 'paid' AND first_id IS NULL")).toBe(already + 3)
    expect((await offerCards(s()))[shop.offers.main]).toMatchObject({ open: false, note: "“A Year” is sold out." })
    // A seat that was held is free again once the order is given up.
    const held = await s().db.row<{ id: number }>("SELECT id FROM orders WHERE state = 'paid' ORDER BY id DESC LIMIT 1")
    await s().db.write("UPDATE orders SET state = 'lapsed' WHERE id = ?", [held!.id])
    expect((await offerCards(s()))[shop.offers.main]).toMatchObject({ open: true, note: "One left." })
    await s().db.write("UPDATE orders SET state = 'paid' WHERE id = ?", [held!.id])
    await saved(shop.t, main())
  })
  it("one for a person, and no more", async () => {
    await saved(shop.t, main({ perPerson: 1 }))
    await buy(shop, "fine", { email: "once@post.example" })
    // A mailbox counts, however it is spelt. Whoever has only typed it is answered as if the card had been refused.
    for (const email of ["ONCE@post.example", "once+two@post.example", "once@post.example"]) {
      const { order } = await buy(shop, "fine", { email })
      expect(order).toMatchObject({ state: "refused" })
      const charge = await s().db.row("SELECT state, reason, payment FROM charge WHERE order_id = ?", [order.id])
      expect(charge).toEqual({ state: "refused", reason: "refused", payment: null })
    }
    const other = await buy(shop, "refused", { email: "other@post.example" })
    expect(other.order.state).toBe("refused")
    const expired = await buy(shop, "expired", { email: "once@post.example" })
    const reason = "SELECT reason FROM charge WHERE order_id = ?"
    expect(await s().db.row(reason, [expired.order.id])).toEqual({ reason: "expired" })
    // The owner, signed in, is told why.
    const form = await formOf(shop, "fine", { email: "once@post.example" })
    expect(await placeOrder(s(), form, { ...from(), proved: "once@post.example" })).toMatchObject({
      refused: "form",
      says: "No more of these can be had with this order. Nothing was charged.",
    })
    await saved(shop.t, main())
  })
  it("of what is free, as many as the device has taken: an address that is only typed is told nothing", async () => {
    await saved(shop.t, main({ perPerson: 1, terms: [{ id: null, name: "", terms: { kind: "free" } }] }))
    const take = async (email: string, visitor = someVisitor()) =>
      placeOrder(s(), await formOf(shop, null, { email, again: true }), { ...from(), visitor })
    const mine = someVisitor()
    const had = { refused: "form", says: "No more of these can be had with this order. Nothing was charged." }
    expect(await take("owner@post.example", mine)).toHaveProperty("goTo")
    // A stranger's device gets for the owner's address the answer that any other gets.
    expect(await take("owner@post.example")).toHaveProperty("goTo")
    expect(await take("nobody-yet@post.example")).toHaveProperty("goTo")
    // What this device itself has taken it may be told, under whatever address.
    expect(await take("owner@post.example", mine)).toEqual(had)
    expect(await take("someone@post.example", mine)).toEqual(had)
    // The owner, signed in on a device of theirs, too.
    const signedIn = { ...from(), proved: "owner@post.example" }
    expect(await placeOrder(s(), await formOf(shop, null, { email: "owner@post.example" }), signedIn)).toEqual(had)
    await saved(shop.t, main())
  })
  it("by a coupon that makes it free, no more often on one device, and no word of the address", async () => {
    const made = await makeCoupon(s(), {
      code: "GIFT",
      givenOut: "a letter",
      kind: "percent",
      value: 10_000,
      currency: null,
      on: "all",
      offers: [],
      from: null,
      until: null,
      usesInAll: null,
      usesPerPerson: 1,
    })
    expect(made).toHaveProperty("id")
    const take = async (email: string, visitor = someVisitor()) => {
      const form = await formOf(shop, null, { email: "unknown@post.example", code: "gift" })
      return placeOrder(s(), { ...form, email, again: true }, { ...from(), visitor })
    }
    const mine = someVisitor()
    expect(await take("gifted@post.example", mine)).toHaveProperty("goTo")
    expect(await take("gifted@post.example")).toHaveProperty("goTo")
    expect(await take("another@post.example", mine)).toMatchObject({ refused: "form", codeGone: true })
  })
  it("not before it begins, nor once it is over", async () => {
    const now = shop.t.at()
    await saved(shop.t, main({ from: now + 1 }))
    expect(await placeOrder(s(), await formOf(shop, "fine"), from())).toMatchObject({
      says: "“A Year” can't be had yet.",
    })
    expect(await saveOffer(s(), main({ until: now }))).toMatchObject({ field: "until" })
    await saved(shop.t, main({ until: now + 1 }))
    shop.t.set(now + 1)
    expect(await placeOrder(s(), await formOf(shop, "fine"), from())).toMatchObject({ says: "“A Year” is over." })
    await saved(shop.t, main({ until: now + 86_400_000 }))
    expect((await offerCards(s()))[shop.offers.main]!.note).toBe("Until 25 November 2026.")
    expect(await placeOrder(s(), await formOf(shop, "fine"), from())).toHaveProperty("goTo")
    await saved(shop.t, main())
  })
  it("with an address where something is sent by post", async () => {
    await saved(
      shop.t,
      main({
        gifts: [
          { kind: "course", course: shop.course },
          { kind: "post", title: "A crock" },
        ],
      }),
    )
    expect(await placeOrder(s(), await formOf(shop, "fine", { postal: "here" }), from())).toMatchObject({
      says: expect.stringMatching(/where it is to be sent/),
    })
    const { order } = await buy(shop, "fine", { postal: "4 Mill Bank, 1000 Fernvik" })
    expect(order.state).toBe("paid")
    await saved(shop.t, main())
  })
})

describe("a further offer that takes the place of what was bought", () => {
  it("counts what was paid, charges the difference, and ends what would have gone on", async () => {
    const parts = await openShop("replaces", {
      terms: [{ kind: "instalments", upFront: 0, amount: 7_900, times: 4, every: { unit: "month", count: 1 } }],
      further: [{ kind: "full", amount: 26_000 }],
    })
    await parts.t.s.db.write("UPDATE step SET settings = JSON_SET(settings, '$.replaces', TRUE) WHERE id = ?", [
      parts.step.further,
    ])
    await publishFunnel(parts.t.s, parts.funnel, true)
    const release = (await parts.t.s.db.row<{ id: number }>("SELECT MAX(id) AS id FROM `release`"))!.id
    const { order } = await buy({ ...parts, release }, "fine")
    const offered = await offeredTo(parts.t.s, order, parts.step.further)
    if (!("quote" in offered)) throw new Error(JSON.stringify(offered))
    expect(offered.quote.sentence).toBe("You pay €181.00 today. Tax of 25 % is included.")
    await acceptOffer(parts.t.s, order.code, parts.step.further, offered.quote.seen)
    const further = await parts.t.s.db.row<OrderRow>("SELECT * FROM orders WHERE first_id = ?", [order.id])
    expect(further).toMatchObject({ state: "paid", gross: 18_100 })
    const plan = await parts.t.s.db.row("SELECT state, ended_why FROM plan WHERE order_id = ?", [order.id])
    expect(plan).toEqual({ state: "ended", ended_why: "replaced" })
    await parts.end()
  })
})

describe("where an offer is sold", () => {
  it("is known with its order bumps, and its own link leads to the live checkout", async () => {
    expect((await soldIn(s().db)).map((x) => [x.offer, x.page])).toEqual([
      [shop.offers.main, "A Year"], // its price is shown there
      [shop.offers.main, "A Year"], // and how it is refunded
      [shop.offers.main, "A Year"], // and its price once more, in the bar at the foot of a phone
      [shop.offers.main, "Checkout"],
      [shop.offers.main, "Checkout"], // how it is refunded, below the form
      [shop.offers.further, "Koji"],
      [shop.offers.second, "Clinic"],
    ])
    expect(await checkoutPathOf(s().db, shop.offers.main)).toBe("a-year/checkout")
    expect(await checkoutPathOf(s().db, shop.offers.further)).toBeUndefined()
    const listed = (await listOffers(s())).find((o) => o.id === shop.offers.main)!
    expect(listed).toMatchObject({ gives: ["A Year"], funnels: ["A Year: sale"], note: "" })
    expect(listed.ways).toEqual(["You pay €290.00 today. Tax of 25 % is included."])
  })
  it("is shown to learners who have it not, unless it is hidden; a device that only ordered is shown nothing", async () => {
    const { order } = await buy(shop, "fine")
    const owner = { person: order.person_id!, scope: null }
    expect(await alsoToHave(s(), owner)).toEqual([])
    await s().db.write("UPDATE admission SET until_at = '2020-01-01' WHERE person_id = ?", [order.person_id])
    expect((await alsoToHave(s(), owner)).map((o) => o.name)).toEqual(["A Year"])
    await saved(shop.t, main({ hidden: true }))
    expect(await alsoToHave(s(), owner)).toEqual([])
    expect(await checkoutPathOf(s().db, shop.offers.main)).toBe("a-year/checkout")
    await saved(shop.t, main())
  })
})

it("a coupon's report says what each place sold", async () => {
  await makeCoupon(s(), {
    code: "FAIR",
    givenOut: "the fair",
    kind: "amount",
    value: 4_000,
    currency: "EUR",
    on: "first",
    offers: [shop.offers.main],
    from: null,
    until: null,
    usesInAll: null,
    usesPerPerson: null,
  })
  await buy(shop, "fine", { code: "fair" })
  await buy(shop, "fine", { code: "F-A-I-R" })
  await buy(shop, "refused", { code: "fair" })
  expect((await couponReport(s().db)).find((c) => c.code === "FAIR")).toMatchObject({
    givenOut: "the fair",
    sold: 2,
    money: [{ currency: "EUR", gross: 50_000 }],
  })
})

it("a purchase that would lead in a circle still reaches the welcome page", async () => {
  await leadOutcome(s(), { step: shop.step.second, outcome: "declined", to: shop.step.further })
  await publishFunnel(s(), shop.funnel, true)
  expect(await count("live_page")).toBe(5)
})
