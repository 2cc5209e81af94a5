// Buying, from the form to the open door, with everything that can go wrong in between.
import { afterAll, beforeAll, describe, expect, it } from "vitest"
import { myCourses } from "@/server/course/learn"
import { handleWebhook, recordAnswer, recoverCharges } from "@/server/ledger/charge"
import { acceptOffer, declineOffer, offeredTo } from "@/server/ledger/further"
import type { OrderRow } from "@/server/ledger/order"
import { placeOrder } from "@/server/ledger/place"
import { wayOn } from "@/server/ledger/way-on"
import { sendDue } from "@/server/mail/send"
import { makeCoupon } from "@/server/offer/coupon"
import { admitDevice, admittedOf } from "@/server/person/session"
import { CardsUnreachable } from "@/server/port/cards"
import { wellBehaved } from "@/standins/processor/store"
import { someVisitor, thatTuesday } from "../support/school"
import { askAbout, type Bought, buy, formOf, offer, openShop, reread, type Shop, saved, tokenOf } from "../support/shop"

let shop: Shop
beforeAll(async () => {
  shop = await openShop("buy", { start: thatTuesday })
})
afterAll(() => shop.end())

const db = () => shop.t.s.db
const n = async (sql: string, values: unknown[] = []) =>
  (await db().row<{ n: number }>(`SELECT COUNT(*) AS n FROM ${sql}`, values))!.n
const journal = async (order: number) =>
  Object.fromEntries(
    (
      await db().rows<{ account: string; sum: number }>(
        "SELECT account, SUM(amount) AS sum FROM journal WHERE order_id = ? GROUP BY account",
        [order],
      )
    ).map((r) => [r.account, r.sum]),
  )
const openTo = async (order: OrderRow) =>
  (await myCourses(shop.t.s, { buyer: order.person_id!, scope: String(order.first_id ?? order.id) })).map(
    (c) => c.title,
  )
const seenAt = async (bought: Bought, step: number) => {
  const offered = await offeredTo(shop.t.s, bought.order, step)
  return "quote" in offered ? offered.quote.seen : ""
}
const accept = async (bought: Bought, step: number) =>
  acceptOffer(shop.t.s, bought.order.code, step, await seenAt(bought, step))
const from = (visitor: Buffer = someVisitor()) => ({
  path: "a-year/checkout",
  ip: "192.0.2.1",
  visitor,
  source: "letter",
})

describe("a card that is fine", () => {
  it("opens the course at once, with a receipt and a way in, and books what was paid", async () => {
    const { order, visitor } = await buy(shop, "fine", { email: "Aino@Post.example", name: "Aino" })
    expect(order).toMatchObject({ state: "paid", gross: 29_000, tax: 5_800, net: 23_200 })
    expect(await openTo(order)).toEqual(["A Year"])
    expect(await journal(order.id)).toEqual({ cards: 29_000, income: -23_200, tax: -5_800 })
    await sendDue(shop.t.s, "w")
    const mail = shop.t.sent.find((m) => m.to.address === "Aino@Post.example")!
    expect(mail.subject).toBe(`Receipt ${order.id} from Juniper Crock`)
    for (const text of [
      "€290.00",
      "€232.00 and €58.00 tax (25 %)",
      "JUNIPER CROCK",
      "/way-in/",
      "You paid €290.00 on 24 November 2026.",
    ])
      expect(mail.text).toContain(text)
    // This device is let into what was bought, and nothing else the address may own.
    const token = (await admitDevice(db(), undefined, { person: order.person_id!, order: order.id }))!
    expect(await admittedOf(db(), token)).toEqual({ buyer: order.person_id, scope: String(order.id) })
    expect(await admitDevice(db(), token, { person: order.person_id!, order: order.id })).toBeNull()
    await db().write(
      "INSERT INTO admission (person_id, course_id, origin, from_at) VALUES (?, ?, 'funnel:99', '2020-01-01')",
      [order.person_id, shop.extra],
    )
    expect(await openTo(order)).toEqual(["A Year"])
    expect((await myCourses(shop.t.s, { person: order.person_id!, scope: null })).length).toBe(2)
    const way = await db().rows<{ step_id: number; outcome: string; money: number }>(
      "SELECT step_id, outcome, money FROM fact WHERE visitor = ? AND kind = 'arrived' ORDER BY id",
      [visitor],
    )
    // They own Koji now, but had not when the way went on.
    expect(way.map((w) => [w.step_id, w.outcome, w.money])).toEqual([
      [shop.step.checkout, null, 0],
      [shop.step.further, "bought", 29_000],
    ])
  })
  it("is charged once, however often the form is sent, at once or after", async () => {
    const form = await formOf(shop, "fine")
    const buyer = from()
    const all = await Promise.all(Array.from({ length: 8 }, () => placeOrder(shop.t.s, form, buyer)))
    expect(new Set(all.map((a) => JSON.stringify(a))).size).toBe(1)
    await placeOrder(shop.t.s, form, buyer)
    expect(await n("orders WHERE once = ?", [form.once])).toBe(1)
    const order = (await db().row<OrderRow>("SELECT * FROM orders WHERE once = ?", [form.once]))!
    expect([...shop.processor.store.payments.values()].filter((p) => p.reference === `order ${order.id}`)).toHaveLength(
      1,
    )
  })
})

describe("a card that isn't", () => {
  it.each([
    ["refused", "refused"],
    ["insufficient", "insufficient"],
    ["expired", "expired"],
  ] as const)("%s: nothing opens, and another card may be tried in the same order", async (card, reason) => {
    const { order, form, visitor } = await buy(shop, card)
    expect(order.state).toBe("refused")
    expect(await n("charge WHERE order_id = ? AND reason = ?", [order.id, reason])).toBe(1)
    expect(await n("person WHERE email = ?", [form.email])).toBe(0)
    const again = await placeOrder(shop.t.s, { ...form, card: await tokenOf(shop, "fine") }, from(visitor))
    expect(again).toEqual({ goTo: `/order/${order.code}` })
    expect((await reread(shop, order)).state).toBe("paid")
    expect(await n("charge WHERE order_id = ?", [order.id])).toBe(2)
  })
  it("that asks for confirmation is paid by the processor's word, not by coming back", async () => {
    const { order } = await buy(shop, "confirm")
    expect(order.state).toBe("confirming")
    expect((await askAbout(shop, order)).state).toBe("confirming")
    const charge = (await db().row<{ confirm: string }>("SELECT confirm FROM charge WHERE order_id = ?", [order.id]))!
    await fetch(charge.confirm, { method: "POST", body: new URLSearchParams({ agreed: "1" }), redirect: "manual" })
    expect((await askAbout(shop, order)).state).toBe("paid")
    const no = await buy(shop, "confirm")
    const refused = (await db().row<{ confirm: string }>("SELECT confirm FROM charge WHERE order_id = ?", [
      no.order.id,
    ]))!
    await fetch(refused.confirm, { method: "POST", body: new URLSearchParams({ agreed: "0" }), redirect: "manual" })
    expect((await askAbout(shop, no.order)).state).toBe("refused")
  })
})

describe("what is refused at the door", () => {
  it.each([
    ["an address that is none", { email: "nobody" }, /e-mail address/],
    ["what was read is no longer so", { seen: "something else" }, /has changed since/],
    ["no card", { card: "" }, /card wasn't read/],
    ["a code nobody knows", { code: "NOSUCH" }, /isn't known/],
  ])("%s", async (_, more, says) => {
    const form = { ...(await formOf(shop, "fine")), ...more }
    const placed = await placeOrder(shop.t.s, form, from())
    expect(placed).toMatchObject({ refused: "form", says: expect.stringMatching(says) })
    expect(await n("orders WHERE once = ?", [form.once])).toBe(0)
  })
  it("a price changed while somebody reads: they are told, and charged nothing", async () => {
    const form = await formOf(shop, "fine")
    const before = offer("A Year", [{ kind: "full", amount: 29_000 }], {
      id: shop.offers.main,
      gifts: [{ kind: "course", course: shop.course }],
    })
    await saved(shop.t, { ...before, terms: [{ id: null, name: "", terms: { kind: "full", amount: 31_000 } }] })
    expect(await placeOrder(shop.t.s, form, from())).toMatchObject({
      refused: "form",
      says: expect.stringMatching(/has changed/),
    })
    await saved(shop.t, before)
    // Read again, it can be bought.
    const again = await formOf(shop, "fine", { email: form.email, once: form.once })
    expect(await placeOrder(shop.t.s, again, from())).toMatchObject({ goTo: expect.any(String) })
  })
  it("a form of a release that isn't there, and a program that fills in everything", async () => {
    const form = await formOf(shop, "fine")
    expect(await placeOrder(shop.t.s, { ...form, release: "999999" }, from())).toEqual({ refused: "gone" })
    expect(await placeOrder(shop.t.s, { ...form, website: "x" }, from())).toEqual({ goTo: "/a-year/checkout" })
    expect(await n("orders WHERE once = ?", [form.once])).toBe(0)
  })
})

describe("when the processor behaves badly", () => {
  const behave = (answers: typeof wellBehaved.answers) => {
    shop.processor.store.behaviour = { ...wellBehaved, answers }
  }
  it("answering with an error after charging: the order is paid once it is asked", async () => {
    const form = await formOf(shop, "fine")
    behave("with an error after charging")
    await placeOrder(shop.t.s, form, from())
    behave("at once")
    const order = (await db().row<OrderRow>("SELECT * FROM orders WHERE once = ?", [form.once]))!
    expect(order.state).toBe("open")
    expect((await askAbout(shop, order)).state).toBe("paid")
    expect([...shop.processor.store.payments.values()].filter((p) => p.reference === `order ${order.id}`)).toHaveLength(
      1,
    )
  })
  it("slower than a buyer waits: the order is paid once it has answered after all", async () => {
    const form = await formOf(shop, "fine")
    const { s } = shop.t
    let arrives = () => {}
    const slow = {
      ...s,
      cards: {
        ...s.cards!,
        // Nobody waits any longer; the call itself is still on its way.
        pay: async (p: never) => {
          arrives = () => void s.cards!.pay(p)
          throw new CardsUnreachable("no answer within ten seconds")
        },
      },
    }
    await placeOrder(slow as typeof s, form, from())
    const order = (await db().row<OrderRow>("SELECT * FROM orders WHERE once = ?", [form.once]))!
    expect((await askAbout(shop, order)).state).toBe("open")
    arrives()
    await expect.poll(async () => (await askAbout(shop, order)).state).toBe("paid")
    expect(await n("charge WHERE order_id = ? AND state = 'succeeded'", [order.id])).toBe(1)
  })
  it("unreachable: the order waits, and is given up at the processor before the seat is", async () => {
    const form = await formOf(shop, "fine")
    behave("not at all")
    await placeOrder(shop.t.s, form, from())
    const order = (await db().row<OrderRow>("SELECT * FROM orders WHERE once = ?", [form.once]))!
    expect((await askAbout(shop, order)).state).toBe("open") // nobody knows: nothing is decided
    behave("at once")
    // It may be slow rather than gone, so that it is not given up at once.
    expect((await askAbout(shop, order)).state).toBe("open")
    await db().write("UPDATE orders SET hold_until = hold_until - INTERVAL 46 SECOND WHERE id = ?", [order.id])
    expect((await askAbout(shop, order)).state).toBe("lapsed")
    // The request that hung may still arrive: it is refused there.
    expect(shop.processor.store.voided.has(`test-order-${order.id}-1`)).toBe(true)
  })
  it("killed between charge and order: recovery asks, and the door opens", async () => {
    const form = await formOf(shop, "fine")
    const { s } = shop.t
    // The process dies after the call: what it said is never written.
    const dying = {
      ...s,
      cards: { ...s.cards!, pay: async (p: never) => s.cards!.pay(p).then(() => Promise.reject(new Error("killed"))) },
    }
    await expect(placeOrder(dying as typeof s, form, from())).rejects.toThrow("killed")
    const order = (await db().row<OrderRow>("SELECT * FROM orders WHERE once = ?", [form.once]))!
    expect(order.state).toBe("open")
    await db().write("UPDATE charge SET ask_at = '2020-01-01' WHERE order_id = ?", [order.id])
    expect(await recoverCharges(s)).toBe(1)
    expect((await reread(shop, order)).state).toBe("paid")
  })
  it("a webhook before the answer, twice, or never: the order is paid once", async () => {
    const form = await formOf(shop, "fine")
    const { s } = shop.t
    const early = {
      ...s,
      cards: {
        ...s.cards!,
        pay: async (p: never) => {
          const answer = await s.cards!.pay(p)
          await handleWebhook(s, answer)
          await handleWebhook(s, answer)
          return answer
        },
      },
    }
    await placeOrder(early as typeof s, form, from())
    const order = (await db().row<OrderRow>("SELECT * FROM orders WHERE once = ?", [form.once]))!
    expect(order.state).toBe("paid")
    expect(await journal(order.id)).toEqual({ cards: 29_000, income: -23_200, tax: -5_800 })
    expect(await n("admission WHERE order_id = ?", [order.id])).toBe(1)
    expect(await n("mail WHERE order_id = ?", [order.id])).toBe(1)
  })
  it("a late word that the card was refused changes nothing once it is paid, and one about another amount is not believed", async () => {
    const { order } = await buy(shop, "fine")
    const charge = (await db().row<{ id: number }>("SELECT id FROM charge WHERE order_id = ?", [order.id]))!
    await recordAnswer(shop.t.s, charge.id, { state: "refused", reason: "refused" })
    expect((await reread(shop, order)).state).toBe("paid")
    const open = await buy(shop, "confirm")
    const other = (await db().row<{ id: number }>("SELECT id FROM charge WHERE order_id = ?", [open.order.id]))!
    await expect(
      recordAnswer(shop.t.s, other.id, { state: "succeeded", reason: null, amount: 1, currency: "EUR" }),
    ).rejects.toThrow(/speaks of/)
  })
  it("an order left in the middle gives its seat back, after it was given up at the processor", async () => {
    const { order } = await buy(shop, "confirm")
    await db().write("UPDATE orders SET hold_until = '2020-01-01' WHERE id = ?", [order.id])
    expect((await askAbout(shop, order)).state).toBe("lapsed")
  })
})

describe("further offers", () => {
  it("whoever accepts everything: one click, one charge, with the card just used", async () => {
    const bought = await buy(shop, "fine")
    expect(await wayOn(db(), bought.order, shop.t.at())).toBe("/a-year/one-more-thing")
    const seen = await seenAt(bought, shop.step.further)
    const all = await Promise.all(
      Array.from({ length: 5 }, () => acceptOffer(shop.t.s, bought.order.code, shop.step.further, seen)),
    )
    expect(new Set(all.map((a) => JSON.stringify(a))).size).toBe(1)
    const further = (await db().row<OrderRow>("SELECT * FROM orders WHERE first_id = ?", [bought.order.id]))!
    expect(further).toMatchObject({ state: "paid", gross: 9_000 })
    expect(await openTo(further)).toEqual(["A Year", "Koji"])
    expect(await wayOn(db(), further, shop.t.at())).toBe("/a-year/welcome")
    expect(await journal(bought.order.id)).toEqual({ cards: 38_000, income: -30_400, tax: -7_600 })
    // Asked once more, it leads on and charges nothing.
    expect(await accept(bought, shop.step.further)).toEqual({ goTo: `/order/${further.code}` })
    const arrived = await db().rows<{ step_id: number; money: number }>(
      "SELECT step_id, money FROM fact WHERE visitor = ? AND kind = 'arrived' ORDER BY id",
      [bought.visitor],
    )
    expect(arrived.map((a) => [a.step_id, a.money]).slice(-2)).toEqual([
      [shop.step.further, 29_000],
      [shop.step.welcome, 38_000],
    ])
  })
  it("whoever refuses everything is let in", async () => {
    const bought = await buy(shop, "fine")
    expect(await declineOffer(shop.t.s, bought.order.code, shop.step.further)).toEqual({ goTo: "/a-year/or-this" })
    expect(await declineOffer(shop.t.s, bought.order.code, shop.step.second)).toEqual({ goTo: "/a-year/welcome" })
    expect(await openTo(bought.order)).toEqual(["A Year"])
  })
  it("the first answer stands, in two tabs and by going back", async () => {
    const bought = await buy(shop, "fine")
    const seen = await seenAt(bought, shop.step.further)
    await declineOffer(shop.t.s, bought.order.code, shop.step.further)
    expect(await acceptOffer(shop.t.s, bought.order.code, shop.step.further, seen)).toEqual({ goTo: "/a-year/or-this" })
    expect(await n("orders WHERE first_id = ?", [bought.order.id])).toBe(0)
    const other = await buy(shop, "fine")
    await accept(other, shop.step.further)
    expect((await declineOffer(shop.t.s, other.order.code, shop.step.further)).goTo).toMatch(/^\/order\//)
    expect(await n("answer WHERE order_id = ? AND said = 'accepted'", [other.order.id])).toBe(1)
  })
  it("a refusal, a confirmation and an unreachable processor leave the first order standing", async () => {
    const later = await buy(shop, "confirm")
    const charge = (await db().row<{ confirm: string }>("SELECT confirm FROM charge WHERE order_id = ?", [
      later.order.id,
    ]))!
    await fetch(charge.confirm, { method: "POST", body: new URLSearchParams({ agreed: "1" }), redirect: "manual" })
    const paid = { ...later, order: await askAbout(shop, later.order) }
    await accept(paid, shop.step.further)
    const further = (await db().row<OrderRow>("SELECT * FROM orders WHERE first_id = ?", [paid.order.id]))!
    expect(further.state).toBe("confirming")
    const asked = (await db().row<{ confirm: string }>("SELECT confirm FROM charge WHERE order_id = ?", [further.id]))!
    await fetch(asked.confirm, { method: "POST", body: new URLSearchParams({ agreed: "0" }), redirect: "manual" })
    expect((await askAbout(shop, further)).state).toBe("refused")
    expect((await reread(shop, paid.order)).state).toBe("paid")
    // The offer is still there, says what happened, and can be declined.
    expect(await offeredTo(shop.t.s, paid.order, shop.step.further)).toMatchObject({
      says: expect.stringMatching(/Your order before it is safe/),
    })
    expect(await declineOffer(shop.t.s, paid.order.code, shop.step.further)).toEqual({ goTo: "/a-year/or-this" })
  })
  it("a changed price is told and not charged; a removed offer is passed", async () => {
    const bought = await buy(shop, "fine")
    expect(await acceptOffer(shop.t.s, bought.order.code, shop.step.further, "something else")).toEqual({
      changed: true,
    })
    await db().write("UPDATE offer SET removed_at = '2026-01-01' WHERE id = ?", [shop.offers.further])
    expect(await acceptOffer(shop.t.s, bought.order.code, shop.step.further, "x")).toEqual({ goTo: "/a-year/welcome" })
    expect(await offeredTo(shop.t.s, bought.order, shop.step.further)).toEqual({ goTo: "/a-year/welcome" })
    await db().write("UPDATE offer SET removed_at = NULL WHERE id = ?", [shop.offers.further])
    expect(await n("orders WHERE first_id = ?", [bought.order.id])).toBe(0)
  })
  it("waits an hour and no longer", async () => {
    const bought = await buy(shop, "fine")
    const now = shop.t.at()
    shop.t.set(now + 3_599_000)
    expect(await offeredTo(shop.t.s, bought.order, shop.step.further)).toHaveProperty("quote")
    const seen = await seenAt(bought, shop.step.further)
    shop.t.set(now + 3_601_000)
    expect(await offeredTo(shop.t.s, bought.order, shop.step.further)).toEqual({ goTo: "/learn" })
    expect(await acceptOffer(shop.t.s, bought.order.code, shop.step.further, seen)).toEqual({ goTo: "/learn" })
    shop.t.set(now)
  })
  it("is passed by whoever has it already", async () => {
    const first = await buy(shop, "fine", { email: "twice@post.example" })
    await accept(first, shop.step.further)
    const again = await buy(shop, "fine", { email: "twice@post.example" })
    expect(await wayOn(db(), again.order, shop.t.at())).toBe("/a-year/welcome")
  })
  it("nobody accepts for an order that isn't paid or isn't there", async () => {
    const open = await buy(shop, "refused")
    expect(await acceptOffer(shop.t.s, open.order.code, shop.step.further, "x")).toEqual({ goTo: "/learn" })
    expect(await acceptOffer(shop.t.s, "x".repeat(22), shop.step.further, "x")).toEqual({ goTo: "/learn" })
    expect((await declineOffer(shop.t.s, open.order.code, shop.step.further)).goTo).toBe("/learn")
  })
})

describe("coupons", () => {
  const coupon = (code: string, more: object = {}) =>
    makeCoupon(shop.t.s, {
      code,
      givenOut: "the letter",
      kind: "percent",
      value: 1000,
      currency: null,
      on: "first",
      offers: [],
      from: null,
      until: null,
      usesInAll: null,
      usesPerPerson: null,
      ...more,
    })
  it("takes off what it says, and what was read is what is charged", async () => {
    await coupon("BRINE-10")
    const { order } = await buy(shop, "fine", { code: "brine10" })
    expect(order).toMatchObject({
      state: "paid",
      gross: 26_100,
      sentence: "You pay €261.00 today. Tax of 25 % is included.",
    })
  })
  it("the last one is used by one of two at once", async () => {
    await coupon("LASTONE", { usesInAll: 1 })
    const forms = [await formOf(shop, "fine", { code: "LASTONE" }), await formOf(shop, "fine", { code: "LASTONE" })]
    const placed = await Promise.all(forms.map((f) => placeOrder(shop.t.s, f, from())))
    expect(placed.filter((p) => "goTo" in p)).toHaveLength(1)
    expect(placed.find((p) => "says" in p)).toMatchObject({ says: expect.stringMatching(/used up/) })
  })
  it("of a hundred per cent asks for no card", async () => {
    await coupon("ALLFREE", { value: 10_000, on: "all" })
    const { order } = await buy(shop, null, { code: "ALLFREE" })
    expect(order).toMatchObject({ state: "paid", gross: 0 })
    expect(await openTo(order)).toEqual(["A Year"])
    expect(await n("charge WHERE order_id = ?", [order.id])).toBe(0)
  })
  it.each([
    ["no place where it is given out", { givenOut: " " }, "givenOut"],
    ["more than everything", { value: 10_001 }, "value"],
    ["nothing", { value: 0 }, "value"],
    ["an amount without its currency", { kind: "amount", value: 500 }, "currency"],
    ["a code that is there", { code: "brine 10" }, "code"],
    ["a code too short", { code: "a-" }, "code"],
  ])("is refused with %s", async (_, more, field) => {
    expect(await coupon("FRESH", more)).toMatchObject({ refused: expect.any(String), field })
  })
})
