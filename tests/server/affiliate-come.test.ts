// How affiliates come: by a page of their own, by an invitation, by an effect; who brought them; and what becomes of them when two
// persons turn out to be one.

import Papa from "papaparse"
import { afterAll, beforeAll, describe, expect, it } from "vitest"
import { affiliateById, affiliateOf, makeAffiliate, takePart } from "@/server/affiliate/affiliate"
import { allowBonus, chooseBonus, handInBonus, judgeBonus } from "@/server/affiliate/bonus"
import { acceptInvitation, addAffiliate, invitationPath, invitedTo } from "@/server/affiliate/come"
import { attachMentions, chainOf, recordMentions } from "@/server/affiliate/mention"
import { makePayout, markPaid, previewPayout } from "@/server/affiliate/payout"
import { payouts } from "@/server/affiliate/payout-after"
import { reckonAll } from "@/server/affiliate/reckon"
import { recommendingIn } from "@/server/affiliate/recommend"
import { saveAffiliateRules } from "@/server/affiliate/rules"
import { statementOf, statementsOf } from "@/server/affiliate/statement"
import { sweepHandedIn } from "@/server/course/hand-in"
import { openLesson } from "@/server/course/in-lesson"
import { myCourses } from "@/server/course/learn"
import { myFiles } from "@/server/course/my-files"
import { confirmJoin } from "@/server/funnel/confirm"
import { joinFunnel } from "@/server/funnel/join"
import { loadFunnel } from "@/server/funnel/load"
import { newFunnel } from "@/server/funnel/new-funnel"
import { addOnOccasion } from "@/server/funnel/occasion"
import { publishFunnel } from "@/server/funnel/release"
import { recoverCharges } from "@/server/ledger/charge"
import { exportOrders } from "@/server/ledger/orders"
import { refundStory } from "@/server/ledger/refund"
import { sendDue } from "@/server/mail/send"
import { mediaNames } from "@/server/media/media-view"
import { storeMedia } from "@/server/media/store"
import { proveDevice } from "@/server/person/session"
import { partPersons, unite, unitedLately } from "@/server/person/unite"
import {
  firstProgramme,
  programmeInput,
  programmeOf,
  publishConditions,
  saveMaterial,
  saveProgramme,
} from "@/server/programme/programme"
import { lastTo, linkId, someVisitor } from "../support/school"
import { buy, openShop, type Shop } from "../support/shop"

let shop: Shop
let ada: number
const day = 86_400_000
const s = () => shop.t.s
const db = () => s().db
const offer = () => shop.offers.main

beforeAll(async () => {
  shop = await openShop("affiliate-come")
  await saveAffiliateRules(s(), {
    days: 30,
    which: "last",
    consent: "not-needed",
    dueDays: 30,
    least: 0,
    payDays: [1],
    withTax: true,
    holder: "Juniper Crock",
    iban: "NO93 8601 1117 947",
    bic: "",
    notePrefix: "CN",
  })
  await saveProgramme(s(), offer(), { ...firstProgramme, on: true, second: 500 })
  await publishConditions(s(), offer(), "Be honest, and say that you are paid.")
  const made = await addAffiliate(s(), { email: "ada@fern.example", name: "Ada Fern", offer: offer(), atOnce: true })
  if ("refused" in made) throw new Error(made.refused)
  ada = made.id
})
afterAll(() => shop.end())

const click = (who: number, visitor: Buffer) =>
  recordMentions(db(), [{ affiliate: who, sub: "", step: null, visitor, at: shop.t.at() }])
const personOf = async (canonical: string) =>
  (await db().row<{ id: number }>("SELECT person_id AS id FROM address WHERE canonical = ?", [canonical]))!.id
const earned = async (order: number) =>
  (
    await db().rows<{ who: number; n: number }>(
      "SELECT affiliate_id AS who, SUM(amount) AS n FROM commission WHERE order_id = ? GROUP BY 1 ORDER BY 1",
      [order],
    )
  ).map((r) => [r.who, r.n])

describe("a page to sign up on", () => {
  it("takes whoever agreed to the conditions of now and showed the mailbox to be theirs, and knows who brought them", async () => {
    const made = await newFunnel(s(), { goal: "affiliates", offer: offer() })
    if ("refused" in made) throw new Error(made.refused)
    const published = await publishFunnel(s(), made.funnel, true)
    if ("refused" in published) throw new Error(published.refused)
    const path = (await loadFunnel(db(), made.funnel))!.steps[0]!.path
    const visitor = someVisitor()
    await click(ada, visitor)
    const send = (agreed?: string) =>
      joinFunnel(
        s(),
        {
          release: String(published.release),
          email: "bea@moss.example",
          name: "Bea Moss",
          zone: "Europe/Oslo",
          website: "",
          answers: {},
          ...(agreed === undefined ? {} : { agreed }),
        },
        { path, ip: "192.0.2.1", visitor, source: "direct" },
      )
    const { conditionsVersion } = (await programmeOf(db(), offer()))!
    expect(JSON.stringify(await send())).toContain("conditions")
    expect(JSON.stringify(await send("99"))).toContain("conditions")
    expect(await db().rows("SELECT 1 FROM pending_join")).toEqual([])
    await send(String(conditionsVersion))
    await sendDue(s(), "w")
    expect(await db().row("SELECT 1 FROM affiliate WHERE source = 'page'")).toBeUndefined()
    await confirmJoin(s(), linkId(shop.t, lastTo(shop.t, "bea@moss.example"), "confirm"), { ip: "192.0.2.1", visitor })
    const bea = (await affiliateOf(db(), await personOf("bea@moss.example")))!
    expect(bea).toMatchObject({ state: "asked", source: "page", broughtBy: ada, name: "Bea Moss" })
  })
})

describe("an invitation", () => {
  it("by a link takes any address and says the same to all; an outdated or made-up one leads nowhere", async () => {
    const key = invitationPath(s(), offer()).split("/").at(-1)!
    expect(await invitedTo(s(), key)).toMatchObject({ offer: offer() })
    expect(await invitedTo(s(), `${key.slice(0, -2)}zz`)).toBeUndefined()
    expect(await acceptInvitation(s(), key, { email: "not an address", name: "" }, "192.0.2.2")).toMatchObject({
      field: "email",
    })
    for (const email of ["cleo@leaf.example", "ada@fern.example"])
      expect(await acceptInvitation(s(), key, { email, name: "Cleo" }, "192.0.2.2")).toEqual({ ok: true })
    await sendDue(s(), "w")
    expect(lastTo(shop.t, "cleo@leaf.example").text).toContain("/way-in/")
    expect(await affiliateOf(db(), await personOf("cleo@leaf.example"))).toMatchObject({ state: "invited" })
    expect(await affiliateById(db(), ada)).toMatchObject({ state: "active" })
    await saveProgramme(s(), offer(), { ...programmeInput((await programmeOf(db(), offer()))!), on: false })
    expect(await invitedTo(s(), key)).toBeUndefined()
    expect(await acceptInvitation(s(), key, { email: "x@y.example", name: "" }, "192.0.2.2")).toHaveProperty("refused")
    await saveProgramme(s(), offer(), { ...programmeInput((await programmeOf(db(), offer()))!), on: true })
  })
  it("by an effect invites whoever reached a lesson, once", async () => {
    const { order } = await buy(shop, "fine", { email: "dora@hill.example" })
    const person = { person: order.person_id!, scope: null }
    const course = (await myCourses(s(), person))[0]!
    const lesson = course.lessons[0]!.id
    expect(
      await addOnOccasion(s(), {
        occasion: "lesson-begun",
        of: lesson,
        kind: "invite-affiliate",
        offer: offer(),
      }),
    ).toEqual({
      ok: true,
    })
    for (let i = 0; i < 2; i++) await openLesson(s(), person, course.slug, lesson)
    expect(await affiliateOf(db(), person.person)).toMatchObject({ state: "invited", source: "effect" })
    await sendDue(s(), "w")
    expect(
      shop.t.sent.filter((m) => m.to.address === "dora@hill.example" && /recommend/i.test(m.subject)),
    ).toHaveLength(1)
  })
  it("in a lesson shows the way in, and the own link once somebody is one", async () => {
    const page = { blocks: [{ id: "b1", kind: "recommend", recommends: offer() }] } as never
    const shown = async (person: number | null) => (await recommendingIn(s(), page, person)).get("b1")
    expect(await shown(null)).toMatchObject({ stands: "stranger", link: null, ready: [] })
    expect(await shown(await personOf("cleo@leaf.example"))).toMatchObject({
      stands: "could",
      conditions: "Be honest, and say that you are paid.",
    })
    const text = { id: null, kind: "words", title: "Short", words: "Look: ‹my link›", media: null, step: null }
    expect(await saveMaterial(s(), offer(), text)).toHaveProperty("id")
    const own = (await shown(await personOf("ada@fern.example")))!
    expect(own.link).toBe("http://localhost:4799/by/ada-fern")
    expect(own.ready[0]!.text).toMatch(/^Look: http:\/\/localhost:4799\/\S+via=ada-fern$/)
  })
  it("a picture that is none isn't taken", async () => {
    const media = (
      await db().write(
        "INSERT INTO media (kind, name, type, stored, size, made_at) VALUES ('file', 'x.svg', 'image/svg+xml', 'x', 20, NOW())",
      )
    ).id
    expect(
      await saveMaterial(s(), offer(), { id: null, kind: "picture", title: "P", words: "", media, step: null }),
    ).toMatchObject({ field: "media" })
    const script = Buffer.from('<svg xmlns="http://www.w3.org/2000/svg"><script>alert(1)</script></svg>')
    expect(await storeMedia(s(), "picture", "me.png", script)).toHaveProperty("refused")
  })
})

describe("who brought an affiliate", () => {
  it("is paid a share of their sales, but not of what they buy themselves", async () => {
    const bea = (await affiliateOf(db(), await personOf("bea@moss.example")))!.id
    await db().transaction(async (tx) => {
      await makeAffiliate(tx, {
        person: await personOf("bea@moss.example"),
        source: "hand",
        state: "active",
        at: shop.t.at(),
      })
      await takePart(tx, bea, offer(), 1, shop.t.at())
    })
    const visitor = someVisitor()
    await click(bea, visitor)
    const { order } = await buy(shop, "fine", { email: "eve@post.example" }, visitor)
    const [[, first], [, second]] = (await earned(order.id)) as [[number, number], [number, number]]
    expect((await earned(order.id)).map(([who]) => who)).toEqual([ada, bea])
    expect(second / first).toBeCloseTo(30 / 5, 2)
    const own = someVisitor()
    await click(bea, own)
    const { order: adas } = await buy(shop, "fine", { email: "ada@fern.example" }, own)
    expect((await earned(adas.id)).map(([who]) => who)).toEqual([bea])
    // Whatever is bought with Ada's card from now on is not hers.
    await db().write("UPDATE card SET fingerprint = CONCAT('f', id)")
  })
})

describe("what an affiliate's buyers get as well", () => {
  it("a lesson that they chose, and a file of theirs once the school has approved it; not what was refused", async () => {
    const lesson = (await db().row<{ id: number }>("SELECT id FROM lesson WHERE course_id = ?", [shop.extra]))!.id
    const allowed = await allowBonus(s(), offer(), { course: null, lesson, media: null })
    if ("refused" in allowed) throw new Error(allowed.refused)
    expect(await chooseBonus(s(), ada, allowed.id, true)).toEqual({ ok: true })
    const file = (name: string) => handInBonus(s(), ada, offer(), name, Buffer.from(`%PDF-1.4\n% ${name}\n`))
    for (const done of await Promise.all([file("salt.pdf"), file("refused.pdf")])) expect(done).toHaveProperty("stored")
    const handedIn = async (name: string) =>
      (await db().row<{ id: number }>("SELECT id FROM bonus WHERE name = ? AND affiliate_id = ?", [name, ada]))!.id
    const [salt, not] = [await handedIn("salt.pdf"), await handedIn("refused.pdf")]
    const sold = async (email: string) => {
      const visitor = someVisitor()
      await click(ada, visitor)
      const { order } = await buy(shop, "fine", { email }, visitor)
      const who = { person: order.person_id!, scope: null }
      return {
        courses: (await myCourses(s(), who)).map((c) => c.title).sort(),
        files: (await myFiles(s(), who)).map((f) => f.name),
      }
    }
    expect(await sold("hal@post.example")).toEqual({ courses: ["A Year", "Koji"], files: [] })
    expect(await judgeBonus(s(), salt, true)).toEqual({ ok: true })
    expect(await judgeBonus(s(), not, false)).toEqual({ ok: true })
    expect(await sold("ida@post.example")).toEqual({ courses: ["A Year", "Koji"], files: ["salt.pdf"] })
    await chooseBonus(s(), ada, allowed.id, false)
    // What waits isn't among the school's files; what was approved is.
    const names = async () => (await mediaNames(db(), s().config)).map((m) => m.name)
    expect(await names()).toContain("salt.pdf")
    expect(await names()).not.toContain("refused.pdf")
  })

  it("nothing is kept of what may not be handed in: no part in it, five waiting, not a file that can be opened safely", async () => {
    const kept = async () => (await db().row<{ n: number }>("SELECT COUNT(*) AS n FROM media"))!.n
    const pdf = (name: string) => handInBonus(s(), ada, offer(), name, Buffer.from("%PDF-1.4\n"))
    const before = await kept()
    expect(await handInBonus(s(), ada, shop.offers.second, "a.pdf", Buffer.from("%PDF-1.4\n"))).toHaveProperty(
      "refused",
    )
    expect(await handInBonus(s(), ada, offer(), "a.html", Buffer.from("<script>alert(1)</script>"))).toHaveProperty(
      "refused",
    )
    expect(await kept()).toBe(before)
    // Ten at once: five wait for the school, the others are as if they had never been sent.
    const done = await Promise.all(Array.from({ length: 10 }, (_, i) => pdf(`of-ten-${i}.pdf`)))
    expect(done.filter((d) => "stored" in d)).toHaveLength(5)
    expect(await kept()).toBe(before + 5)
    await sweepHandedIn({ ...s(), clock: { now: async () => shop.t.at() + 3 * 86_400_000 } })
    expect(await kept()).toBe(before + 5)
    await db().write("UPDATE bonus SET state = 'refused' WHERE affiliate_id = ? AND state = 'asked'", [ada])
  })
  it("stands in the orders' CSV with who recommended it, why, and everybody who did", async () => {
    let text = ""
    for await (const piece of exportOrders(db(), { search: "", state: null, offer: null, post: false })) text += piece
    const rows = Papa.parse<Record<string, string>>(text, { header: true }).data
    const one = rows.find((r) => r["e-mail"] === "ida@post.example")!
    expect(one).toMatchObject({ source: "affiliate ada-fern", "recommended by": "Ada Fern" })
    expect(one.why).toMatch(/^Counted for Ada Fern: link on/)
    expect(one.mentions).toContain("ada-fern")
    expect(rows.find((r) => r["e-mail"] === "dora@hill.example")).toMatchObject({ "recommended by": "", mentions: "" })
  })
})

describe("the rate", () => {
  it("is the one at the sale, whatever it was at the click, and every number agrees when it is reckoned anew", async () => {
    const p = programmeInput((await programmeOf(db(), offer()))!)
    const visitor = someVisitor()
    await click(ada, visitor)
    await saveProgramme(s(), offer(), { ...p, rate: { kind: "percent", value: 1000 } })
    const { order } = await buy(shop, "fine", { email: "finn@post.example" }, visitor)
    await saveProgramme(s(), offer(), p)
    const charge = (await db().row<{ id: number; net: number; gross: number }>(
      "SELECT id, net, gross FROM charge WHERE order_id = ?",
      [order.id],
    ))!
    expect(await earned(order.id)).toEqual([[ada, Math.round(charge.net / 10)]])
    await refundStory(s(), {
      story: order.id,
      once: "a-third-of-it-goes-back-00",
      access: "stays",
      why: "",
      items: [{ charge: charge.id, amount: Math.floor(charge.gross / 3) }],
    })
    const agreed = await reckonAll(db())
    expect(agreed.wrong).toEqual([])
    expect(agreed.charges).toBeGreaterThan(2)
    const [eur] = agreed.sums
    expect(eur).toMatchObject({ reckoned: eur!.written, booked: eur!.written })
    await db().write("UPDATE commission SET amount = amount + 1 WHERE charge_id = ? AND kind = 'earned'", [charge.id])
    expect((await reckonAll(db())).wrong).toMatchObject([{ order: order.id, charge: charge.id }])
    await db().write("UPDATE commission SET amount = amount - 1 WHERE charge_id = ? AND kind = 'earned'", [charge.id])
  })
})

describe("a crash", () => {
  it("between a commission and its entry in the books leaves neither; once it is over, both are there once", async () => {
    await db().write(
      "CREATE TRIGGER down BEFORE INSERT ON journal FOR EACH ROW IF NEW.account = 'affiliates' THEN SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'down'; END IF",
    )
    const visitor = someVisitor()
    await click(ada, visitor)
    await buy(shop, "fine", { email: "kim@post.example" }, visitor).catch(() => {})
    const order = (await db().row<{ id: number; state: string }>(
      "SELECT id, state FROM orders WHERE email = 'kim@post.example'",
    ))!
    const rows = async () => [
      (await db().rows("SELECT id FROM commission WHERE order_id = ?", [order.id])).length,
      (await db().rows("SELECT id FROM journal WHERE order_id = ? AND account = 'affiliates'", [order.id])).length,
    ]
    expect(order.state).not.toBe("paid")
    expect(await rows()).toEqual([0, 0])
    await db().write("DROP TRIGGER down")
    await db().write("UPDATE charge SET ask_at = '2020-01-01' WHERE order_id = ?", [order.id])
    expect(await recoverCharges(s())).toBe(1)
    expect(await recoverCharges(s())).toBe(0)
    expect(await rows()).toEqual([1, 1])
    expect((await reckonAll(db())).wrong).toEqual([])
  })
})

describe("a statement", () => {
  it("has tax on top for who has a tax number, and the books have it too; a file cut off is written again", async () => {
    await db().write(
      "UPDATE affiliate SET holder = 'Ada Fern', iban = 'DE89370400440532013000', tax_number = 'DE1' WHERE id = ?",
      [ada],
    )
    shop.t.set(shop.t.at() + 40 * day)
    const at = shop.t.at()
    const seen = await previewPayout(s(), at)
    const mine = seen.pay.find((x) => x.affiliate === ada)!
    const made = await makePayout(s(), {
      until: at,
      day: "2027-03-01",
      seen: seen.seen,
      once: "the-form-of-a-payout-0001",
    })
    if ("refused" in made) throw new Error(made.refused)
    // A worker died while it had it in hand.
    await db().write("UPDATE payout SET claimed_until = ?", [new Date(Date.now() + 60_000)])
    await payouts.run(s(), "w")
    expect(await db().row("SELECT file_at FROM payout")).toEqual({ file_at: null })
    await db().write("UPDATE payout SET claimed_until = ?, file_done = 1", [new Date(Date.now() - 1)])
    await markPaid(s(), made.ids[0]!)
    await Promise.all([payouts.run(s(), "w"), payouts.run(s(), "v")])
    const letters = await db().rows("SELECT id FROM mail WHERE kind = 'statement' AND person_id = ?", [
      await personOf("ada@fern.example"),
    ])
    expect(letters).toHaveLength(1)
    const [statement] = await statementsOf(db(), ada)
    const whole = (await statementOf(db(), statement!.id, ada))!
    expect(whole.gross).toBe(mine.amount + Math.round(mine.amount / 4))
    const booked = await db().row<{ n: number }>(
      "SELECT SUM(amount) AS n FROM journal WHERE payout_id IS NOT NULL AND account = 'tax'",
    )
    expect(booked!.n).toBe(Math.round(mine.amount / 4))
    const all = await db().row<{ n: number }>("SELECT SUM(amount) AS n FROM journal")
    expect(all!.n).toBe(0)
  })
})

describe("two who are one", () => {
  it("keep the affiliate, the mentions and the join, and give them back", async () => {
    const visitor = someVisitor()
    await click(ada, visitor)
    const { order } = await buy(shop, "fine", { email: "gil@work.example" }, visitor)
    const work = order.person_id!
    // The device that bought proves to be theirs, so that what it was shown is, too.
    await db().transaction((tx) => proveDevice(tx, { visitor }, work))
    await db().transaction((tx) => attachMentions(tx, visitor, work))
    const { order: other } = await buy(shop, "fine", { email: "gil@home.example" })
    const home = other.person_id!
    const { id } = await db().transaction((tx) =>
      makeAffiliate(tx, { person: work, source: "hand", state: "active", at: shop.t.at() }),
    )
    expect(await affiliateById(db(), id)).toMatchObject({ broughtBy: ada })
    expect(await unite(s(), home, work)).toEqual({ ok: true })
    expect(await affiliateOf(db(), home)).toMatchObject({ id })
    expect((await chainOf(db(), { visitor: null, person: home })).map((m) => m.affiliate)).toEqual([ada])
    const [united] = await unitedLately(s(), home)
    expect(await partPersons(s(), united!.id)).toEqual({ ok: true })
    expect(await affiliateOf(db(), work)).toMatchObject({ id })
    expect(await chainOf(db(), { visitor: null, person: home })).toEqual([])
  })
})
