// Payouts: what stands in them, what is left out of them, and that nothing comes in between, whoever presses what at once.
import fc from "fast-check"
import { extractText, getDocumentProxy } from "unpdf"
import { afterAll, beforeAll, describe, expect, it } from "vitest"
import { endAffiliate } from "@/server/affiliate/affiliate"
import { leaveOut, writeOff } from "@/server/affiliate/commission"
import { makePayout, markPaid, obstaclesOf, previewPayout, undoPayout } from "@/server/affiliate/payout"
import { bankFileReady, payoutCsv, payouts } from "@/server/affiliate/payout-after"
import { dueLines, paidTo, payoutById, writtenTo } from "@/server/affiliate/payout-view"
import { reckonAll } from "@/server/affiliate/reckon"
import { saveAffiliateRules } from "@/server/affiliate/rules"
import { moveSale } from "@/server/affiliate/sale"
import { affiliateStanding } from "@/server/affiliate/standing"
import { statementFile, statementOf, statementsOf } from "@/server/affiliate/statement"
import { refundStory } from "@/server/ledger/refund"
import { firstProgramme, publishConditions, saveProgramme } from "@/server/programme/programme"
import { affiliateIn, ibans, onceOf, payNow, payRules, soldBy, withBank } from "../support/affiliates"
import { openShop, type Shop } from "../support/shop"

let shop: Shop
let [ada, ben, cleo] = [0, 0, 0]
const s = () => shop.t.s
const db = () => s().db
const day = 86_400_000

beforeAll(async () => {
  shop = await openShop("payout")
  await saveAffiliateRules(s(), { ...payRules, withTax: true })
  await saveProgramme(s(), shop.offers.main, { ...firstProgramme, on: true })
  ada = await affiliateIn(shop, "ada@fern.example", "Ada Fern")
  ben = await affiliateIn(shop, "ben@low.example", "Ben Low")
  cleo = await affiliateIn(shop, "cleo@leaf.example", "Cleo Leaf")
  await withBank(shop, ada, ibans[0], { taxNumber: "DE 123" })
  await withBank(shop, ben, ibans[1], { holder: "Ben Low" })
})
afterAll(() => shop.end())

const count = async (sql: string, values: unknown[] = []) => (await db().row<{ n: number }>(sql, values))!.n
/** Every row of commission is in no payout or in one, and every payout says what its lines come to. */
async function whole() {
  expect(
    await count(
      "SELECT COUNT(*) AS n FROM commission c WHERE (SELECT COUNT(*) FROM commission_open o WHERE o.commission_id = c.id) + (SELECT COUNT(*) FROM payout_line l WHERE l.commission_id = c.id) <> 1",
    ),
  ).toBe(0)
  expect(
    await count(
      `SELECT COUNT(*) AS n FROM payout p JOIN payout_to t ON t.payout_id = p.id WHERE p.state <> 'undone' AND NOT (
         (SELECT SUM(c.amount) FROM payout_line l JOIN commission c ON c.id = l.commission_id WHERE l.payout_id = p.id AND c.affiliate_id = t.affiliate_id) <=> t.net
         AND (SELECT COUNT(*) FROM payout_line l JOIN commission c ON c.id = l.commission_id WHERE l.payout_id = p.id AND c.affiliate_id = t.affiliate_id) = t.line_count)`,
    ),
  ).toBe(0)
}
const due = () => shop.t.set(shop.t.at() + 31 * day)
const openOf = (who: number) =>
  db().rows<{ id: number; amount: number }>(
    "SELECT commission_id AS id, amount FROM commission_open WHERE affiliate_id = ? ORDER BY commission_id",
    [who],
  )

describe("lines that were left out", () => {
  it("stay in sight, also when they are all that somebody has, and are put in again", async () => {
    await soldBy(shop, ben)
    await soldBy(shop, ben)
    due()
    const [first, second] = await openOf(ben)
    expect(await leaveOut(s(), { rows: [first!.id], why: "looks odd" })).toEqual({ ok: true })
    let p = await previewPayout(s(), shop.t.at())
    expect(p.pay).toMatchObject([{ affiliate: ben, lines: 1, leftOut: 1, amount: second!.amount }])
    expect(await leaveOut(s(), { rows: [second!.id], why: "looks odd as well" })).toEqual({ ok: true })
    p = await previewPayout(s(), shop.t.at())
    expect(p.pay).toEqual([])
    expect(p.not).toMatchObject([{ affiliate: ben, lines: 0, leftOut: 2, amount: 0, why: "left-out" }])
    const lines = await dueLines(db(), { until: shop.t.at(), currency: "EUR" }, ben, 0)
    expect(lines.map((l) => l.leftOut)).toEqual(["looks odd", "looks odd as well"])
    expect(await payNow(shop)).toHaveProperty("refused")
    expect(await leaveOut(s(), { rows: lines.map((l) => l.id), why: "" })).toEqual({ ok: true })
    expect((await previewPayout(s(), shop.t.at())).pay).toMatchObject([{ affiliate: ben, lines: 2, leftOut: 0 }])
  })

  it("are other people's business neither when they are in a payout nor when nobody says which", async () => {
    const made = await payNow(shop)
    if ("refused" in made) throw new Error(made.refused)
    const [line] = await dueLines(db(), { payout: made.ids[0]! }, ben, 0)
    expect(await leaveOut(s(), { rows: [line!.id], why: "too late" })).toHaveProperty("refused")
    for (const typed of [
      { rows: [], why: "x" },
      { rows: ["1; DROP"], why: "x" },
      { rows: [1], why: "x".repeat(201) },
      null,
    ])
      expect(await leaveOut(s(), typed)).toHaveProperty("refused")
    expect(await undoPayout(s(), made.ids[0]!)).toEqual({ ok: true })
    expect(await undoPayout(s(), made.ids[0]!)).toEqual({ ok: true })
    expect(await markPaid(s(), made.ids[0]!)).toHaveProperty("refused")
    await whole()
  })
})

describe("pressed at once", () => {
  it("a payout, a line left out and a sale given to another are one after the other, in any order", async () => {
    for (let round = 0; round < 4; round++) {
      const orders = [await soldBy(shop, ada), await soldBy(shop, ada), await soldBy(shop, ada)]
      due()
      const { seen } = await previewPayout(s(), shop.t.at())
      const [line] = await openOf(ada)
      const [made, left, moved] = await Promise.all([
        makePayout(s(), { once: onceOf("race"), until: shop.t.at(), day: "2027-01-04", seen }),
        leaveOut(s(), { rows: [line!.id], why: "while it is made" }),
        moveSale(s(), { order: orders[1]!.id, affiliate: cleo, why: "while it is made" }),
      ])
      await whole()
      // Either the payout came first, and the others were told so, or it was told that it isn't what was seen any more.
      if ("ok" in made) {
        expect(left).toHaveProperty("refused")
        expect(moved).toHaveProperty("refused")
        expect(await undoPayout(s(), made.ids[0]!)).toEqual({ ok: true })
      } else expect([left, moved].some((x) => "ok" in x)).toBe(true)
      await leaveOut(s(), { rows: (await openOf(ada)).map((l) => l.id), why: "" })
      await whole()
    }
  })

  it("a refund while it is made is in this payout or in the next, and counts once", async () => {
    const order = await soldBy(shop, ada)
    due()
    const charge = await db().row<{ id: number }>("SELECT id FROM charge WHERE order_id = ?", [order.id])
    const { seen } = await previewPayout(s(), shop.t.at())
    const until = shop.t.at()
    const before = await count("SELECT SUM(amount) AS n FROM commission")
    const [made] = await Promise.all([
      makePayout(s(), { once: onceOf("race"), until, day: "2027-01-04", seen }),
      refundStory(s(), {
        story: order.id,
        once: onceOf("refund"),
        access: "ends",
        why: "",
        items: [{ charge: charge!.id, amount: 10_000 }],
      }),
    ])
    await whole()
    // 30 % of 232.00 without tax is 69.60; 100.00 of 290.00 went back, so 24.00 of it does.
    expect(await count("SELECT SUM(amount) AS n FROM commission")).toBe(before - 2_400)
    expect((await reckonAll(db())).wrong).toEqual([])
    if ("ok" in made) await undoPayout(s(), made.ids[0]!)
  })

  it("the same form twice is one payout; two forms are one payout and one refusal", async () => {
    const { seen } = await previewPayout(s(), shop.t.at())
    const form = { until: shop.t.at(), day: "2027-01-04", seen }
    const once = onceOf("same")
    const same = await Promise.all([1, 2, 3].map(() => makePayout(s(), { ...form, once })))
    expect(new Set(same.map((x) => JSON.stringify(x))).size).toBe(1)
    expect(await makePayout(s(), { ...form, once: onceOf("other") })).toHaveProperty("refused")
    await whole()
    const { ids } = same[0] as { ids: readonly number[] }
    const pressed = await Promise.all([markPaid(s(), ids[0]!), undoPayout(s(), ids[0]!), markPaid(s(), ids[0]!)])
    const state = (await payoutById(db(), ids[0]!))!.state
    expect(["paid", "undone"]).toContain(state)
    // What was done stays done: the other was refused, or came to the same.
    expect(pressed.filter((x) => "ok" in x)).toHaveLength(state === "paid" ? 2 : 1)
    await whole()
    if (state === "undone") {
      const again = await payNow(shop)
      if ("refused" in again) throw new Error(again.refused)
      expect(await markPaid(s(), again.ids[0]!)).toEqual({ ok: true })
    }
  })
})

describe("what was paid", () => {
  it("is written to each once, taken off the short list, and found by its page", async () => {
    await payouts.run(s(), "w")
    expect(
      await count(
        "SELECT COUNT(*) AS n FROM commission_unpaid u JOIN payout_line l ON l.commission_id = u.commission_id JOIN payout p ON p.id = l.payout_id AND p.state = 'paid'",
      ),
    ).toBe(0)
    await whole()
    const { id } = (await db().row<{ id: number }>("SELECT id FROM payout WHERE state = 'paid'"))!
    const p = (await payoutById(db(), id))!
    const people = await paidTo(db(), id, 0)
    expect(people).toHaveLength(p.people)
    expect(people.reduce((sum, x) => sum + x.gross, 0)).toBe(p.gross)
    expect(await paidTo(db(), id, 1)).toEqual([])
    expect(await writtenTo(db(), id)).toBe(p.people)
    let text = ""
    for await (const piece of payoutCsv(db(), id)) text += piece
    const rows = text.trim().split("\r\n")
    expect(rows).toHaveLength(p.people + 1)
    expect(rows[0]).toBe("payment,credit note,affiliate,account holder,IBAN,BIC,currency,net,tax,paid,lines")
    expect(rows.find((r) => r.includes("Ada Fern"))).toContain("DE89370400440532013000")
    // The bank's file was lost with its disk: it is written again, the same.
    const file = (await bankFileReady(s(), id))!
    const { readFileSync, rmSync } = await import("node:fs")
    const was = readFileSync(file.path, "utf8")
    rmSync(file.path)
    expect(await bankFileReady(s(), id)).toBeNull()
    await payouts.run(s(), "w")
    expect(readFileSync((await bankFileReady(s(), id))!.path, "utf8")).toBe(was)
  })

  it("has a credit note that says what it said when it was made: by whom, and at which tax", async () => {
    const [note] = await statementsOf(db(), ada)
    const before = (await statementOf(db(), note!.id, ada))!
    expect(before).toMatchObject({ from: { name: "Juniper Crock" }, taxRate: 2500 })
    expect(before.gross).toBe(before.net + before.tax)
    await db().write("UPDATE school SET name = 'Another School', postal_address = 'Elsewhere 9', tax_rate = 700")
    expect(await statementOf(db(), note!.id, ada)).toEqual(before)
    const pdf = await getDocumentProxy((await statementFile(db(), shop.t.s.config, note!.id, ada))!.bytes.slice())
    const { text } = await extractText(pdf, { mergePages: true })
    expect(text).toContain("Tax, 25 %")
    expect(text).toContain("Juniper Crock")
    expect(text).not.toContain("Another School")
    await db().write("UPDATE school SET name = 'Juniper Crock', postal_address = '', tax_rate = 2500")
  })

  it("is numbered without a gap over any payouts, in the year of the day that the bank pays", async () => {
    const numbers = (
      await db().rows<{ n: string }>("SELECT note_number AS n FROM payout_to WHERE note_number IS NOT NULL ORDER BY id")
    ).map((r) => r.n)
    const years = new Map<string, number[]>()
    for (const n of numbers) {
      const [, year, place] = /^CN-(\d{4})-(\d{4,})$/.exec(n)!
      years.set(year!, [...(years.get(year!) ?? []), Number(place)])
    }
    for (const places of years.values()) expect(places.sort((a, b) => a - b)).toEqual(places.map((_, i) => i + 1))
  })
})

describe("who can't be paid", () => {
  it("is told why on their own page and in the preview, by the first thing that stands in the way", async () => {
    await soldBy(shop, cleo)
    due()
    const why = async (who: number) => (await obstaclesOf(db(), who, shop.t.at()))[0]?.why
    const seen = async (who: number) => {
      const p = await previewPayout(s(), shop.t.at())
      return p.not.find((n) => n.affiliate === who)?.why ?? null
    }
    expect([await why(cleo), await seen(cleo)]).toEqual(["no-bank", "no-bank"])
    await withBank(shop, cleo, ibans[2], { holder: "Cleo Leaf" })
    expect([await why(cleo), await seen(cleo)]).toEqual([null, null])
    await publishConditions(s(), shop.offers.main, "Be honest.")
    await db().write("UPDATE affiliate_in SET agreed_version = 1 WHERE affiliate_id = ?", [cleo])
    await publishConditions(s(), shop.offers.main, "Be honest, and say that you are paid.")
    expect([await why(cleo), await seen(cleo)]).toEqual(["conditions", "conditions"])
    await db().write("UPDATE affiliate_in SET agreed_version = 2 WHERE affiliate_id = ?", [cleo])
    await saveAffiliateRules(s(), { ...payRules, least: 100_000 })
    expect([await why(cleo), await seen(cleo)]).toEqual(["under-least", "under-least"])
    // Whoever has ended gets what is left, however little.
    expect(await endAffiliate(s(), cleo)).toEqual({ ok: true })
    expect([await why(cleo), await seen(cleo)]).toEqual([null, null])
  })

  it("has nothing left once it was written off, also of what would be due only later", async () => {
    const before = await affiliateStanding(db(), cleo, shop.t.at())
    expect(before[0]!.due).toBeGreaterThan(0)
    expect(await writeOff(s(), cleo)).toEqual({ ok: true })
    expect(await affiliateStanding(db(), cleo, shop.t.at())).toMatchObject([{ pending: 0, due: 0 }])
    // Pressed again it takes nothing more off.
    expect(await writeOff(s(), cleo)).toEqual({ ok: true })
    expect(await affiliateStanding(db(), cleo, shop.t.at())).toMatchObject([{ pending: 0, due: 0 }])
    expect(await count("SELECT SUM(amount) AS n FROM journal")).toBe(0)
    expect((await reckonAll(db())).wrong).toEqual([])
    const { sums } = await reckonAll(db())
    for (const x of sums) expect([x.written, x.booked]).toEqual([x.reckoned, x.reckoned])
  })
})

it("whatever is sold, given back, left out, paid and undone: nothing is in two payouts, nothing is lost, and the books agree", async () => {
  const step = fc.oneof(
    fc.record({ does: fc.constant("sell" as const), who: fc.integer({ min: 0, max: 1 }) }),
    fc.record({ does: fc.constant("back" as const), which: fc.nat(20), part: fc.integer({ min: 1, max: 9 }) }),
    fc.record({ does: fc.constant("later" as const), days: fc.integer({ min: 5, max: 40 }) }),
    fc.record({ does: fc.constant("leave-out" as const), which: fc.nat(20), in: fc.boolean() }),
    fc.record({ does: fc.constant("pay" as const), ends: fc.constantFrom("paid", "undone", "waits") }),
  )
  const sold: number[] = []
  await fc.assert(
    fc.asyncProperty(fc.array(step, { minLength: 6, maxLength: 14 }), async (steps) => {
      for (const x of steps) {
        if (x.does === "later") shop.t.set(shop.t.at() + x.days * day)
        if (x.does === "sell") sold.push((await soldBy(shop, [ada, ben][x.who]!)).id)
        if (x.does === "back" && sold.length) {
          const charge = await db().row<{ id: number; story: number; left_over: number }>(
            "SELECT c.id, c.order_id AS story, c.gross - c.refunded AS left_over FROM charge c WHERE c.order_id = ? AND c.state = 'succeeded'",
            [sold[x.which % sold.length]!],
          )
          const amount = Math.ceil((charge!.left_over * x.part) / 9)
          if (amount > 0)
            await refundStory(s(), {
              story: charge!.story,
              once: onceOf("some"),
              access: "stays",
              why: "",
              items: [{ charge: charge!.id, amount }],
            })
        }
        if (x.does === "leave-out") {
          const open = await db().rows<{ id: number }>("SELECT commission_id AS id FROM commission_open")
          if (open.length) await leaveOut(s(), { rows: [open[x.which % open.length]!.id], why: x.in ? "" : "not now" })
        }
        if (x.does === "pay") {
          const made = await payNow(shop)
          if ("ok" in made && x.ends === "paid") expect(await markPaid(s(), made.ids[0]!)).toEqual({ ok: true })
          if ("ok" in made && x.ends === "undone") expect(await undoPayout(s(), made.ids[0]!)).toEqual({ ok: true })
        }
      }
      await whole()
      const all = await reckonAll(db())
      expect(all.wrong).toEqual([])
      for (const x of all.sums) expect([x.written, x.booked]).toEqual([x.reckoned, x.reckoned])
      // What is owed by the books is what is open and in payouts that wait.
      const owed = -(await count("SELECT COALESCE(SUM(amount), 0) AS n FROM journal WHERE account = 'affiliates'"))
      const waits = await count(
        "SELECT COALESCE(SUM(t.net), 0) AS n FROM payout p JOIN payout_to t ON t.payout_id = p.id WHERE p.state = 'made'",
      )
      expect((await count("SELECT COALESCE(SUM(amount), 0) AS n FROM commission_open")) + waits).toBe(owed)
    }),
    { numRuns: 8, seed: 12 },
  )
}, 120_000)
