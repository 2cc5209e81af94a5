// What comes in from outside about affiliates: lists, invitations, programmes from two windows, bank details and their links.
import { afterAll, beforeAll, describe, expect, it } from "vitest"
import { type FrontServer, frontServer } from "@/front/server"
import { affiliateOf, changeAffiliate, endAffiliate, makeAffiliate, setOwnRate } from "@/server/affiliate/affiliate"
import { askBankChange, bankChangeState, bankOf, confirmBankChange, waitingBank } from "@/server/affiliate/bank"
import { acceptInvitation, addAffiliate, addAffiliates, invitationPath, invitedTo } from "@/server/affiliate/come"
import { saveAffiliateRules } from "@/server/affiliate/rules"
import { sendDue } from "@/server/mail/send"
import { firstProgramme, programmeStored, saveMaterial, saveProgramme } from "@/server/programme/programme"
import { sign } from "@/server/sign"
import { affiliateIn, ibans, payRules } from "../support/affiliates"
import { openShop, type Shop } from "../support/shop"

let shop: Shop
let ada: number
let web: FrontServer
let origin: string
const s = () => shop.t.s
const db = () => s().db
const day = 86_400_000

beforeAll(async () => {
  shop = await openShop("affiliate-input")
  await saveAffiliateRules(s(), payRules)
  await saveProgramme(s(), shop.offers.main, { ...firstProgramme, on: true })
  ada = await affiliateIn(shop, "ada@fern.example", "Ada Fern")
  web = frontServer(s(), async (_, res) => void res.end("next"))
  await web.front.live.refresh()
  await new Promise<void>((r) => web.server.listen(0, "127.0.0.1", () => r()))
  origin = `http://127.0.0.1:${(web.server.address() as { port: number }).port}`
})
afterAll(async () => {
  await web.close()
  await shop.end()
})

const person = async (email: string) =>
  (await db().row<{ id: number }>("SELECT person_id AS id FROM address WHERE canonical = ?", [email]))?.id

describe("a list", () => {
  const add = (text: string) => addAffiliates(s(), shop.offers.main, text)

  it("is taken with a mark at its beginning, semicolons, quotes, other line ends and columns in any order", async () => {
    const lists = [
      "\uFEFFE-Mail,Name\r\none@list.example,One\r\n",
      'name;email\n"Two; and a half";two@list.example\n',
      "first name\te-mail\nThree\tthree@list.example",
      "email\nfour@list.example\n\n\n",
    ]
    for (const text of lists) expect(await add(text)).toEqual({ taken: 1, refused: [] })
    const two = (await affiliateOf(db(), (await person("two@list.example"))!))!
    expect(two).toMatchObject({ name: "Two; and a half", state: "invited", source: "list" })
  })

  it("says of each line that it can't take why, by the number it has in the file, and takes the others", async () => {
    const done = await add(
      "email,name\nfive@list.example,Five\nnobody,X\n,Y\nsix@list.example,Line\u2028break\nfive@list.example,Again\n",
    )
    expect(done).toMatchObject({ taken: 2 })
    if ("refused" in done && Array.isArray(done.refused)) expect(done.refused.map((r) => r.line)).toEqual([3, 4, 5])
  })

  it("is refused whole without a header, or with more lines than are taken at once", async () => {
    expect(await add("one@list.example,One\n")).toHaveProperty("refused", expect.stringContaining("first line"))
    expect(await add("")).toHaveProperty("refused", expect.any(String))
    expect(await add(`email\n${"x@list.example\n".repeat(2_001)}`)).toHaveProperty("refused", expect.any(String))
  })

  it("makes nobody one twice, and invites nobody who ended", async () => {
    const before = await db().rows("SELECT id FROM affiliate")
    expect(await add("email\none@list.example\n")).toMatchObject({ taken: 1 })
    const four = (await affiliateOf(db(), (await person("four@list.example"))!))!
    await endAffiliate(s(), four.id)
    await add("email\nfour@list.example\n")
    expect((await affiliateOf(db(), four.person!))!.state).toBe("ended")
    expect(await db().rows("SELECT id FROM affiliate")).toHaveLength(before.length)
  })
})

describe("an invitation", () => {
  const key = () => invitationPath(s(), shop.offers.main).split("/").at(-1)!
  const accept = (email: string, name = "", more: object = {}, ip = "198.51.100.7") =>
    acceptInvitation(s(), key(), { email, name, ...more }, ip)

  it("is for its own programme and can't be made up, and closes with it", async () => {
    expect(await invitedTo(s(), key())).toMatchObject({ offer: shop.offers.main })
    const of = (text: string, purpose: "recommend" | "bank" = "recommend") => sign(s().config.secret, purpose, text)
    for (const bad of [of("1", "bank"), of("0"), of("1e1"), of(String(shop.offers.further)), `${key()}x`, "", "1."])
      expect(await invitedTo(s(), bad)).toBeUndefined()
    await saveProgramme(s(), shop.offers.main, { ...firstProgramme, on: true, until: shop.t.at() + day })
    shop.t.set(shop.t.at() + 2 * day)
    expect(await invitedTo(s(), key())).toBeUndefined()
    expect(await accept("late@post.example")).toHaveProperty("refused")
    await saveProgramme(s(), shop.offers.main, { ...firstProgramme, on: true })
  })

  it("answers the same for known and unknown addresses, mails each once, and carries no words of a stranger's", async () => {
    expect(await accept("ada@fern.example")).toEqual({ ok: true })
    expect(await accept("new@post.example", "visit evil.example now")).toEqual({ ok: true })
    expect(await accept("new@post.example", "again")).toEqual({ ok: true })
    expect(await accept("robot@post.example", "", { website: "http://spam.example" })).toEqual({ ok: true })
    await sendDue(s(), "w")
    const to = (email: string) => shop.t.sent.filter((m) => m.to.address === email)
    expect(to("new@post.example")).toHaveLength(1)
    expect(to("robot@post.example")).toHaveLength(0)
    const letter = to("new@post.example")[0]!
    expect(`${letter.subject} ${letter.text} ${letter.html} ${letter.to.name}`).not.toContain("evil.example")
  })

  it("lets one connection try so often, and no more", async () => {
    const tried = []
    for (let i = 0; i < 40; i++) tried.push(await accept(`many${i}@post.example`, "", {}, "2001:db8:9:9::7"))
    expect(tried.filter((x) => "ok" in x).length).toBeLessThanOrEqual(30)
    expect(tried.at(-1)).toHaveProperty("refused")
    expect(await accept("other@post.example", "", {}, "198.51.100.200")).toEqual({ ok: true })
  })
})

describe("a programme in two windows", () => {
  it("has what each changed; what both changed is told and not decided", async () => {
    const opened = await programmeStored(db(), shop.offers.main)
    expect(
      await saveProgramme(s(), shop.offers.main, { ...opened.value, about: "For whoever bakes" }, opened),
    ).toHaveProperty("revision")
    const merged = await saveProgramme(s(), shop.offers.main, { ...opened.value, second: 500 }, opened)
    expect(merged).toMatchObject({ value: { about: "For whoever bakes", second: 500 } })
    const clash = await saveProgramme(s(), shop.offers.main, { ...opened.value, about: "For bakers" }, opened)
    expect(clash).toMatchObject({ clash: ["about"], theirs: { about: "For whoever bakes" } })
  })

  it("takes nothing that can't be meant", async () => {
    const wrong = [
      { from: shop.t.at() + day, until: shop.t.at() },
      {
        steps: [
          { from: 5, rate: 4_000 },
          { from: 5, rate: 5_000 },
        ],
      },
      { rate: { kind: "percent", value: 9_600 }, second: 500 },
      { about: "x".repeat(4_001) },
      { approve: "sometimes" },
      { step: -1 },
    ]
    for (const more of wrong)
      expect([Object.keys(more), await saveProgramme(s(), shop.offers.main, { ...firstProgramme, ...more })]).toEqual([
        Object.keys(more),
        expect.objectContaining({ refused: expect.any(String) }),
      ])
    expect(await saveProgramme(s(), 999_999, firstProgramme)).toHaveProperty("refused")
    const words = { id: null, kind: "words", title: "A line", words: "x", media: null, step: null }
    for (const more of [
      { title: " " },
      { words: "" },
      { kind: "picture" },
      { kind: "picture", media: 999_999 },
      { id: 999_999 },
      { title: "x".repeat(121) },
    ])
      expect(await saveMaterial(s(), shop.offers.main, { ...words, ...more })).toHaveProperty("refused")
  })

  it("an own rate is for who takes part, and for nobody else", async () => {
    expect(await setOwnRate(s(), ada, shop.offers.main, { kind: "percent", value: 4_000 })).toEqual({ ok: true })
    expect(await setOwnRate(s(), ada, shop.offers.main, { kind: "percent", value: 40_000 })).toHaveProperty("refused")
    expect(await setOwnRate(s(), ada, shop.offers.further, null)).toHaveProperty("refused")
  })
})

describe("what others see of an affiliate", () => {
  it("is a name that turns nothing round and a word that nobody else has, or had", async () => {
    const change = (more: object) =>
      changeAffiliate(s(), ada, { name: "Ada Fern", shown: true, code: "ada-fern", ...more })
    for (const more of [
      { name: "" },
      { name: "Ada\u202Enref" },
      { name: "Ada\nFern" },
      { name: "x".repeat(121) },
      { code: "a" },
      { code: "ada fern" },
      { code: "-ada" },
      { code: "å" },
      { shown: "yes" },
    ])
      expect([more, await change(more)]).toEqual([more, expect.objectContaining({ refused: expect.any(String) })])
    const ben = await affiliateIn(shop, "ben@low.example", "Ben Low")
    expect(await change({ code: "ada" })).toEqual({ ok: true })
    // Her old links go on working, so nobody else gets the word; she may take it again.
    expect(await changeAffiliate(s(), ben, { name: "Ben", shown: false, code: "ada-fern" })).toHaveProperty(
      "field",
      "code",
    )
    expect(await change({})).toEqual({ ok: true })
  })

  it("comes to be without a name or with one that has no letters", async () => {
    const made = await addAffiliate(s(), { email: "zoe@moss.example", name: "", offer: shop.offers.main, atOnce: true })
    if ("refused" in made) throw new Error(made.refused)
    expect(await affiliateOf(db(), (await person("zoe@moss.example"))!)).toMatchObject({ code: "zoe", name: "zoe" })
    const emoji = await affiliateIn(shop, "jar@moss.example", "🫙🫙")
    const two = await affiliateIn(shop, "jars@moss.example", "🫙")
    const codes = await db().rows<{ code: string }>("SELECT code FROM affiliate WHERE id IN (?)", [[emoji, two]])
    expect(new Set(codes.map((c) => c.code)).size).toBe(2)
    for (const { code } of codes) expect(code).toMatch(/^[a-z0-9-]{2,40}$/)
  })

  it("two at once with the same name have a word each", async () => {
    const made = await Promise.all(
      [1, 2, 3, 4].map((n) =>
        addAffiliate(s(), { email: `same${n}@moss.example`, name: "Same Name", offer: shop.offers.main, atOnce: true }),
      ),
    )
    expect(made.every((m) => "ok" in m)).toBe(true)
    const codes = await db().rows<{ code: string }>("SELECT code FROM affiliate WHERE public_name = 'Same Name'")
    expect(new Set(codes.map((c) => c.code)).size).toBe(4)
    const one = (await person("same1@moss.example"))!
    const again = await Promise.all(
      [1, 2].map(() =>
        db().transaction((tx) => makeAffiliate(tx, { person: one, source: "hand", state: "active", at: shop.t.at() })),
      ),
    )
    expect(new Set(again.map((a) => a.id)).size).toBe(1)
  })
})

describe("bank details", () => {
  const typed = { holder: "Ada Fern", iban: ibans[0]!, bic: "", postal: "Moss Lane 1", taxNumber: "" }
  const ask = (more: object = {}) => askBankChange(s(), ada, { ...typed, ...more })
  const last = async () => (await db().row<{ id: number }>("SELECT MAX(id) AS id FROM bank_change"))!.id
  const open = (id: number, method = "GET", purpose: "bank" | "way-in" = "bank") =>
    fetch(`${origin}/bank/${sign(s().config.secret, purpose, String(id))}`, { method, redirect: "manual" })

  it("count once the mailbox has said yes, by the latest link only, once", async () => {
    expect(await ask()).toEqual({ ok: true })
    const first = await last()
    expect((await bankOf(db(), ada))!.iban).toBe("")
    expect(await waitingBank(db(), ada, shop.t.at())).toMatchObject({ iban: "DE89370400440532013000" })
    expect(await ask({ iban: ibans[2]! })).toEqual({ ok: true })
    const second = await last()
    // Whoever opens a link changes nothing, a mail program that looks ahead neither.
    expect((await open(second)).status).toBe(200)
    expect((await open(second, "HEAD")).status).toBe(200)
    expect((await open(first)).status).toBe(410)
    expect((await open(first, "POST")).status).toBe(410)
    expect((await open(second, "POST", "way-in")).status).toBe(404)
    expect((await bankOf(db(), ada))!.iban).toBe("")
    expect((await open(second, "POST")).status).toBe(200)
    expect(await bankOf(db(), ada)).toMatchObject({ iban: "NL91ABNA0417164300", holder: "Ada Fern" })
    await ask({ holder: "Somebody Else" })
    expect(await confirmBankChange(s(), second)).toBe(false)
    expect(await bankChangeState(s(), second)).toMatchObject({ state: "done" })
  })

  it("are over after three days", async () => {
    await ask()
    const id = await last()
    shop.t.set(shop.t.at() + 3 * day + 1)
    expect(await bankChangeState(s(), id)).toMatchObject({ state: "over" })
    expect((await open(id, "POST")).status).toBe(410)
    expect(await waitingBank(db(), ada, shop.t.at())).toBeUndefined()
    expect((await bankOf(db(), ada))!.iban).toBe("NL91ABNA0417164300")
  })

  it("are refused where they are wrong, by the field that is", async () => {
    const wrong: [object, string][] = [
      [{ iban: "" }, "iban"],
      [{ iban: "XX89 3704 0044 0532 0130 00" }, "iban"],
      [{ iban: "DE89 3704 0044 0532 0130 01" }, "iban"],
      [{ iban: "DE89 3704" }, "iban"],
      [{ bic: "NOT A BIC" }, "bic"],
      [{ holder: " " }, "holder"],
      [{ postal: "x".repeat(401) }, "postal"],
      [{ taxNumber: "x".repeat(41) }, "taxNumber"],
    ]
    for (const [more, field] of wrong)
      expect([more, await ask(more)]).toEqual([more, expect.objectContaining({ field })])
  })

  it("are asked for so often in an hour, and no more: each is a mail", async () => {
    const tried = []
    for (let i = 0; i < 14; i++) tried.push(await ask())
    expect(tried.filter((x) => "ok" in x).length).toBeLessThanOrEqual(10)
    expect(tried.at(-1)).toHaveProperty("refused")
  })
})
