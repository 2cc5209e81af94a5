// What the studio and the portal show of affiliates: lists and reports against sums made by hand, links, days, what waits.
import Papa from "papaparse"
import { afterAll, beforeAll, describe, expect, it } from "vitest"
import {
  affiliateById,
  affiliateOf,
  approveAffiliate,
  changeAffiliate,
  endAffiliate,
  makeAffiliate,
} from "@/server/affiliate/affiliate"
import { waitingOfAffiliates } from "@/server/affiliate/ahead"
import { handInBonus } from "@/server/affiliate/bonus"
import { addAffiliate } from "@/server/affiliate/come"
import { explainSale } from "@/server/affiliate/explain"
import { affiliatePage, listAffiliates, oddAffiliates, waitingAffiliates } from "@/server/affiliate/list"
import { previewPayout } from "@/server/affiliate/payout"
import {
  couponsOf,
  earnedDays,
  makeLink,
  openTo,
  partsFor,
  portalLinks,
  readyFor,
  removeLink,
  runningNow,
  targetsFor,
  withLink,
} from "@/server/affiliate/portal"
import { brought, report, reportCsv, salesOf } from "@/server/affiliate/report"
import { saveAffiliateRules } from "@/server/affiliate/rules"
import { moveSale } from "@/server/affiliate/sale"
import { newFunnel } from "@/server/funnel/new-funnel"
import { publishFunnel, unpublishFunnel } from "@/server/funnel/release"
import { refundStory } from "@/server/ledger/refund"
import { makeCoupon } from "@/server/offer/coupon"
import { erasePerson, everythingOf } from "@/server/person/erase"
import { makePerson } from "@/server/person/person"
import { firstProgramme, programmeInput, programmeOf, saveMaterial, saveProgramme } from "@/server/programme/programme"
import { homeOf, movedTo, nextBest, shortTarget, targetOf } from "@/server/programme/target"
import { affiliateIn, clickOn, ibans, onceOf, payRules, soldBy, withBank } from "../support/affiliates"
import { someVisitor, thatTuesday } from "../support/school"
import { buy, openShop, type Shop } from "../support/shop"

let shop: Shop
let [ada, ben] = [0, 0]
const day = 86_400_000
const s = () => shop.t.s
const db = () => s().db
const ever = { from: null, to: null }
let begin = 0

beforeAll(async () => {
  shop = await openShop("affiliate-views", { start: thatTuesday })
  begin = shop.t.at()
  await saveAffiliateRules(s(), payRules)
  await saveProgramme(s(), shop.offers.main, { ...firstProgramme, on: true })
  ada = await affiliateIn(shop, "ada@fern.example", "Ada Fern")
  ben = await affiliateIn(shop, "ben@low.example", "Ben Low")
})
afterAll(() => shop.end())

const giveBack = async (order: number, amount: number) => {
  const charge = await db().row<{ id: number }>("SELECT id FROM charge WHERE order_id = ? AND state = 'succeeded'", [
    order,
  ])
  const items = [{ charge: charge!.id, amount }]
  await refundStory(s(), { story: order, once: onceOf("back"), access: "stays", why: "", items })
}

describe("what somebody brings", () => {
  it("is the sum of their clicks, sales, refunds and commission, by affiliate, by link and by offer", async () => {
    // Two sales of 290.00, which are 232.00 without 25 % tax; of one 145.00 goes back; Ben sells one that goes back whole.
    await soldBy(shop, ada, "fine", {}, "letter")
    const half = await soldBy(shop, ada, "fine", {}, "stall")
    await giveBack(half.id, 14_500)
    const none = await soldBy(shop, ben)
    await giveBack(none.id, 29_000)
    for (let i = 0; i < 5; i++) await clickOn(shop, ada, someVisitor(), shop.t.at(), "letter")
    // The same visitor in the same hour is one click, in whatever pile it comes.
    const same = someVisitor()
    for (let i = 0; i < 3; i++) await clickOn(shop, ada, same, shop.t.at(), "letter")

    const all = await brought(db(), "affiliate", ever)
    expect(all.get(String(ada))).toEqual({
      clicks: 8,
      joins: 0,
      sales: 2,
      money: [{ currency: "EUR", net: 46_400, back: 11_600, commission: 6_960 + 3_480 }],
    })
    expect(all.get(String(ben))).toEqual({
      clicks: 1,
      joins: 0,
      sales: 1,
      money: [{ currency: "EUR", net: 23_200, back: 23_200, commission: 0 }],
    })
    const links = await brought(db(), "link", ever, ada)
    expect(links.get(`${ada}:letter`)).toMatchObject({ clicks: 7, sales: 1 })
    expect(links.get(`${ada}:stall`)).toMatchObject({ clicks: 1, sales: 1, money: [{ back: 11_600 }] })
    expect([...links.keys()].some((k) => k.startsWith(`${ben}:`))).toBe(false)
    const offers = await brought(db(), "offer", ever)
    expect([...offers]).toMatchObject([[String(shop.offers.main), { clicks: 0, sales: 3, money: [{ net: 69_600 }] }]])
  })

  it("is the same from totals as from the clicks themselves, and between two days only what came then", async () => {
    const window = { from: begin - 400 * day, to: begin + 400 * day }
    for (const by of ["affiliate", "link", "offer"] as const)
      expect(await brought(db(), by, window)).toEqual(await brought(db(), by, ever))
    const before = await brought(db(), "affiliate", ever)
    shop.t.set(begin + 40 * day)
    await soldBy(shop, ada)
    const later = await brought(db(), "affiliate", { from: begin + 30 * day, to: null })
    expect([...later.keys()]).toEqual([String(ada)])
    expect(later.get(String(ada))).toMatchObject({ clicks: 1, sales: 1 })
    expect(await brought(db(), "affiliate", { from: null, to: begin + 30 * day })).toEqual(before)
  })

  it("moves with a sale that is given to another, and the sums of stories agree with their rows", async () => {
    const order = await soldBy(shop, ada)
    const of = async (who: number) => (await brought(db(), "affiliate", ever)).get(String(who))!
    const [a, b] = [await of(ada), await of(ben)]
    expect(await moveSale(s(), { order: order.id, affiliate: ben, why: "he wrote to her first" })).toEqual({ ok: true })
    expect((await of(ada)).sales).toBe(a.sales - 1)
    expect((await of(ben)).money[0]!.commission).toBe(b.money[0]!.commission + 6_960)
    expect(await moveSale(s(), { order: order.id, affiliate: null, why: "nobody" })).toEqual({ ok: true })
    expect((await of(ben)).sales).toBe(b.sales)
    // A sale that counted for nobody is given to somebody.
    const { order: alone } = await buy(shop, "fine")
    expect(await moveSale(s(), { order: alone.id, affiliate: ada, why: "told so on the phone" })).toEqual({ ok: true })
    expect((await of(ada)).sales).toBe(a.sales)
    const wrong = await db().rows(
      `SELECT m.order_id FROM sale_sum m WHERE m.commission <> (SELECT COALESCE(SUM(c.amount), 0) FROM commission c WHERE c.order_id = m.order_id AND c.currency = m.currency AND c.kind <> 'written-off')
         OR m.net <> (SELECT SUM(c.net) FROM charge c JOIN orders o ON o.id = c.order_id WHERE COALESCE(o.first_id, o.id) = m.order_id AND c.state = 'succeeded')`,
    )
    expect(wrong).toEqual([])
    const clicks = await db().rows<{ n: number }>(
      "SELECT t.affiliate_id FROM mention_total t WHERE t.n <> (SELECT COUNT(*) FROM mention m WHERE m.affiliate_id = t.affiliate_id AND m.sub = t.sub) OR t.last_at <> (SELECT MAX(m.at) FROM mention m WHERE m.affiliate_id = t.affiliate_id AND m.sub = t.sub)",
    )
    expect(clicks).toEqual([])
  })

  it("says why a sale counted, with everybody who was mentioned, and who it could be given to", async () => {
    const visitor = someVisitor()
    await clickOn(shop, ben, visitor, shop.t.at() - 45 * day)
    await clickOn(shop, ada, visitor, shop.t.at() - 2 * day, "letter")
    const { order } = await buy(shop, "fine", {}, visitor)
    const why = (await explainSale(db(), order.id))!
    expect(why).toMatchObject({ affiliate: ada, name: "Ada Fern", moved: null, movable: true })
    expect(why.says).toBe(
      "Counted for Ada Fern: link on 1 January 2027, 2 days before, given out at “letter”. The link of Ben Low on 19 November 2026 was older than 30 days.",
    )
    expect(why.chain.map((m) => m.name)).toEqual(["Ben Low", "Ada Fern"])
    expect(why.earned).toMatchObject([{ name: "Ada Fern", amount: 6_960, base: 23_200, kind: "earned", payout: null }])
    expect(why.others.map((o) => o.name)).toEqual(["Ben Low"])
    expect(await salesOf(db(), ada, 1)).toMatchObject([{ order: order.id, sub: "letter", commission: 6_960 }])
    const { order: alone } = await buy(shop, "fine")
    expect(await explainSale(db(), alone.id)).toMatchObject({ affiliate: null, chain: [], earned: [] })
  })

  it("goes out as CSV, by what was asked, with no cell that a table would reckon", async () => {
    await changeAffiliate(s(), ben, { name: "=cmd()", shown: false, code: "ben" })
    for (const by of ["affiliate", "offer", "link"] as const) {
      let text = ""
      for await (const piece of reportCsv(db(), by, ever)) text += piece
      const { data, errors } = Papa.parse<Record<string, string>>(text.trim(), { header: true })
      expect(errors).toEqual([])
      expect(data).toHaveLength((await report(db(), by, ever)).length)
      for (const row of data) {
        expect(Object.values(row).join("\n")).not.toMatch(/^=/m)
        if (row.currency) {
          const left = Number(row.net) - Number(row["given back"]) - Number(row.commission)
          expect(Number(row.left)).toBeCloseTo(left, 2)
        }
      }
    }
    await changeAffiliate(s(), ben, { name: "Ben Low", shown: false, code: "ben" })
  })
})

describe("the list", () => {
  it("has those who sell most first, page by page, and finds by name, code and address", async () => {
    await db().write(
      "INSERT INTO person (id, name, email, zone, joined_at) SELECT 1000 + seq, CONCAT('Grower ', seq), CONCAT('grower', seq, '@field.example'), 'UTC', '2026-01-01' FROM seq_1_to_250",
    )
    await db().write(
      "INSERT INTO affiliate (id, person_id, state, code, public_name, asked_at, since, source) SELECT 1000 + seq, 1000 + seq, IF(seq > 240, 'asked', 'active'), CONCAT('grower-', seq), CONCAT('Grower ', seq), '2026-01-01', IF(seq > 240, NULL, '2026-11-20'), 'list' FROM seq_1_to_250",
    )
    const list = (more: object) =>
      listAffiliates(db(), { ...ever, state: null, search: "", page: 0, ...more }, shop.t.at())
    const first = await list({})
    expect(first.total).toBe(252)
    expect(first.list).toHaveLength(affiliatePage)
    // The oldest of all, who sell, stand before everybody who came since.
    expect(first.list.slice(0, 2).map((a) => a.name)).toEqual(["Ada Fern", "Ben Low"])
    const seen: number[] = []
    for (let page = 0; page < Math.ceil(252 / affiliatePage); page++)
      seen.push(...(await list({ page })).list.map((a) => a.id))
    expect(new Set(seen).size).toBe(252)
    expect((await list({ page: 9 })).list).toEqual([])
    expect((await list({ search: "ADA@FERN" })).list.map((a) => a.name)).toEqual(["Ada Fern"])
    expect((await list({ search: "grower-17" })).list.map((a) => a.code)).toEqual([
      "grower-17",
      ...[0, 1, 2, 3, 4, 5, 6, 7, 8, 9].map((n) => `grower-17${n}`),
    ])
    for (const search of ["%", "_", "\\", "'; --", "🫙"]) expect((await list({ search })).total).toBe(0)
    expect((await list({ state: "asked" })).total).toBe(10)
  })

  it("says who waits, who asked first at the top, whatever else is looked for", async () => {
    const waiting = await waitingAffiliates(db())
    expect(waiting.total).toBe(10)
    expect(waiting.first[0]).toMatchObject({ name: "Grower 241", email: "grower241@field.example" })
    expect(await waitingOfAffiliates(db(), shop.t.at())).toMatchObject([{ href: "/studio/affiliates" }])
    expect(await approveAffiliate(s(), waiting.first[0]!.id)).toEqual({ ok: true })
    expect((await waitingAffiliates(db())).total).toBe(9)
  })

  it("names what is odd with its numbers: clicks and nobody, sales that all went back, one connection, long quiet", async () => {
    const [clicky, back, near] = [1001, 1002, 1003]
    await db().write(
      `INSERT INTO mention (once, at, affiliate_id, visitor) SELECT RANDOM_BYTES(16), ?, ${clicky}, RANDOM_BYTES(16) FROM seq_1_to_200`,
      [new Date(shop.t.at())],
    )
    await db().write("INSERT INTO mention_total (affiliate_id, sub, n, last_at) VALUES (?, '', 200, ?)", [
      clicky,
      new Date(shop.t.at()),
    ])
    for (const who of [back, near])
      await db().write("INSERT INTO affiliate_in (affiliate_id, offer_id) VALUES (?, ?)", [who, shop.offers.main])
    for (let i = 0; i < 2; i++) {
      const o = await soldBy(shop, back)
      await giveBack(o.id, 29_000)
    }
    for (let i = 0; i < 3; i++) await soldBy(shop, near)
    const odd = new Map((await oddAffiliates(db(), shop.t.at())).map((a) => [a.id, a.odd]))
    expect(odd.get(clicky)).toEqual([{ kind: "clicks-only", clicks: 200 }])
    expect(odd.get(back)).toContainEqual({ kind: "all-refunded", sales: 2 })
    expect(odd.get(near)).toEqual([{ kind: "one-connection", sales: 3, of: 3 }])
    // Two months later whoever brought nothing since is quiet; who has ended is nobody's worry.
    const later = new Map((await oddAffiliates(db(), shop.t.at() + 61 * day)).map((a) => [a.id, a.odd]))
    expect(later.get(near)).toContainEqual({ kind: "quiet", days: 61 })
    await endAffiliate(s(), near)
    expect((await oddAffiliates(db(), shop.t.at() + 61 * day)).some((a) => a.id === near)).toBe(false)
  })
})

describe("the portal", () => {
  const me = async () => (await affiliateById(db(), ada))!

  it("counts days where the school is, from its midnight to its midnight", async () => {
    // 23:30 in Oslo on 1 March is 22:30 UTC; half an hour later it is the second.
    shop.t.set("2027-03-05T12:00:00Z")
    await clickOn(shop, ada, someVisitor(), Date.parse("2027-03-01T22:30:00Z"))
    await clickOn(shop, ada, someVisitor(), Date.parse("2027-03-01T23:00:00Z"))
    const days = await earnedDays(db(), ada, shop.t.at())
    expect(days).toHaveLength(30)
    expect(days.at(-1)!.day).toBe("2027-03-05")
    expect(days.filter((d) => d.clicks).map((d) => [d.day, d.clicks])).toEqual([
      ["2027-03-01", 1],
      ["2027-03-02", 1],
    ])
  })

  it("makes links to pages that are live and to checkouts, each once, and refuses what isn't there", async () => {
    const parts = await partsFor(db(), ada, shop.t.at())
    expect(parts).toMatchObject([{ runs: true, agreed: true, rate: null }])
    const targets = await targetsFor(s(), parts)
    expect(targets.map((t) => t.value)).toEqual([
      `step:${shop.step.sales}`,
      `step:${shop.step.checkout}`,
      `offer:${shop.offers.main}`,
    ])
    const made = await makeLink(s(), await me(), { to: targets[0]!.value, name: "Garden letter, 3!" })
    expect(made).toHaveProperty("ok")
    expect(await makeLink(s(), await me(), { to: targets[0]!.value, name: "garden LETTER 3" })).toMatchObject(made)
    const [link] = await portalLinks(s(), await me(), shop.t.at())
    expect(link).toMatchObject({
      sub: "garden-letter-3",
      live: true,
      short: "http://localhost:4799/by/ada-fern/garden-letter-3",
    })
    expect(link!.url).toBe("http://localhost:4799/a-year?via=ada-fern.garden-letter-3")
    for (const typed of [
      { to: "step:999999", name: "" },
      { to: `step:${shop.step.further}x`, name: "" },
      { to: "https://evil.example", name: "" },
      { to: "offer:0", name: "" },
      { to: targets[0]!.value, name: "🫙" },
      { to: targets[0]!.value, name: "x".repeat(81) },
      null,
    ])
      expect(await makeLink(s(), await me(), typed)).toHaveProperty("refused")
    // Nobody takes another's link away.
    await removeLink(s(), (await affiliateById(db(), ben))!, link!.id)
    expect(await portalLinks(s(), await me(), shop.t.at())).toHaveLength(1)
    await removeLink(s(), await me(), link!.id)
    expect(await portalLinks(s(), await me(), shop.t.at())).toEqual([])
  })

  it("has at most three hundred links", async () => {
    await db().write(
      "INSERT INTO affiliate_link (affiliate_id, step_id, sub, made_at) SELECT ?, ?, CONCAT('n', seq), NOW() FROM seq_1_to_300",
      [ada, shop.step.sales],
    )
    expect(await makeLink(s(), await me(), { to: `step:${shop.step.sales}`, name: "one more" })).toHaveProperty(
      "refused",
    )
    await db().write("DELETE FROM affiliate_link WHERE affiliate_id = ?", [ada])
  })

  it("puts the link where the words say it, and behind them otherwise", () => {
    expect(withLink("See ‹my link›, or ‹ My Link ›.", "L")).toBe("See L, or L.")
    expect(withLink("Do look.", "L")).toBe("Do look.\n\nL")
    expect(withLink("", "L")).toBe("L")
    // A link with what means something in a pattern stays as it is.
    expect(withLink("‹my link›", "https://x.example/?a=$&b=$1")).toBe("https://x.example/?a=$&b=$1")
  })

  it("has words to use for what nothing sells just now, and finds the next best page for a link", async () => {
    const p = (await programmeOf(db(), shop.offers.main))!
    await saveMaterial(s(), shop.offers.main, {
      kind: "words",
      id: null,
      title: "A few lines",
      words: "Look: ‹my link›",
      step: null,
      media: null,
    })
    expect((await readyFor(s(), await me(), p)).map((m) => m.text)).toEqual([
      "Look: http://localhost:4799/a-year?via=ada-fern",
    ])
    await makeLink(s(), await me(), { to: `step:${shop.step.sales}`, name: "letter" })
    expect(await shortTarget(db(), ada, "letter", shop.t.at())).toBe("a-year")
    expect(await shortTarget(db(), ada, "no-such-name", shop.t.at())).toBe("a-year")
    const mini = await newFunnel(s(), { goal: "mini-course", course: shop.extra })
    if ("refused" in mini) throw new Error(mini.refused)
    await publishFunnel(s(), mini.funnel, true)
    await unpublishFunnel(s(), shop.funnel)
    expect(await targetOf(db(), p)).toBeNull()
    expect(await homeOf(db(), ada, shop.t.at())).toBeNull()
    expect(await movedTo(db(), "a-year")).toBeNull()
    expect(await nextBest(db(), "a-year", ada, shop.t.at())).toBeNull()
    expect((await portalLinks(s(), await me(), shop.t.at()))[0]).toMatchObject({
      live: false,
      url: "http://localhost:4799/?via=ada-fern.letter",
    })
    expect((await readyFor(s(), await me(), p))[0]!.text).toBe("Look: http://localhost:4799/by/ada-fern")
    expect((await publishFunnel(s(), shop.funnel, true)) as object).not.toHaveProperty("refused")
    expect(await targetOf(db(), p)).toBe("a-year")
  })

  it("says what is running, what is open to join, and the codes that count for them", async () => {
    expect((await runningNow(db(), shop.t.at())).map((r) => r.says)).toEqual(["A Year"])
    await saveProgramme(s(), shop.offers.further, { ...firstProgramme, on: true, until: shop.t.at() + day })
    expect((await openTo(db(), ada, shop.t.at())).map((p) => p.offer)).toEqual([shop.offers.further])
    expect(await openTo(db(), ada, shop.t.at() + 2 * day)).toEqual([])
    expect((await openTo(db(), null, shop.t.at())).length).toBe(2)
    const made = await makeCoupon(s(), {
      code: "ADA15",
      givenOut: "Ada's letter",
      kind: "percent",
      value: 1_500,
      currency: null,
      on: "first",
      offers: [],
      from: null,
      until: shop.t.at() + day,
      usesInAll: null,
      usesPerPerson: null,
      affiliate: "ada-fern",
    })
    expect(made).not.toHaveProperty("refused")
    expect(await couponsOf(db(), ada, shop.t.at())).toEqual(["ADA15"])
    expect(await couponsOf(db(), ada, shop.t.at() + 2 * day)).toEqual([])
    const p = (await programmeOf(db(), shop.offers.further))!
    expect(await saveProgramme(s(), shop.offers.further, { ...programmeInput(p), on: false })).not.toHaveProperty(
      "refused",
    )
    expect(await openTo(db(), ada, shop.t.at())).toEqual([])
  })
})

describe("a person's own", () => {
  it("everything of their being an affiliate is given out, and goes when they are erased, but for what the books need", async () => {
    const found = await addAffiliate(s(), {
      email: "dot@moss.example",
      name: "Dot Moss",
      offer: shop.offers.main,
      atOnce: true,
    })
    if ("refused" in found) throw new Error(found.refused)
    const dot = found.id
    const person = (await affiliateById(db(), dot))!.person!
    await soldBy(shop, dot)
    await makeLink(s(), (await affiliateById(db(), dot))!, { to: `step:${shop.step.sales}`, name: "letter" })
    await db().write(
      "INSERT INTO bank_change (affiliate_id, holder, iban, bic, postal, tax_number, at, expires_at) VALUES (?, 'Dot Moss', 'DE89370400440532013000', '', 'Moss Lane 2', '', NOW(), NOW())",
      [dot],
    )
    await changeAffiliate(s(), dot, { name: "Dot Moss", shown: true, code: "dotty" })
    const all = (await everythingOf(db(), person))!
    for (const table of ["affiliate", "affiliate_in", "affiliate_link", "bank_change", "code_before", "commission"])
      expect(Object.keys(all)).toContain(table)
    const was = await db().row<{ changes: number }>("SELECT changes FROM affiliate_rules")
    expect(await erasePerson(s(), person)).toEqual({ ok: true })
    // Every front looks again, so that no page says their name any more.
    expect((await db().row<{ changes: number }>("SELECT changes FROM affiliate_rules"))!.changes).toBeGreaterThan(
      was!.changes,
    )
    for (const table of ["affiliate_link", "bank_change", "code_before"])
      expect(await db().rows(`SELECT 1 FROM ${table} WHERE affiliate_id = ?`, [dot])).toEqual([])
    expect(await affiliateById(db(), dot)).toMatchObject({ person: null, name: "", shown: false, state: "ended" })
    expect((await brought(db(), "affiliate", ever)).get(String(dot))).toMatchObject({ sales: 1 })
    const report_ = (await report(db(), "affiliate", ever)).find((r) => r.key === String(dot))
    expect(report_!.name).toBe("erased")
  })

  it("joins are counted for whoever was mentioned, once in a life", async () => {
    const before = (await brought(db(), "affiliate", ever)).get(String(ben))?.joins ?? 0
    const at = new Date(shop.t.at())
    const someone = await db().transaction((tx) =>
      makePerson(
        tx,
        {
          email: "eva@reed.example",
          canonical: "eva@reed.example",
          name: "Eva",
          zone: "UTC",
          confirmed: true,
          source: "direct",
        },
        at.getTime(),
      ),
    )
    await db().write("INSERT INTO affiliate_join (person_id, affiliate_id, sub, at) VALUES (?, ?, 'stall', ?)", [
      someone.person,
      ben,
      at,
    ])
    expect((await brought(db(), "affiliate", ever)).get(String(ben))!.joins).toBe(before + 1)
    expect((await earnedDays(db(), ben, shop.t.at())).at(-1)!.joins).toBe(1)
    expect(
      await db().transaction((tx) =>
        makeAffiliate(tx, { person: someone.person, source: "hand", state: "active", at: at.getTime() }),
      ),
    ).toMatchObject({ fresh: true })
    expect(await affiliateOf(db(), someone.person)).toMatchObject({ state: "active", code: "eva" })
  })
})

describe("whoever has ended", () => {
  it("hands nothing in any more, and is still paid where they say", async () => {
    const eda = await affiliateIn(shop, "eda@low.example", "Eda Low")
    await soldBy(shop, eda)
    expect(await endAffiliate(s(), eda)).toEqual({ ok: true })
    expect(await handInBonus(s(), eda, shop.offers.main, "a.pdf", Buffer.from("%PDF-1.4\n"))).toHaveProperty("refused")
    await withBank(shop, eda, ibans[1])
    shop.t.set(shop.t.at() + 31 * day)
    expect((await previewPayout(s(), shop.t.at())).pay).toMatchObject([{ affiliate: eda, amount: 6_960 }])
  })
})
