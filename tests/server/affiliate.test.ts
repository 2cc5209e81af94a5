// Affiliates from end to end: a mention, a sale, what is earned and taken back, paid out and booked.
import { readFileSync } from "node:fs"
import { XMLParser, XMLValidator } from "fast-xml-parser"
import { extractText, getDocumentProxy } from "unpdf"
import { afterAll, beforeAll, describe, expect, it } from "vitest"
import {
  affiliateById,
  affiliateOf,
  approveAffiliate,
  changeAffiliate,
  endAffiliate,
  joinProgramme,
  setOwnRate,
} from "@/server/affiliate/affiliate"
import { askBankChange, confirmBankChange } from "@/server/affiliate/bank"
import { allowBonus, bonusesFor, chooseBonus } from "@/server/affiliate/bonus"
import { addAffiliate, addAffiliates } from "@/server/affiliate/come"
import { leaveOut, writeOff } from "@/server/affiliate/commission"
import { chainOf, recordMentions } from "@/server/affiliate/mention"
import { makePayout, markPaid, previewPayout, undoPayout } from "@/server/affiliate/payout"
import { bankFileReady, payouts } from "@/server/affiliate/payout-after"
import { saveAffiliateRules } from "@/server/affiliate/rules"
import { mailboxKey, moveSale } from "@/server/affiliate/sale"
import { affiliateStanding } from "@/server/affiliate/standing"
import { statementFile, statementOf, statementsOf } from "@/server/affiliate/statement"
import { myCourses } from "@/server/course/learn"
import { confirmJoin } from "@/server/funnel/confirm"
import { loadFunnel } from "@/server/funnel/load"
import { newFunnel } from "@/server/funnel/new-funnel"
import { publishFunnel } from "@/server/funnel/release"
import { acceptOffer, offeredTo } from "@/server/ledger/further"
import type { OrderRow } from "@/server/ledger/order"
import { refundStory, takeDispute } from "@/server/ledger/refund"
import { renewDue } from "@/server/ledger/renew"
import { sendDue } from "@/server/mail/send"
import { makeCoupon } from "@/server/offer/coupon"
import { erasePerson } from "@/server/person/erase"
import { personStory } from "@/server/person/people"
import {
  firstProgramme,
  programmeInput,
  programmeOf,
  publishConditions,
  saveProgramme,
} from "@/server/programme/programme"
import { join_, someVisitor, thatTuesday } from "../support/school"
import { buy, openShop, type Shop } from "../support/shop"

let shop: Shop
const day = 86_400_000
const db = () => shop.t.s.db
const s = () => shop.t.s
let ada: number
let ben: number

const rules = {
  days: 30,
  which: "last",
  consent: "not-needed",
  dueDays: 30,
  least: 2_000,
  payDays: [1],
  withTax: false,
  holder: "Juniper Crock",
  iban: "NO93 8601 1117 947",
  bic: "",
  notePrefix: "CN",
}

async function affiliate(email: string, name: string): Promise<number> {
  const made = await addAffiliate(s(), { email, name, offer: shop.offers.main, atOnce: true })
  if ("refused" in made) throw new Error(made.refused)
  return made.id
}

beforeAll(async () => {
  shop = await openShop("affiliate", {
    start: thatTuesday,
    terms: [
      { kind: "full", amount: 29_000 },
      { kind: "instalments", times: 4, amount: 7_900, every: { unit: "month", count: 1 }, upFront: 0 },
    ],
  })
  expect(await saveAffiliateRules(s(), rules)).toEqual({ ok: true })
  expect(
    await saveProgramme(s(), shop.offers.main, {
      ...firstProgramme,
      on: true,
    }),
  ).toHaveProperty("revision")
  expect(await publishConditions(s(), shop.offers.main, "Be honest, and say that you are paid.")).toEqual({ ok: true })
  ada = await affiliate("ada@fern.example", "Ada Fern")
  ben = await affiliate("ben@low.example", "Ben Low")
})
afterAll(() => shop.end())

const click = (who: number, visitor: Buffer, at = shop.t.at(), sub = "") =>
  recordMentions(db(), [{ affiliate: who, sub, step: null, visitor, at }])
const sale = async (order: OrderRow) =>
  db().row<{ affiliate_id: number | null; sub: string; decision: string; place: number }>(
    "SELECT affiliate_id, sub, decision, place FROM sale WHERE order_id = ?",
    [order.first_id ?? order.id],
  )
const earned = async (order: OrderRow) =>
  (
    await db().rows<{ kind: string; affiliate_id: number; amount: number }>(
      "SELECT kind, affiliate_id, amount FROM commission WHERE order_id = ? ORDER BY id",
      [order.id],
    )
  ).map((r) => [r.kind, r.affiliate_id, r.amount] as const)
const sums = async (where = "1 = 1", values: unknown[] = []) =>
  Object.fromEntries(
    (
      await db().rows<{ account: string; sum: number }>(
        `SELECT account, SUM(amount) AS sum FROM journal WHERE ${where} GROUP BY account`,
        values,
      )
    ).map((r) => [r.account, r.sum]),
  )
let forms = 0
const once = () => `payout-${String(++forms).padStart(20, "0")}`
const back = async (order: OrderRow, amount: number, n = 0) => {
  const charges = await db().rows<{ id: number }>(
    "SELECT id FROM charge WHERE order_id = ? AND state = 'succeeded' ORDER BY id",
    [order.id],
  )
  return refundStory(s(), {
    story: order.id,
    once: once(),
    access: "stays",
    why: "",
    items: [{ charge: charges[n]!.id, amount }],
  })
}
const withBank = async (who: number, iban: string) => {
  expect(
    await askBankChange(s(), who, { holder: "Ada Fern", iban, bic: "", postal: "Moss Lane 1", taxNumber: "" }),
  ).toEqual({ ok: true })
  const change = await db().row<{ id: number }>("SELECT MAX(id) AS id FROM bank_change WHERE affiliate_id = ?", [who])
  expect(await confirmBankChange(s(), change!.id)).toBe(true)
}

describe("a sale by a link", () => {
  let first: Awaited<ReturnType<typeof openFree>>
  it("counts for whoever was mentioned last, says so in a sentence, and earns from what was paid without tax", async () => {
    const visitor = someVisitor()
    await click(ben, visitor, shop.t.at() - 40 * day)
    await click(ada, visitor, shop.t.at() - 12 * day, "letter")
    const { order } = await buy(shop, "fine", {}, visitor)
    expect(await sale(order)).toMatchObject({ affiliate_id: ada, sub: "letter" })
    // 29,000 with 25 % tax inside: 23,200 net, of which 30 %.
    expect(await earned(order)).toEqual([["earned", ada, 6_960]])
    expect(await sums("order_id = ?", [order.id])).toEqual({
      cards: 29_000,
      income: -23_200,
      tax: -5_800,
      commission: 6_960,
      affiliates: -6_960,
    })
    const story = await personStory(db(), order.person_id!)
    const said = story!.facts.find((f) => f.kind === "sale-counted")
    expect(said?.words).toBe(
      "Counted for Ada Fern: link on 12 November 2026, 12 days before, given out at “letter”. The link of Ben Low on 15 October 2026 was older than 30 days.",
    )
  })
  it("counts for nobody where nobody was mentioned, or too long ago, and keeps the chain all the same", async () => {
    expect(await sale((await buy(shop, "fine")).order)).toBeUndefined()
    const visitor = someVisitor()
    await click(ben, visitor, shop.t.at() - 31 * day)
    const { order } = await buy(shop, "fine", {}, visitor)
    expect(await sale(order)).toMatchObject({ affiliate_id: null })
    expect(await earned(order)).toEqual([])
  })
  it("ten links in a row are one mention each hour and affiliate, and the last one counts", async () => {
    const visitor = someVisitor()
    for (let i = 0; i < 10; i++) await click(i % 2 ? ben : ada, visitor, shop.t.at() + i)
    expect((await chainOf(db(), { visitor, person: null })).map((m) => m.affiliate)).toEqual([ada, ben])
  })
  it("an own purchase does not count: the same person, the same mailbox, the same card", async () => {
    expect(mailboxKey("a.da+shop@fern.example")).toBe("ada@fern.example")
    for (const email of ["ada@fern.example", "a.d.a+year@fern.example"]) {
      const visitor = someVisitor()
      await click(ben, visitor, shop.t.at() - 2 * day)
      await click(ada, visitor)
      const { order } = await buy(shop, "fine", { email }, visitor)
      // What somebody else said of it before counts.
      expect((await sale(order))?.affiliate_id).toBe(ben)
    }
    const visitor = someVisitor()
    await click(ada, visitor)
    const { order } = await buy(shop, "fine", { email: "another@post.example" }, visitor)
    // Ada has bought with this very card above.
    expect(await sale(order)).toMatchObject({ affiliate_id: null })
    expect((await sale(order))!.decision).toContain('"verdict":"own"')
    await db().write("UPDATE card SET fingerprint = CONCAT('f', id)")
  })
  it("a coupon of theirs counts before any link, and whoever joined keeps the mention on another device", async () => {
    const made = await makeCoupon(s(), {
      code: "BEN10",
      givenOut: "Ben's letter",
      kind: "percent",
      value: 1000,
      currency: null,
      on: "first",
      offers: [],
      from: null,
      until: null,
      usesInAll: null,
      usesPerPerson: null,
      affiliate: "ben-low",
    })
    if ("refused" in made) throw new Error(made.refused)
    const visitor = someVisitor()
    await click(ada, visitor)
    const { order } = await buy(shop, "fine", { code: "ben10" }, visitor)
    expect(await sale(order)).toMatchObject({ affiliate_id: ben })
    // 26,100 less a fifth of tax: 20,880, of which 30 %.
    expect(await earned(order)).toEqual([["earned", ben, 6_264]])

    first = await openFree(shop)
    const phone = someVisitor()
    await click(ada, phone, shop.t.at(), "phone")
    await join_(shop.t, first, "joiner@post.example", { visitor: phone })
    await sendDue(s(), "w")
    const pending = await db().row<{ id: number }>("SELECT MAX(id) AS id FROM pending_join")
    await confirmJoin(s(), pending!.id, { ip: "192.0.2.9", visitor: phone })
    expect(await db().rows("SELECT affiliate_id, sub FROM affiliate_join")).toEqual([
      { affiliate_id: ada, sub: "phone" },
    ])
    const { order: later } = await buy(shop, "fine", { email: "joiner@post.example" })
    expect(await sale(later)).toMatchObject({ affiliate_id: ada, sub: "phone" })
  })

  it("is nobody's who only had their address typed: what a stranger's device was shown stays that device's", async () => {
    const { order: theirs } = await buy(shop, "fine", { email: "owner@post.example" })
    const stranger = someVisitor()
    await click(ada, stranger)
    // At a checkout, and in a form whose link the owner presses in a browser of their own.
    await buy(shop, "fine", { email: "owner@post.example", again: true }, stranger)
    const other = someVisitor()
    await click(ada, other)
    await join_(shop.t, first, "owner@post.example", { visitor: other })
    await sendDue(s(), "w")
    const pending = await db().row<{ id: number }>("SELECT MAX(id) AS id FROM pending_join")
    await confirmJoin(s(), pending!.id, { ip: "192.0.2.9", visitor: someVisitor() })
    expect(await db().rows("SELECT 1 FROM mention WHERE person_id = ?", [theirs.person_id])).toEqual([])
    const { order: later } = await buy(shop, "fine", { email: "owner@post.example", again: true })
    expect(await sale(later)).toBeUndefined()
  })
})

describe("what is earned", () => {
  it("follows an own rate, what was accepted afterwards, and whoever brought the affiliate", async () => {
    const p = (await programmeOf(db(), shop.offers.main))!
    expect(await saveProgramme(s(), shop.offers.main, { ...programmeInput(p), second: 500 })).toHaveProperty("revision")
    await db().write("UPDATE affiliate SET brought_by_id = ? WHERE id = ?", [ada, ben])
    expect(await setOwnRate(s(), ben, shop.offers.main, { kind: "percent", value: 4000 })).toEqual({ ok: true })
    const visitor = someVisitor()
    await click(ben, visitor)
    const { order } = await buy(shop, "fine", {}, visitor)
    const offered = await offeredTo(s(), order, shop.step.further)
    if (!("quote" in offered)) throw new Error(JSON.stringify(offered))
    await acceptOffer(s(), order.code, shop.step.further, offered.quote.seen)
    // 40 % and 5 % of 23,200; then of 7,200, on the same terms.
    expect(await earned(order)).toEqual([
      ["earned", ben, 9_280],
      ["earned", ada, 1_160],
      ["earned", ben, 2_880],
      ["earned", ada, 360],
    ])
    await setOwnRate(s(), ben, shop.offers.main, null)
    await saveProgramme(s(), shop.offers.main, programmeInput(p))
    await db().write("UPDATE affiliate SET brought_by_id = NULL WHERE id = ?", [ben])
  })
  it("keeps the rate of the sale for every instalment, whatever is changed later, and counts the first charges only where it says so", async () => {
    const p = (await programmeOf(db(), shop.offers.main))!
    await saveProgramme(s(), shop.offers.main, { ...programmeInput(p), charges: 2 })
    const visitor = someVisitor()
    await click(ben, visitor)
    const terms = (await db().row<{ id: number }>("SELECT MAX(id) AS id FROM offer_terms WHERE offer_id = ?", [
      shop.offers.main,
    ]))!.id
    const { order } = await buy(shop, "fine", { terms }, visitor)
    await saveProgramme(s(), shop.offers.main, {
      ...programmeInput(p),
      on: false,
      rate: { kind: "percent", value: 100 },
    })
    for (let month = 0; month < 3; month++) {
      shop.t.set(shop.t.at() + 32 * day)
      await renewDue(s())
    }
    const charged = await db().rows("SELECT id FROM charge WHERE order_id = ? AND state = 'succeeded'", [order.id])
    expect(charged).toHaveLength(4)
    // 6,320 net of each 7,900; 30 % of the first two.
    expect(await earned(order)).toEqual([
      ["earned", ben, 1_896],
      ["earned", ben, 1_896],
    ])
    await saveProgramme(s(), shop.offers.main, programmeInput(p))
  })
  it("takes off the fee of the processor where that is chosen, and pays more from a step on", async () => {
    const p = (await programmeOf(db(), shop.offers.main))!
    shop.processor.store.behaviour = { ...shop.processor.store.behaviour, keeps: "1.5 % and 25" }
    await saveProgramme(s(), shop.offers.main, {
      ...programmeInput(p),
      lessFees: true,
      steps: [{ from: 2, rate: 5000 }],
    })
    shop.t.set("2027-06-10T10:00:00Z")
    const amounts: number[] = []
    for (let i = 0; i < 2; i++) {
      const visitor = someVisitor()
      await click(ada, visitor)
      const { order } = await buy(shop, "fine", {}, visitor)
      amounts.push((await earned(order))[0]![2])
      expect((await sale(order))!.place).toBe(i + 1)
      expect((await sums("order_id = ?", [order.id])).fees).toBe(460)
    }
    // 23,200 less 460: 22,740.
    expect(amounts).toEqual([6_822, 11_370])
    shop.processor.store.behaviour = { ...shop.processor.store.behaviour, keeps: "nothing" }
    await saveProgramme(s(), shop.offers.main, programmeInput(p))
  })
  it("goes back with refunds in any parts to exactly nothing, and with a dispute", async () => {
    const visitor = someVisitor()
    await click(ada, visitor)
    const { order } = await buy(shop, "fine", {}, visitor)
    for (const part of [1, 3_333, 9_999]) expect(await back(order, part)).toEqual({ ok: true, waiting: 0 })
    const sofar = (await earned(order)).reduce((sum, [, , n]) => sum + n, 0)
    expect(sofar).toBe(6_960 - Math.round((6_960 * 13_333) / 29_000))
    const charge = await db().row<{ payment: string }>("SELECT payment FROM charge WHERE order_id = ?", [order.id])
    const dispute = { id: "d1", payment: charge!.payment, amount: 29_000, currency: "EUR" }
    await takeDispute(s(), dispute)
    await takeDispute(s(), dispute)
    expect((await earned(order)).reduce((sum, [, , n]) => sum + n, 0)).toBe(0)
    expect(await sums("order_id = ?", [order.id])).toEqual({
      cards: 0,
      income: -23_200,
      refunds: 23_200,
      tax: 0,
      commission: 0,
      affiliates: 0,
    })
    expect(await myCourses(s(), { person: order.person_id!, scope: null })).toEqual([])
    await sendDue(s(), "w")
    expect(shop.t.sent.filter((m) => m.to.address === order.email && /refund/i.test(m.subject))).toHaveLength(3)
  })
  it("is given to another by hand with a reason, before it is paid out", async () => {
    const visitor = someVisitor()
    await click(ada, visitor)
    const { order } = await buy(shop, "fine", {}, visitor)
    await back(order, 2_900)
    expect(await moveSale(s(), { order: order.id, affiliate: ben, why: " " })).toMatchObject({ field: "why" })
    expect(await moveSale(s(), { order: order.id, affiliate: ada, why: "x" })).toMatchObject({ field: "affiliate" })
    expect(await moveSale(s(), { order: order.id, affiliate: ben, why: "Ben wrote to her" })).toEqual({ ok: true })
    const left = new Map<number, number>()
    for (const [, who, n] of await earned(order)) left.set(who, (left.get(who) ?? 0) + n)
    expect([left.get(ada), left.get(ben)]).toEqual([0, 6_264])
    expect(await moveSale(s(), { order: order.id, affiliate: null, why: "nobody, after all" })).toEqual({ ok: true })
    expect((await earned(order)).reduce((sum, [, , n]) => sum + n, 0)).toBe(0)
    // What is given back from now on takes nothing from anybody.
    await back(order, 2_900)
    expect((await earned(order)).reduce((sum, [, , n]) => sum + n, 0)).toBe(0)
  })
  it("comes with what else the affiliate's buyers get, and it ends with what was bought", async () => {
    const made = await allowBonus(s(), shop.offers.main, { course: shop.extra, lesson: null, media: null })
    if ("refused" in made) throw new Error(made.refused)
    expect(await bonusesFor(db(), ben)).toMatchObject([{ id: made.id, chosen: false }])
    expect(await chooseBonus(s(), ben, made.id, true)).toEqual({ ok: true })
    const visitor = someVisitor()
    await click(ben, visitor)
    const { order } = await buy(shop, "fine", {}, visitor)
    const titles = async () => (await myCourses(s(), { person: order.person_id!, scope: null })).map((c) => c.title)
    expect((await titles()).sort()).toEqual(["A Year", "Koji"])
    const charge = await db().row<{ payment: string }>("SELECT payment FROM charge WHERE order_id = ?", [order.id])
    await takeDispute(s(), { id: "d2", payment: charge!.payment, amount: 29_000, currency: "EUR" })
    expect(await titles()).toEqual([])
    await chooseBonus(s(), ben, made.id, false)
  })
})

describe("a payout", () => {
  it("says who can't be paid and why, pays nobody twice when two press at once, and is undone until it is paid", async () => {
    const at = Date.parse("2027-09-01T00:00:00Z")
    shop.t.set(at)
    let p = await previewPayout(s(), at)
    expect(p.pay).toEqual([])
    expect(new Set(p.not.map((n) => n.why))).toEqual(new Set(["no-bank"]))
    expect(
      await askBankChange(s(), ada, { holder: "Ada", iban: "XX12 3456", bic: "", postal: "", taxNumber: "" }),
    ).toMatchObject({ field: "iban" })
    await withBank(ada, "de89 3704 0044 0532 0130 00")
    p = await previewPayout(s(), at)
    expect(p.pay.map((x) => x.affiliate)).toEqual([ada])
    const input = { until: at, day: "2027-09-02", seen: p.seen }
    const both = await Promise.all([
      makePayout(s(), { ...input, once: once() }),
      makePayout(s(), { ...input, once: once() }),
    ])
    expect(both.filter((x) => "ok" in x)).toHaveLength(1)
    const made = both.find((x) => "ok" in x) as unknown as { ids: number[] }
    expect(await moveSale(s(), { order: await firstSaleOf(ada), affiliate: ben, why: "no" })).toHaveProperty("refused")
    expect(await undoPayout(s(), made.ids[0]!)).toEqual({ ok: true })
    expect((await previewPayout(s(), at)).seen).toBe(p.seen)
  })
  it("leaves a line out with a reason, writes the bank's file and the statements, and books what was paid", async () => {
    const at = shop.t.at()
    const some = await db().row<{ id: number; amount: number }>(
      "SELECT id, amount FROM commission WHERE affiliate_id = ? AND kind = 'earned' ORDER BY id LIMIT 1",
      [ada],
    )
    expect(await leaveOut(s(), { rows: [some!.id], why: "being looked into" })).toEqual({ ok: true })
    const p = await previewPayout(s(), at)
    const before = await sums()
    const once1 = once()
    const made = await makePayout(s(), { until: at, day: "2027-09-02", seen: p.seen, once: once1 })
    if ("refused" in made) throw new Error(made.refused)
    // The same form sent again is the same payout.
    expect(await makePayout(s(), { until: at, day: "2027-09-02", seen: p.seen, once: once1 })).toEqual(made)
    const payout = made.ids[0]!
    await payouts.run(s(), "w")
    const file = (await bankFileReady(s(), payout))!
    const xml = readFileSync(file.path, "utf8")
    expect(XMLValidator.validate(xml)).toBe(true)
    const doc = new XMLParser({ parseTagValue: false }).parse(xml).Document.CstmrCdtTrfInitn
    expect(doc.GrpHdr.NbOfTxs).toBe("1")
    expect(doc.GrpHdr.CtrlSum).toBe((p.pay[0]!.amount / 100).toFixed(2))
    expect(doc.PmtInf.CdtTrfTxInf.CdtrAcct.Id.IBAN).toBe("DE89370400440532013000")
    expect(await statementsOf(db(), ada)).toEqual([])
    expect(await markPaid(s(), payout)).toEqual({ ok: true })
    expect(await markPaid(s(), payout)).toEqual({ ok: true })
    expect(await undoPayout(s(), payout)).toHaveProperty("refused")
    await payouts.run(s(), "w")
    await payouts.run(s(), "w")
    await sendDue(s(), "w")
    const letters = shop.t.sent.filter((m) => m.attached)
    expect(letters).toHaveLength(1)
    const { text } = await extractText(await getDocumentProxy(letters[0]!.attached!.content.slice()), {
      mergePages: true,
    })
    expect(text).toContain("CN-2027-0001")
    expect(text).not.toMatch(/buyer\d|post\.example|Ines/)
    const paid = (await statementsOf(db(), ada))[0]!
    expect(paid).toMatchObject({ number: "CN-2027-0001", gross: p.pay[0]!.amount })
    expect(await statementFile(db(), shop.t.s.config, paid.id, ben)).toBeUndefined()
    const lines = (await statementOf(db(), paid.id, ada))!.lines
    expect(lines.reduce((sum, l) => sum + l.amount, 0)).toBe(paid.gross)
    const after = await sums()
    expect(after.bank).toBe(-paid.gross)
    expect(after.affiliates! - before.affiliates!).toBe(paid.gross)
    expect(Object.values(after).reduce((sum, n) => sum + n, 0)).toBe(0)
    const [stands] = await affiliateStanding(db(), ada, at)
    expect(stands).toMatchObject({ currency: "EUR", inPayout: 0, paid: paid.gross, due: some!.amount })
    await leaveOut(s(), { rows: [some!.id], why: "" })
    expect((await previewPayout(s(), at)).pay).toMatchObject([{ affiliate: ada, amount: some!.amount }])
  })
  it("a refund after it was paid is carried into the next one, below zero if need be, and in two parts", async () => {
    const order = await paidSaleOf(ada)
    const at = shop.t.at()
    const open = async () =>
      (await previewPayout(s(), at + 1)).pay
        .concat((await previewPayout(s(), at + 1)).not as never)
        .filter((x) => x.affiliate === ada)
        .reduce((sum, x) => sum + x.amount, 0)
    const was = await open()
    const charge = await db().row<{ id: number; gross: number }>(
      "SELECT id, gross FROM charge WHERE order_id = ? AND state = 'succeeded' LIMIT 1",
      [order.id],
    )
    const paid = (await db().row<{ n: number }>("SELECT SUM(amount) AS n FROM commission WHERE charge_id = ?", [
      charge!.id,
    ]))!.n
    for (const part of [10_000, charge!.gross - 10_000])
      expect(
        await refundStory(s(), {
          story: order.id,
          once: once(),
          access: "ends",
          why: "",
          items: [{ charge: charge!.id, amount: part }],
        }),
      ).toEqual({ ok: true, waiting: 0 })
    expect(await open()).toBe(was - paid)
    const affiliates = await db().row<{ n: number }>("SELECT SUM(amount) AS n FROM commission_open")
    expect(-(await sums()).affiliates!).toBe(affiliates!.n)
  })
  it("whoever has ended gets what is left, and what can be paid to nobody is written off", async () => {
    expect(await writeOff(s(), ben)).toHaveProperty("refused")
    expect(await endAffiliate(s(), ben)).toEqual({ ok: true })
    const visitor = someVisitor()
    await click(ben, visitor)
    const { order } = await buy(shop, "fine", {}, visitor)
    expect((await sale(order))!.affiliate_id).toBeNull()
    const person = (await affiliateById(db(), ben))!.person!
    expect(await erasePerson(s(), person)).toEqual({ ok: true })
    expect(await affiliateById(db(), ben)).toMatchObject({ person: null, state: "ended" })
    const p = await previewPayout(s(), shop.t.at() + 400 * day)
    expect(p.not.find((n) => n.affiliate === ben)).toMatchObject({ why: "ended-nobody", name: "erased" })
    expect(await writeOff(s(), ben)).toEqual({ ok: true })
    expect(
      (await previewPayout(s(), shop.t.at() + 400 * day)).not.filter((n) => n.affiliate === ben && n.amount !== 0),
    ).toEqual([])
    expect(Object.values(await sums()).reduce((sum, n) => sum + n, 0)).toBe(0)
  })
})

describe("coming to be one", () => {
  it("by hand, by a list, by agreeing to the conditions of now, and once approved", async () => {
    const list = await addAffiliates(
      s(),
      shop.offers.main,
      "e-mail,name\ncleo@leaf.example,Cleo\nnot an address,X\nada@fern.example,Ada\n",
    )
    expect(list).toMatchObject({ taken: 1, refused: [{ line: 3 }, { line: 4 }] })
    await sendDue(s(), "w")
    const letter = shop.t.sent.findLast((m) => m.to.address === "cleo@leaf.example")!
    expect(letter.text.replace(/\s+/g, " ")).toContain("30 % of what was paid, without tax, with every charge")
    const cleo = (await db().row<{ id: number }>("SELECT id FROM person WHERE email = 'cleo@leaf.example'"))!.id
    const join = (version: number) =>
      db().transaction((tx) =>
        joinProgramme(tx, { person: cleo, offer: shop.offers.main, version, source: "invitation", at: shop.t.at() }),
      )
    expect(await join(7)).toHaveProperty("refused")
    // Invited before: agreeing is all that is missing.
    expect(await join((await programmeOf(db(), shop.offers.main))!.conditionsVersion)).toMatchObject({
      state: "active",
    })
    const { order } = await buy(shop, "fine", { email: "dora@post.example" })
    const asked = await db().transaction((tx) =>
      joinProgramme(tx, {
        person: order.person_id!,
        offer: shop.offers.main,
        version: 1,
        source: "lesson",
        at: shop.t.at(),
      }),
    )
    expect(asked).toMatchObject({ state: "asked" })
    if ("refused" in asked) throw new Error(asked.refused)
    expect(await approveAffiliate(s(), asked.affiliate)).toEqual({ ok: true })
    expect(await affiliateOf(db(), order.person_id!)).toMatchObject({ state: "active", name: "Ines", code: "ines" })
    expect(
      await changeAffiliate(s(), asked.affiliate, { name: "Dora Ines", shown: true, code: "ada-fern" }),
    ).toMatchObject({ field: "code" })
    expect(await changeAffiliate(s(), asked.affiliate, { name: "Dora Ines", shown: true, code: "dora" })).toEqual({
      ok: true,
    })
  })
})

async function openFree(of: Shop) {
  const { t } = of
  const at = new Date(t.at())
  await t.s.db.write(
    "INSERT INTO course (slug, title, promise, teacher, state, made_at, changed_at) VALUES ('first', 'First', 'A promise', 'Maren', 'live', ?, ?)",
    [at, at],
  )
  const course = (await t.s.db.row<{ id: number }>("SELECT id FROM course WHERE slug = 'first'"))!.id
  await t.s.db.write(
    "INSERT INTO lesson (course_id, position, title, body, minutes, state) VALUES (?, 1, 'One', '<p>Text</p>', 5, 'live')",
    [course],
  )
  const made = await newFunnel(t.s, { goal: "mini-course", course })
  if ("refused" in made) throw new Error(made.refused)
  const published = await publishFunnel(t.s, made.funnel, true)
  if ("refused" in published) throw new Error(published.refused)
  return { release: published.release, path: (await loadFunnel(t.s.db, made.funnel))!.steps[0]!.path }
}

async function firstSaleOf(who: number): Promise<number> {
  return (await db().row<{ id: number }>(
    "SELECT MIN(c.order_id) AS id FROM commission c JOIN payout_line l ON l.commission_id = c.id WHERE c.affiliate_id = ?",
    [who],
  ))!.id
}

async function paidSaleOf(who: number): Promise<OrderRow> {
  return (await db().row<OrderRow>(
    "SELECT o.* FROM orders o JOIN commission c ON c.order_id = o.id AND EXISTS (SELECT 1 FROM payout_line l WHERE l.commission_id = c.id) AND c.affiliate_id = ? AND c.level = 1 JOIN charge k ON k.order_id = o.id AND k.refunded = 0 ORDER BY o.id DESC LIMIT 1",
    [who],
  ))!
}
