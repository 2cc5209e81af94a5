// After the sale: money given back, plans that go on, the books, and the file of orders.
import Papa from "papaparse"
import { afterAll, beforeAll, describe, expect, it } from "vitest"
import { orderStateWords } from "@/core/ledger/order"
import { myCourses } from "@/server/course/learn"
import { doWhatIsDue } from "@/server/due-list"
import { balanceAt, rollJournal } from "@/server/ledger/balance"
import { acceptOffer, offeredTo } from "@/server/ledger/further"
import type { OrderRow } from "@/server/ledger/order"
import { countOrders, exportOrders, listOrders, markPosted, orderStory } from "@/server/ledger/orders"
import { comingIn, countPlans, listPlans } from "@/server/ledger/plans"
import { recoverRefunds, refundStory } from "@/server/ledger/refund"
import { changeCard, endPlan, myPlans, renewDue } from "@/server/ledger/renew"
import { sendDue } from "@/server/mail/send"
import { personStory } from "@/server/person/people"
import { wellBehaved } from "@/standins/processor/store"
import { type Bought, buy, openShop, reread, type Shop, tokenOf } from "../support/shop"

let shop: Shop
beforeAll(async () => {
  shop = await openShop("ledger")
})
afterAll(() => shop.end())

const db = () => shop.t.s.db
let forms = 0
const once = () => `refund-${String(++forms).padStart(20, "0")}`
const chargeOf = async (order: number) =>
  (await db().row<{ id: number }>("SELECT id FROM charge WHERE order_id = ? AND state = 'succeeded'", [order]))!.id
const back = async (
  order: OrderRow,
  amount: number,
  more: Partial<{ access: string; once: string; charge: number; why: string }> = {},
) =>
  refundStory(shop.t.s, {
    story: order.first_id ?? order.id,
    once: more.once ?? once(),
    access: more.access ?? "ends",
    why: more.why ?? "changed her mind",
    items: [{ charge: more.charge ?? (await chargeOf(order.id)), amount }],
  })
const sums = async (story: number) =>
  Object.fromEntries(
    (
      await db().rows<{ account: string; sum: number }>(
        "SELECT account, SUM(amount) AS sum FROM journal WHERE order_id = ? GROUP BY account",
        [story],
      )
    ).map((r) => [r.account, r.sum]),
  )
const opens = async (order: OrderRow) =>
  (await myCourses(shop.t.s, { person: order.person_id!, scope: null })).map((c) => c.title)
const withKoji = async (): Promise<Bought & { further: OrderRow }> => {
  const bought = await buy(shop, "fine")
  const offered = await offeredTo(shop.t.s, bought.order, shop.step.further)
  if (!("quote" in offered)) throw new Error(JSON.stringify(offered))
  await acceptOffer(shop.t.s, bought.order.code, shop.step.further, offered.quote.seen)
  return {
    ...bought,
    further: (await db().row<OrderRow>("SELECT * FROM orders WHERE first_id = ?", [bought.order.id]))!,
  }
}

describe("giving money back", () => {
  it("whole, with the access: the journal, the order, the door and a letter", async () => {
    const { order } = await buy(shop, "fine")
    expect(await back(order, 29_000)).toEqual({ ok: true, waiting: 0 })
    expect((await reread(shop, order)).state).toBe("refunded")
    expect(await sums(order.id)).toEqual({ cards: 0, income: -23_200, refunds: 23_200, tax: 0 })
    expect(await opens(order)).toEqual([])
    await sendDue(shop.t.s, "w")
    const letter = shop.t.sent.find((m) => m.to.address === order.email && /refunds/.test(m.subject))!
    expect(letter.text).toContain("€290.00")
    expect(letter.text).toContain("closed for you now")
    expect([...shop.processor.store.refunds.values()].filter((r) => r.amount === 29_000)).toHaveLength(1)
  })
  it("in parts, with the access kept: tax goes back in proportion, and to the cent", async () => {
    const { order } = await buy(shop, "fine")
    for (const part of [3_333, 3_333, 22_334]) {
      expect(await back(order, part, { access: "stays" })).toEqual({ ok: true, waiting: 0 })
      const all = Object.values(await sums(order.id)).reduce((a, b) => a + b, 0)
      expect(all).toBe(0)
    }
    expect(await sums(order.id)).toEqual({ cards: 0, income: -23_200, refunds: 23_200, tax: 0 })
    expect(await opens(order)).toEqual(["A Year"])
  })
  it.each([
    ["more than was paid", 29_001, {}, /At most €290.00/],
    ["nothing", 0, {}, /More than nothing/],
    ["less than nothing", -5, {}, /More than nothing/],
    ["half a cent", 0.5, {}, /Whole cents/],
    ["somebody else's charge", 100, { charge: 999_999 }, /isn't one that can be refunded/],
    ["without saying what becomes of the access", 100, { access: "" }, /./],
  ] as const)("refuses %s", async (_, amount, more, says) => {
    const { order } = await buy(shop, "fine")
    expect(await back(order, amount, more)).toMatchObject({ refused: expect.stringMatching(says) })
    expect((await reread(shop, order)).state).toBe("paid")
    expect((await sums(order.id)).refunds).toBeUndefined()
  })
  it("the same form pressed many times gives back once; a second form finds nothing left", async () => {
    const { order } = await buy(shop, "fine")
    const key = once()
    const all = await Promise.all(Array.from({ length: 6 }, () => back(order, 29_000, { once: key })))
    expect(all.every((a) => "ok" in a)).toBe(true)
    expect(await back(order, 1)).toMatchObject({ refused: "It has been refunded already." })
    const two = await buy(shop, "fine")
    const both = await Promise.all([back(two.order, 20_000), back(two.order, 20_000)])
    expect(both.filter((b) => "ok" in b)).toHaveLength(1)
    expect((await sums(two.order.id)).cards).toBe(9_000)
  })
  it("of the first order leaves the further one alone unless it is chosen, too", async () => {
    const { order, further } = await withKoji()
    await back(order, 29_000)
    expect(await opens(order)).toEqual(["Koji"])
    expect((await reread(shop, further)).state).toBe("paid")
    await back(further, 9_000)
    expect(await opens(order)).toEqual([])
    expect(await sums(order.id)).toMatchObject({ cards: 0, tax: 0 })
  })
  it("waits where the processor doesn't answer, and is done once it does, once", async () => {
    const { order } = await buy(shop, "fine")
    shop.processor.store.behaviour = { ...wellBehaved, answers: "with an error after charging" }
    expect(await back(order, 29_000)).toEqual({ ok: true, waiting: 1 })
    expect((await reread(shop, order)).state).toBe("paid")
    shop.processor.store.behaviour = wellBehaved
    await db().write("UPDATE refund SET try_at = '2020-01-01' WHERE state = 'sending'")
    expect(await recoverRefunds(shop.t.s)).toBe(1)
    expect(await recoverRefunds(shop.t.s)).toBe(0)
    expect((await reread(shop, order)).state).toBe("refunded")
    const payment = [...shop.processor.store.payments.values()].find((p) => p.reference === `order ${order.id}`)!
    expect(payment.refunded).toBe(29_000)
  })
})

describe("the books", () => {
  it("sum to zero at any day, and over any story", async () => {
    const all = await balanceAt(db(), shop.t.at() + 1)
    expect(all.reduce((sum, b) => sum + b.amount, 0)).toBe(0)
    expect(all.map((b) => b.account)).toEqual(["cards", "income", "tax", "refunds"])
    const odd = await db().rows("SELECT order_id FROM journal GROUP BY order_id, currency HAVING SUM(amount) <> 0")
    expect(odd).toEqual([])
    expect(await balanceAt(db(), Date.parse("2020-01-01"))).toEqual([])
  })
  it("are the same whether they are summed by day or not, at any instant, and however far the summing has come", async () => {
    const { order } = await buy(shop, "fine")
    const charge = await chargeOf(order.id)
    // Lines of many days and instants, late ones among them.
    const start = Date.parse("2026-10-31T23:59:59.999Z")
    await db().write(
      "INSERT INTO journal (once, at, order_id, charge_id, account, amount, currency, recorded_at) VALUES ?",
      [
        Array.from({ length: 60 }, (_, i) => [
          `test:${i}`,
          new Date(start + ((i * 37) % 61) * 41_234_567),
          order.id,
          charge,
          i % 2 ? "cards" : "income",
          i % 2 ? 100 + i : -(101 + i),
          "EUR",
          new Date(0),
        ]),
      ],
    )
    const at = [start, start + 1, start + 3e8, Date.parse("2026-11-07T00:00:00Z"), shop.t.at(), start + 9e9]
    const read = () => Promise.all(at.map((x) => balanceAt(db(), x)))
    const plain = await read()
    const direct = await Promise.all(
      at.map(async (x) =>
        Object.fromEntries(
          (
            await db().rows<{ account: string; n: number }>(
              "SELECT account, SUM(amount) AS n FROM journal WHERE at < ? GROUP BY account",
              [new Date(x)],
            )
          ).map((r) => [r.account, r.n]),
        ),
      ),
    )
    expect(plain.map((b) => Object.fromEntries(b.map((x) => [x.account, x.amount])))).toEqual(direct)
    expect(await rollJournal(shop.t.s, 0)).toBeGreaterThan(60)
    expect(await read()).toEqual(plain)
    expect(await rollJournal(shop.t.s, 0)).toBe(0)
    await db().write("DELETE FROM journal WHERE once LIKE 'test:%'")
    await db().write("DELETE FROM journal_day")
    await db().write("UPDATE rollup_mark SET fact_id = 0 WHERE name = 'journal'")
  })
})

describe("the list of orders", () => {
  it("is found by number, by the beginning of an address or a name, by state and by offer", async () => {
    const { order, further } = await withKoji()
    const query = { search: "", state: null, offer: null, post: false, page: 0 } as const
    const ids = async (q: object) => (await listOrders(db(), { ...query, ...q })).map((o) => o.id)
    expect(await ids({ search: String(order.id) })).toEqual([further.id, order.id])
    expect(await ids({ search: order.email.slice(0, 9) })).toContain(order.id)
    expect(await ids({ search: "%" })).toEqual([])
    expect(await ids({ offer: shop.offers.further, search: String(order.id) })).toEqual([further.id])
    expect(await countOrders(db(), { ...query, state: "refunded" })).toBe((await ids({ state: "refunded" })).length)
    expect(await ids({ search: "' OR 1=1 --" })).toEqual([])
  })
  it("has the whole story of one behind it", async () => {
    const { order, further } = await withKoji()
    await back(order, 1_000, { access: "stays", why: "a late start" })
    const story = (await orderStory(db(), further.id))!
    expect(story.orders.map((o) => [o.id, o.first_id, o.bought])).toEqual([
      [order.id, null, "A Year"],
      [further.id, order.id, "Koji"],
    ])
    expect(story.charges.map((c) => [c.gross, c.refunded, c.state])).toEqual([
      [29_000, 1_000, "succeeded"],
      [9_000, 0, "succeeded"],
    ])
    expect(story.refunds).toMatchObject([{ amount: 1_000, why: "a late start", state: "done" }])
    expect(story.journal.reduce((sum, j) => sum + j.amount, 0)).toBe(0)
    expect(story.facts.map((f) => f.kind)).toEqual(["bought", "bought", "refunded"])
    expect(orderStateWords(story.orders[0]!.state, story.orders[0]!.refunded)).toBe("paid, partly refunded")
    expect(await orderStory(db(), 999_999)).toBeUndefined()
    const person = (await personStory(db(), order.person_id!))!
    expect(person.orders.map((o) => [o.id, o.first_id, o.bought, o.gross])).toEqual([
      [further.id, order.id, "Koji", 9_000],
      [order.id, null, "A Year", 29_000],
    ])
    expect(person.admissions.map((a) => [a.title, a.origin])).toEqual([
      ["A Year", `order ${order.id}`],
      ["Koji", `order ${further.id}`],
    ])
  })
  it("goes out as CSV that an independent reader takes, and that no spreadsheet takes for a formula", async () => {
    await buy(shop, "fine", { name: '=HYPERLINK("http://x.example","y"), "quoted"', email: "csv@post.example" })
    let text = ""
    for await (const piece of exportOrders(db(), { search: "csv@post", state: null, offer: null, post: false }))
      text += piece
    // RFC 4180: lines end with CRLF, quotes are doubled. Read back by a parser; the apostrophe defuses the formula.
    expect(text.endsWith("\r\n")).toBe(true)
    expect(text.replace(/\r\n/g, "").includes("\n")).toBe(false)
    const { data, errors } = Papa.parse<Record<string, string>>(text, { header: true, skipEmptyLines: true })
    expect(errors).toEqual([])
    expect(data).toHaveLength(1)
    expect(data[0]).toMatchObject({
      "e-mail": "csv@post.example",
      gross: "290.00",
      tax: "58.00",
      currency: "EUR",
      state: "paid",
      name: '\'=HYPERLINK("http://x.example","y"), "quoted"',
    })
  })
  it("knows what has to be sent by post, and that it was", async () => {
    const bought = await buy(shop, "fine")
    await db().write("UPDATE order_line SET offer_id = ? WHERE order_id = ?", [shop.offers.second, bought.order.id])
    const line = (await orderStory(db(), bought.order.id))!.orders[0]!.lines[0]!
    expect(line).toMatchObject({ post: "A book", posted_at: null })
    const waiting = { search: "", state: null, offer: null, post: true, page: 0 }
    expect((await listOrders(db(), waiting)).map((o) => o.id)).toEqual([bought.order.id])
    await markPosted(shop.t.s, line.id)
    await markPosted(shop.t.s, line.id)
    expect((await orderStory(db(), bought.order.id))!.orders[0]!.lines[0]!.posted_at).not.toBeNull()
    expect(await countOrders(db(), waiting)).toBe(0)
    expect(
      await db().rows("SELECT 1 FROM fact WHERE kind = 'posted' AND subject_id = ?", [bought.order.id]),
    ).toHaveLength(1)
  })
})

describe("plans that go on", () => {
  let plans: Shop
  beforeAll(async () => {
    plans = await openShop("plans", {
      terms: [
        {
          kind: "subscription",
          upFront: 0,
          trial: null,
          amount: 1_900,
          every: { unit: "month", count: 1 },
          times: null,
        },
        { kind: "instalments", upFront: 0, amount: 7_900, times: 4, every: { unit: "month", count: 1 } },
      ],
    })
  })
  afterAll(() => plans.end())
  const s = () => plans.t.s
  const terms = async (n: number) =>
    (
      await s().db.rows<{ id: number }>("SELECT id FROM offer_terms WHERE offer_id = ? ORDER BY position", [
        plans.offers.main,
      ])
    )[n]!.id
  const charges = async (order: OrderRow) =>
    (
      await s().db.rows<{ n: number; state: string; gross: number }>(
        "SELECT n, state, gross FROM charge WHERE order_id = ? ORDER BY id",
        [order.id],
      )
    ).map((c) => [c.n, c.state, c.gross])
  const planOf = async (order: OrderRow) =>
    (await s().db.row<{ id: number; state: string; failed: number; next_due: Date; try_at: Date; ended_why: string }>(
      "SELECT * FROM plan WHERE order_id = ?",
      [order.id],
    ))!
  const start = Date.parse("2026-11-24T09:00:00Z")
  const at = (iso: string) => plans.t.set(iso)

  it("are charged when due, once, on the same day of each month; and run to their end", async () => {
    at("2026-11-24T09:00:00Z")
    const { order } = await buy(plans, "fine", { terms: await terms(1) })
    expect(await comingIn(s().db, start, "Europe/Oslo")).toMatchObject([
      { currency: "EUR", months: expect.arrayContaining([{ month: "2027-02", instalments: 7_900, subscriptions: 0 }]) },
    ])
    for (const day of ["2026-12-24", "2027-01-24", "2027-02-24", "2027-03-24"]) {
      at(`${day}T08:59:00Z`)
      await renewDue(s())
      at(`${day}T09:00:01Z`)
      await Promise.all([renewDue(s()), renewDue(s())])
    }
    expect(await charges(order)).toEqual([
      [0, "succeeded", 7_900],
      [1, "succeeded", 7_900],
      [2, "succeeded", 7_900],
      [3, "succeeded", 7_900],
    ])
    expect((await planOf(order)).state).toBe("finished")
    expect(
      await s().db.rows("SELECT subject_id FROM fact WHERE kind = 'plan-paid' AND person_id = ?", [order.person_id]),
    ).toEqual([{ subject_id: order.id }])
    expect(await endPlan(s(), order.person_id!, (await planOf(order)).id)).toEqual({ ok: true })
  })
  it("that fail are tried after one, three and seven days, with a letter each time, and then the access ends", async () => {
    at("2027-04-24T09:00:00Z")
    const { order } = await buy(plans, "later", { terms: await terms(0) })
    const days: [string, string, number][] = [
      ["2027-05-24", "behind", 1],
      ["2027-05-25", "behind", 2],
      ["2027-05-27", "behind", 3],
      ["2027-05-31", "ended", 4],
    ]
    for (const [day, state, failed] of days) {
      at(`${day}T09:00:01Z`)
      await doWhatIsDue(s(), "w")
      expect(await planOf(order)).toMatchObject({ state, failed })
    }
    expect(await myCourses(s(), { person: order.person_id!, scope: null })).toEqual([])
    const subjects = plans.t.sent.filter((m) => m.to.address === order.email).map((m) => m.subject)
    expect(subjects.filter((x) => /was refused/.test(x))).toHaveLength(3)
    expect(subjects.filter((x) => /has ended/.test(x))).toHaveLength(1)
  })
  it("that are behind are charged at once with another card", async () => {
    at("2027-06-24T09:00:00Z")
    const { order } = await buy(plans, "later", { terms: await terms(0) })
    at("2027-07-24T09:00:01Z")
    await renewDue(s())
    const plan = await planOf(order)
    expect(plan.state).toBe("behind")
    expect(await changeCard(s(), order.person_id!, plan.id, await tokenOf(plans, "refused"))).toMatchObject({
      refused: expect.stringMatching(/Your old card stays/),
    })
    expect(await changeCard(s(), order.person_id!, plan.id, "tok_nonsense_nonsense")).toHaveProperty("refused")
    expect(await changeCard(s(), order.person_id! + 1, plan.id, await tokenOf(plans, "fine"))).toHaveProperty("refused")
    expect(await changeCard(s(), order.person_id!, plan.id, await tokenOf(plans, "fine"))).toEqual({ ok: true })
    await renewDue(s())
    expect(await planOf(order)).toMatchObject({ state: "running", failed: 0 })
    expect((await planOf(order)).next_due.toISOString().slice(0, 10)).toBe("2027-08-24")
  })
  it("without an end can be ended by their buyer, and what was paid for stays open until then; instalments can't", async () => {
    at("2027-09-24T09:00:00Z")
    const { order } = await buy(plans, "fine", { terms: await terms(0) })
    const plan = await planOf(order)
    expect(await endPlan(s(), order.person_id! + 999, plan.id)).toHaveProperty("refused")
    expect(await endPlan(s(), order.person_id!, plan.id)).toEqual({ ok: true })
    at("2027-10-23T09:00:00Z")
    expect(await myCourses(s(), { person: order.person_id!, scope: null })).toHaveLength(1)
    at("2027-10-24T09:00:01Z")
    await renewDue(s())
    expect(await charges(order)).toHaveLength(1)
    expect(await myCourses(s(), { person: order.person_id!, scope: null })).toEqual([])
    const parts = await buy(plans, "fine", { terms: await terms(1) })
    expect(await endPlan(s(), parts.order.person_id!, (await planOf(parts.order)).id)).toMatchObject({
      refused: expect.stringMatching(/Instalments run to their end/),
    })
    expect((await myPlans(s().db, parts.order.person_id!))[0]).toMatchObject({
      state: "running",
      nextAmount: 7_900,
      nextDay: "2027-11-24",
      endless: false,
    })
  })
  it("given back with their access are not charged again", async () => {
    at("2027-12-01T09:00:00Z")
    const { order } = await buy(plans, "fine", { terms: await terms(0) })
    const charge = (await s().db.row<{ id: number }>("SELECT id FROM charge WHERE order_id = ?", [order.id]))!.id
    await refundStory(s(), {
      story: order.id,
      once: once(),
      access: "ends",
      why: "",
      items: [{ charge, amount: 1_900 }],
    })
    expect(await planOf(order)).toMatchObject({ state: "ended", ended_why: "refunded" })
    at("2028-01-01T09:00:01Z")
    await renewDue(s())
    expect(await charges(order)).toHaveLength(1)
  })
  it("are listed, those that are behind first", async () => {
    const counts = await countPlans(s().db)
    const listed = await listPlans(s().db, null, 0)
    expect(listed).toHaveLength(Object.values(counts).reduce((a, b) => a + b, 0))
    expect((await listPlans(s().db, "ended", 0)).every((p) => p.state === "ended" && p.next === null)).toBe(true)
    expect(listed.find((p) => p.state === "running")?.says).toMatch(/^You pay/)
  })
})
