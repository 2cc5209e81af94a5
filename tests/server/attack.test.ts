// What a hostile stranger tries at the pages that sell: each of these once worked.

import { afterAll, beforeAll, describe, expect, it } from "vitest"
import { type FrontServer, frontServer } from "@/front/server"
import { markDone } from "@/server/course/in-lesson"
import { myCourses } from "@/server/course/learn"
import { doWhatIsDue } from "@/server/due-list"
import { savePage } from "@/server/funnel/edit"
import { joinFunnel } from "@/server/funnel/join"
import { loadFunnel } from "@/server/funnel/load"
import { newFunnel } from "@/server/funnel/new-funnel"
import { checkFunnel, publishFunnel } from "@/server/funnel/release"
import { addEffect } from "@/server/funnel/steps"
import { happen } from "@/server/happen"
import { acceptOffer, offeredTo } from "@/server/ledger/further"
import type { OrderRow } from "@/server/ledger/order"
import { exportOrders } from "@/server/ledger/orders"
import { checkoutIn, noteBegun, placeOrder } from "@/server/ledger/place"
import { refundStory } from "@/server/ledger/refund"
import { wayOn } from "@/server/ledger/way-on"
import { sendDue } from "@/server/mail/send"
import { makeCoupon } from "@/server/offer/coupon"
import { quote, shelfOf } from "@/server/offer/quote"
import { soldIn } from "@/server/offer/sold-in"
import type { Admitted } from "@/server/person/session"
import { releaseById } from "@/server/releases"
import { someVisitor } from "../support/school"
import { buy, course, formOf, offer, openShop, type Shop, saved } from "../support/shop"

let shop: Shop
let web: FrontServer
let origin: string
let free: { funnel: number; release: number; path: string; course: number; offer: number }
beforeAll(async () => {
  shop = await openShop("attack")
  const taste = await course(shop.t, "taste", "A Taste")
  const gift = await saved(shop.t, offer("A Taste", [{ kind: "free" }], { gifts: [{ kind: "course", course: taste }] }))
  const made = await newFunnel(shop.t.s, { goal: "sell-course", offer: gift, further: null, second: null })
  if ("refused" in made) throw new Error(made.refused)
  const published = await publishFunnel(shop.t.s, made.funnel, true)
  if ("refused" in published) throw new Error(published.refused)
  free = { funnel: made.funnel, release: published.release, path: "a-taste/checkout", course: taste, offer: gift }
  web = frontServer(shop.t.s, async (_, res) => void res.end("next"))
  await web.front.live.refresh()
  await new Promise<void>((r) => web.server.listen(0, "127.0.0.1", () => r()))
  origin = `http://127.0.0.1:${(web.server.address() as { port: number }).port}`
})
afterAll(async () => {
  await web.close()
  await shop.end()
})

const db = () => shop.t.s.db
const n = async (sql: string, values: unknown[] = []) =>
  (await db().row<{ n: number }>(`SELECT COUNT(*) AS n FROM ${sql}`, values))!.n
const at = (path: string, visitor = someVisitor(), ip = "192.0.2.1") => ({ path, ip, visitor, source: "direct" })
const get = (path: string, headers: Record<string, string> = {}) =>
  fetch(origin + path, { redirect: "manual", headers })
const post = (path: string, fields: Record<string, string>, headers: Record<string, string> = {}) =>
  fetch(origin + path, { method: "POST", redirect: "manual", body: new URLSearchParams(fields), headers })
const hidden = (html: string, name: string) => new RegExp(`name="${name}" value="([^"]*)"`).exec(html)?.[1] ?? ""
const cookiesOf = (res: Response) =>
  res.headers
    .getSetCookie()
    .map((c) => c.split(";")[0])
    .join("; ")

/** Takes what is free, as a form at its checkout. */
async function takeFree(
  email: string,
  visitor = someVisitor(),
  once = `free-${Math.random().toString(36).padEnd(24, "0").slice(2, 24)}`,
) {
  const page = await get("/a-taste/checkout")
  const seen = hidden(await page.text(), "seen")
  const form = { ...(await formOf(shop, null, { email })), once, seen, terms: null, release: String(free.release) }
  const placed = await placeOrder(shop.t.s, form, at(free.path, visitor))
  const order = await db().row<OrderRow>(
    "SELECT * FROM orders WHERE once = ? AND step_id IN (SELECT id FROM step WHERE funnel_id = ?)",
    [once, free.funnel],
  )
  return { placed, order, visitor }
}

describe("the number of a form", () => {
  it("of a dear checkout, sent again at a free one, is another order, and opens nothing of the dear one", async () => {
    const visitor = someVisitor()
    const refused = await buy(shop, "refused", { email: "thief@post.example" }, visitor)
    expect(refused.order.state).toBe("refused")
    const { order } = await takeFree("thief@post.example", visitor, refused.form.once)
    expect(order).toMatchObject({ state: "paid", gross: 0, funnel_id: free.funnel })
    expect(order!.id).not.toBe(refused.order.id)
    expect(await n("orders WHERE id = ? AND state = 'refused'", [refused.order.id])).toBe(1)
    const person = { person: order!.person_id!, scope: null }
    expect((await myCourses(shop.t.s, person)).map((c) => c.title)).toEqual(["A Taste"])
    expect(
      await n("fact WHERE kind = 'bought' AND funnel_id = ? AND person_id = ?", [shop.funnel, order!.person_id]),
    ).toBe(0)
  })
  it("of somebody else is another order, too", async () => {
    const one = await buy(shop, "refused")
    const placed = await placeOrder(
      shop.t.s,
      { ...(await formOf(shop, "fine")), once: one.form.once },
      at("a-year/checkout"),
    )
    expect(placed).toHaveProperty("goTo")
    expect(await n("orders WHERE once = ?", [one.form.once])).toBe(2)
  })
})

describe("an old release", () => {
  it("sells for an hour to whoever had the page open, and then no more", async () => {
    const form = await formOf(shop, "fine")
    const later = await formOf(shop, "fine")
    const published = await publishFunnel(shop.t.s, shop.funnel, true)
    const release = (published as { release: number }).release
    shop = { ...shop, release }
    shop.t.set(shop.t.at() + 3_000_000)
    expect(await placeOrder(shop.t.s, form, at("a-year/checkout"))).toHaveProperty("goTo")
    shop.t.set(shop.t.at() + 700_000)
    expect(await placeOrder(shop.t.s, later, at("a-year/checkout"))).toEqual({ refused: "old" })
    await web.front.live.refresh()
    const shown = await post("/a-year/checkout", { ...fields(later), email: "kept@post.example" })
    expect(shown.status).toBe(422)
    const html = await shown.text()
    expect(html).toContain("has changed since you opened the page")
    expect(html).toContain('value="kept@post.example"')
    expect(hidden(html, "release")).toBe(String(release))
    // The same for a sum asked for.
    expect((await post("/a-year/checkout", { ...fields(later), quote: "1" })).status).toBe(422)
  })
  const fields = (form: Awaited<ReturnType<typeof formOf>>) => ({
    once: form.once,
    release: form.release,
    email: form.email,
    seen: form.seen,
    token: form.card,
  })
  it("can't switch double opt-in off", async () => {
    const made = await newFunnel(shop.t.s, { goal: "mini-course", course: free.course })
    if ("refused" in made) throw new Error(made.refused)
    const step = (await db().row<{ id: number; page: string; path: string }>(
      "SELECT id, page, path FROM step WHERE funnel_id = ? AND kind = 'optin'",
      [made.funnel],
    ))!
    await db().write("UPDATE step SET page = ? WHERE id = ?", [
      step.page.replace('"confirm":true', '"confirm":false'),
      step.id,
    ])
    const loose = (await publishFunnel(shop.t.s, made.funnel, true)) as { release: number }
    await db().write("UPDATE step SET page = ? WHERE id = ?", [step.page, step.id])
    await publishFunnel(shop.t.s, made.funnel, true)
    shop.t.set(shop.t.at() + 3_700_000)
    const form = { release: String(loose.release), email: "somebody@post.example", name: "", zone: "", website: "" }
    expect(await joinFunnel(shop.t.s, form, at(step.path))).toMatchObject({ refused: "old" })
    expect(await n("address WHERE canonical = 'somebody@post.example'")).toBe(0)
    await web.front.live.refresh()
    const shown = await post(`/${step.path}`, form)
    expect([shown.status, (await shown.text()).includes("has changed since you opened it")]).toEqual([422, true])
  })
})

describe("giving back, with the access", () => {
  it("ends what an effect gave, and what came free with it, but not what another order or a form gives", async () => {
    const extra = await course(shop.t, "bonus", "Bonus")
    await addEffect(shop.t.s, { step: shop.step.checkout, outcome: "bought", kind: "open-course", course: extra })
    shop = { ...shop, release: ((await publishFunnel(shop.t.s, shop.funnel, true)) as { release: number }).release }
    const email = "returns@post.example"
    const first = await buy(shop, "fine", { email })
    const titles = async () =>
      (await myCourses(shop.t.s, { person: first.order.person_id!, scope: null })).map((c) => c.title)
    expect(await titles()).toEqual(["A Year", "Bonus"])
    const giveBack = async (order: OrderRow) => {
      const charge = (await db().row<{ id: number; gross: number }>("SELECT id, gross FROM charge WHERE order_id = ?", [
        order.id,
      ]))!
      const done = await refundStory(shop.t.s, {
        story: order.id,
        once: `back-${order.id}-${"0".repeat(20)}`,
        access: "ends",
        why: "",
        items: [{ charge: charge.id, amount: charge.gross }],
      })
      expect(done).toEqual({ ok: true, waiting: 0 })
    }
    // Bought twice: the second story keeps both open.
    const second = await buy(shop, "fine", { email })
    await giveBack(first.order)
    expect(await titles()).toEqual(["A Year", "Bonus"])
    await giveBack(second.order)
    expect(await titles()).toEqual([])
    expect(await wayOn(db(), { ...first.order, state: "refunded" }, shop.t.at())).toBe("/learn")
    expect(await offeredTo(shop.t.s, { ...first.order, state: "refunded" }, shop.step.further)).toEqual({
      goTo: "/learn",
    })
  })
})

describe("somebody else's address, typed into a free form", () => {
  it("shows and changes nothing of what they have done, until their mailbox has proved this device", async () => {
    const email = "customer@post.example"
    const real = await takeFree(email)
    const person = real.order!.person_id!
    const lesson = (await db().row<{ id: number }>("SELECT id FROM lesson WHERE course_id = ?", [free.course]))!.id
    await markDone(shop.t.s, { person, scope: null }, "taste", lesson, true)
    const fake = await takeFree(email)
    const stranger = { buyer: person, scope: String(fake.order!.id) }
    const done = async (who: Admitted) => (await myCourses(shop.t.s, who))[0]!.done.size
    expect(await done(stranger)).toBe(0)
    await markDone(shop.t.s, stranger, "taste", lesson, true)
    await markDone(shop.t.s, stranger, "taste", lesson, false)
    expect(await done({ person, scope: null })).toBe(1)
    // Done on a device that then proves to be theirs: it counts.
    await db().write("DELETE FROM lesson_done")
    await markDone(shop.t.s, stranger, "taste", lesson, true)
    expect([await done(stranger), await done({ person, scope: null })]).toEqual([1, 0])
    const data = { orders: stranger.scope }
    await db().transaction((tx) => happen(tx, { kind: "signed-in", at: shop.t.at(), person, data }))
    expect([await done(stranger), await done({ person, scope: null })]).toEqual([0, 1])
  })
  it("brings them one receipt in ten minutes, without a word of the stranger's", async () => {
    const email = "victim@post.example"
    for (let i = 0; i < 25; i++) await takeFree(email)
    await sendDue(shop.t.s, "w")
    expect(shop.t.sent.filter((m) => m.to.address === email)).toHaveLength(1)
  })
  it.each(["Win at https://evil.example now", "write to me@evil.example", "evil.example", "www.evil.example"])(
    "doesn't carry “%s” in place of a name",
    async (name) => {
      const form = await formOf(shop, "fine", { name })
      expect(await placeOrder(shop.t.s, form, at("a-year/checkout"))).toHaveProperty("goTo")
      await sendDue(shop.t.s, "w")
      const mail = shop.t.sent.find((m) => m.to.address === form.email)!
      expect(`${mail.text}${mail.html}${mail.to.name}`).not.toContain("evil")
    },
  )
  it("is not written to about a purchase that stopped, unless its mailbox has proved itself", async () => {
    const place = checkoutIn((await releaseById(db(), shop.release))!, "a-year/checkout")!
    const begin = async (email: string, visitor: ReturnType<typeof someVisitor>) =>
      noteBegun(
        shop.t.s,
        place,
        { ...(await formOf(shop, null, { email })), once: `stop-${email.padEnd(20, "x").replace(/\W/g, "_")}` },
        at("a-year/checkout", visitor),
      )
    const proved = someVisitor()
    const buyer = (await buy(shop, "fine", { email: "proved@post.example" })).order.person_id!
    await db().write("UPDATE address SET confirmed_at = '2026-01-01' WHERE canonical = 'proved@post.example'")
    await db().write("INSERT INTO device (visitor, person_id, proved_at) VALUES (?, ?, '2026-01-01')", [proved, buyer])
    await begin("never-came@post.example", someVisitor())
    await begin("other-box@post.example", proved)
    shop.t.set(shop.t.at() + 3_700_000)
    await doWhatIsDue(shop.t.s, "w")
    expect(await n("address WHERE canonical = 'never-came@post.example'")).toBe(0)
    expect(await n("address WHERE canonical = 'other-box@post.example'")).toBe(1)
  })
})

describe("credit for what is replaced", () => {
  it("is given once, and not for money that went back", async () => {
    const upgrade = await saved(
      shop.t,
      offer("Two Years", [{ kind: "full", amount: 50_000 }], { gifts: [{ kind: "post", title: "A second year" }] }),
    )
    const third = await saved(
      shop.t,
      offer("Three Years", [{ kind: "full", amount: 70_000 }], { gifts: [{ kind: "post", title: "A third year" }] }),
    )
    await db().write("UPDATE step SET settings = JSON_SET(settings, '$.offer', ?, '$.replaces', TRUE) WHERE id = ?", [
      upgrade,
      shop.step.further,
    ])
    await db().write("UPDATE step SET settings = JSON_SET(settings, '$.offer', ?, '$.replaces', TRUE) WHERE id = ?", [
      third,
      shop.step.second,
    ])
    shop = { ...shop, release: ((await publishFunnel(shop.t.s, shop.funnel, true)) as { release: number }).release }
    const bought = await buy(shop, "fine", { email: "upgrade@post.example" })
    const price = async (step: number) => {
      const offered = await offeredTo(shop.t.s, bought.order, step)
      return "quote" in offered ? { gross: offered.quote.today.gross, seen: offered.quote.seen } : offered
    }
    const charge = (await db().row<{ id: number }>("SELECT id FROM charge WHERE order_id = ?", [bought.order.id]))!
    expect(await price(shop.step.further)).toMatchObject({ gross: 21_000 })
    await refundStory(shop.t.s, {
      story: bought.order.id,
      once: `part-${"0".repeat(20)}`,
      access: "stays",
      why: "",
      items: [{ charge: charge.id, amount: 9_000 }],
    })
    const now = (await price(shop.step.further)) as { gross: number; seen: string }
    expect(now.gross).toBe(30_000)
    await acceptOffer(shop.t.s, bought.order.code, shop.step.further, now.seen)
    expect(await n("orders WHERE first_id = ? AND state = 'paid' AND gross = 30000", [bought.order.id])).toBe(1)
    // Its credit of 200 is used up: the next one costs what it costs.
    await db().write("DELETE FROM answer WHERE order_id = ?", [bought.order.id])
    expect(await price(shop.step.second)).toMatchObject({ gross: 70_000 })
  })
})

describe("a device that has just bought", () => {
  it("is told so, and charged again only when it says so", async () => {
    const visitor = someVisitor()
    await buy(shop, "fine", {}, visitor)
    const again = await formOf(shop, "fine")
    expect(await placeOrder(shop.t.s, again, at("a-year/checkout", visitor))).toMatchObject({
      refused: "form",
      again: true,
      says: expect.stringContaining("just now"),
    })
    expect(await n("orders WHERE visitor = ? AND state = 'paid' AND first_id IS NULL", [visitor])).toBe(1)
    const cookie = `heron_test_v=${visitor.toString("base64url")}`
    await web.front.live.refresh()
    expect(await (await get("/a-year/checkout", { cookie })).text()).toContain(
      "was bought on this device within the last day",
    )
    const shown = await post(
      "/a-year/checkout",
      { ...again, terms: "", card: "", again: "", consent: "", bumps: "", token: again.card, code: "" } as Record<
        string,
        string
      >,
      { cookie },
    )
    const html = await shown.text()
    expect([shown.status, hidden(html, "again")]).toEqual([422, "1"])
    expect(html).toContain("Once more: Pay")
    expect(
      await placeOrder(shop.t.s, { ...(await formOf(shop, "fine")), again: true }, at("a-year/checkout", visitor)),
    ).toHaveProperty("goTo")
  })
})

describe("where a buyer came from", () => {
  it("goes along from the first look to the order, the person and the file", async () => {
    const first = await get("/a-year?utm_source=garden%20letter")
    const cookie = cookiesOf(first)
    const page = await get("/a-year/checkout", { cookie })
    const html = await page.text()
    const form = await formOf(shop, "fine", { email: "from@post.example" })
    const sent = await post(
      "/a-year/checkout",
      {
        once: hidden(html, "once"),
        seen: hidden(html, "seen"),
        release: hidden(html, "release"),
        terms: hidden(html, "terms"),
        email: form.email,
        name: "Ines",
        token: form.card,
      },
      { cookie },
    )
    expect(sent.status).toBe(303)
    expect(
      await db().row(
        "SELECT o.source, p.source AS person FROM orders o JOIN person p ON p.id = o.person_id WHERE o.canonical = 'from@post.example'",
      ),
    ).toEqual({ source: "garden letter", person: "garden letter" })
    let csv = ""
    for await (const part of exportOrders(db(), { search: "from@post.example", state: null, offer: null, post: false }))
      csv += part
    expect(csv).toContain("garden letter")
  })
})

describe("coupons", () => {
  it("can't be guessed by the hundred, and never tell what another address has used", async () => {
    await makeCoupon(shop.t.s, {
      code: "ONCEEACH",
      givenOut: "a letter",
      kind: "percent",
      value: 1_000,
      currency: null,
      on: "first",
      offers: [],
      from: null,
      until: null,
      usesInAll: null,
      usesPerPerson: 1,
    })
    await buy(shop, "fine", { email: "used@post.example", code: "ONCEEACH" })
    const page = await get("/a-year/checkout")
    const cookie = cookiesOf(page)
    const html = await page.text()
    const ask = async (code: string, email = "") =>
      (
        await post(
          "/a-year/checkout",
          {
            once: hidden(html, "once"),
            release: hidden(html, "release"),
            terms: hidden(html, "terms"),
            quote: "1",
            code,
            email,
          },
          { cookie, "x-quote": "1" },
        )
      ).text()
    expect(await ask("ONCEEACH", "used@post.example")).toBe(await ask("ONCEEACH", "fresh@post.example"))
    const said = []
    for (let i = 0; i < 15; i++) said.push(await ask(`GUESS${i}`))
    expect(said.filter((s) => s.includes("isn&#39;t known here"))).toHaveLength(10)
    expect(said.at(-1)).toContain("Too many codes were tried")
    expect(await ask("ONCEEACH")).toContain("Too many codes were tried")
    const form = await formOf(shop, "fine", { email: "used@post.example", code: "ONCEEACH" })
    const q = await quote(
      db(),
      await shelfOf(db()),
      { main: shop.offers.main, terms: null, bumps: [], code: "ONCEEACH", canonical: null },
      shop.t.at(),
    )
    // Whoever has typed the address is answered as if the card had been refused; its owner, signed in, is told why.
    const visitor = at("a-year/checkout", someVisitor(), "192.0.2.77")
    const placed = await placeOrder(shop.t.s, { ...form, seen: q!.seen }, visitor)
    expect(placed).toMatchObject({ goTo: expect.stringMatching(/^\/order\//) })
    expect(await db().row("SELECT state, gross FROM orders ORDER BY id DESC LIMIT 1")).toMatchObject({
      state: "refused",
    })
    expect(
      await placeOrder(
        shop.t.s,
        { ...form, once: `${form.once}x`, seen: q!.seen },
        { ...visitor, proved: "used@post.example" },
      ),
    ).toMatchObject({ refused: "form", says: "This code has been used up.", codeGone: true })
  })
})

describe("a price on a page", () => {
  it("is seen by preflight and by where an offer is sold", async () => {
    const other = await saved(
      shop.t,
      offer("Shown Only", [{ kind: "full", amount: 100 }], { gifts: [{ kind: "post", title: "x" }] }),
    )
    const step = (await db().row<{ page: string; revision: number }>("SELECT page, revision FROM step WHERE id = ?", [
      shop.step.sales,
    ]))!
    const page = JSON.parse(step.page.replace(`"offer":${shop.offers.main}`, `"offer":${other}`))
    await savePage(shop.t.s, shop.step.sales, step.revision, page)
    expect((await soldIn(db())).filter((x) => x.offer === other)).toMatchObject([
      { step: shop.step.sales, use: "shows its price" },
    ])
    await db().write("UPDATE offer SET removed_at = '2026-01-01' WHERE id = ?", [other])
    const findings = await checkFunnel(shop.t.s, (await loadFunnel(db(), shop.funnel))!)
    expect(findings).toContainEqual(expect.objectContaining({ rule: "offer-missing", step: shop.step.sales }))
  })
})
