// The pages that sell, over HTTP as a browser asks for them: what is shown to whom, without script too, and what nobody can
// talk the server into.
import { gzipSync } from "node:zlib"
import { afterAll, beforeAll, describe, expect, inject, it } from "vitest"
import { type FrontServer, frontServer } from "@/front/server"
import type { OrderRow } from "@/server/ledger/order"
import { beginSession, sessionCookie } from "@/server/person/session"
import { openFront, type TestFront } from "../support/front"
import { buy, formOf, openShop, type Shop, tokenOf } from "../support/shop"

let shop: Shop
let web: FrontServer
let origin: string
let get: TestFront["get"]
beforeAll(async () => {
  shop = await openShop("front_selling")
  ;({ web, origin, get } = await openFront(shop.t.s))
})
afterAll(async () => {
  await web.close()
  await shop.end()
})

const db = () => shop.t.s.db
const post = (path: string, fields: Record<string, string>, headers: Record<string, string> = {}) =>
  fetch(origin + path, { method: "POST", redirect: "manual", body: new URLSearchParams(fields), headers })
const visitorCookie = (visitor: Buffer) => `heron_test_v=${visitor.toString("base64url")}`
const hidden = (html: string, name: string) => new RegExp(`name="${name}" value="([^"]*)"`).exec(html)?.[1] ?? ""

/** A checkout as a browser has it before it: its cookie, and what stands in its form. */
async function opened(query = "", cookie = "") {
  const res = await get(`/a-year/checkout${query}`, cookie ? { cookie } : {})
  const html = await res.text()
  const mine = cookie || (res.headers.get("set-cookie") ?? "").split(";")[0]!
  return {
    res,
    html,
    cookie: mine,
    once: hidden(html, "once"),
    seen: hidden(html, "seen"),
    release: hidden(html, "release"),
  }
}
const typed = (page: Awaited<ReturnType<typeof opened>>, more: Record<string, string> = {}) => ({
  once: page.once,
  seen: page.seen,
  release: page.release,
  email: "ines@post.example",
  name: "Ines",
  zone: "Europe/Oslo",
  website: "",
  terms: hidden(page.html, "terms"),
  token: "",
  ...more,
})

describe("a checkout", () => {
  it("asks for little, is not kept anywhere, and frames only the processor's fields", async () => {
    const { res, html } = await opened()
    expect(res.status).toBe(200)
    expect(res.headers.get("cache-control")).toBe("no-store")
    const policy = res.headers.get("content-security-policy")!
    expect(policy).toContain(`frame-src ${shop.processor.origin}`)
    expect(policy).toContain("default-src 'none'")
    expect(policy).not.toContain("unsafe-inline")
    expect(html).toContain('autocomplete="email"')
    expect(html).toContain('autocomplete="given-name"')
    expect(html).not.toMatch(/cc-number|type="password"|phone|company/)
    expect(html).toContain("You pay €290.00 today. Tax of 25 % is included.")
    expect(html).toContain("Pay €290.00")
    expect(gzipSync(html).byteLength).toBeLessThan(6 * 1024)
  })
  it("works a code out without script, and keeps what was typed", async () => {
    const page = await opened()
    const res = await post("/a-year/checkout", typed(page, { quote: "1", code: "nonsense" }), { cookie: page.cookie })
    const html = await res.text()
    expect(html).toContain("This code isn&#39;t known here")
    expect(html).toContain('value="ines@post.example"')
    expect(hidden(html, "once")).toBe(page.once)
  })
  it("takes a code that came by a link along, as a cookie of ours", async () => {
    const sales = await get("/a-year?coupon=GARDEN%2010")
    const cookie = sales.headers.getSetCookie().find((c) => c.includes("_code="))!
    expect(cookie).toMatch(/^heron_test_code=GARDEN%2010; Max-Age=2592000; Path=\/; HttpOnly; SameSite=Lax$/)
    const { html } = await opened("", cookie.split(";")[0]!)
    expect(html).toContain('value="GARDEN 10"')
    const { html: nasty } = await opened('?coupon="><script>alert(1)</script>')
    expect(nasty).not.toContain("<script>alert")
  })
  it("refuses in words and keeps what was typed: no card, no address, another price than was read", async () => {
    const page = await opened()
    const headers = { cookie: page.cookie }
    for (const [more, says] of [
      [{}, "The card wasn&#39;t read"],
      [{ email: "nobody" }, "an e-mail address"],
      [{ seen: "other", token: await tokenOf(shop, "fine") }, "has changed since"],
    ] as const) {
      const res = await post("/a-year/checkout", typed(page, more), headers)
      expect(res.status).toBe(422)
      const html = await res.text()
      expect(html).toContain(says)
      expect(html).toContain('value="Ines"')
    }
    expect(await db().rows("SELECT 1 FROM orders")).toEqual([])
  })
  it("takes no post that another site caused, and none for a release that never was", async () => {
    const page = await opened()
    const token = await tokenOf(shop, "fine")
    const forged = await post("/a-year/checkout", typed(page, { token }), {
      cookie: page.cookie,
      "sec-fetch-site": "cross-site",
    })
    expect(forged.status).toBe(404)
    expect(
      (await post("/a-year/checkout", typed(page, { token, release: "99999" }), { cookie: page.cookie })).status,
    ).toBe(404)
    expect((await post("/a-year/checkout", { email: "x".repeat(70_000) })).status).toBe(413)
    expect(await db().rows("SELECT 1 FROM orders")).toEqual([])
  })
  it("is paid, leads on, and lets this device into what was bought alone", async () => {
    const page = await opened()
    const form = typed(page, { token: await tokenOf(shop, "fine") })
    const placed = await post("/a-year/checkout", form, { cookie: page.cookie })
    expect(placed.status).toBe(303)
    const order = placed.headers.get("location")!
    expect(order).toMatch(/^\/order\/[\w-]{22}$/)
    const on = await get(order, { cookie: page.cookie })
    expect(on.headers.get("location")).toBe("/a-year/one-more-thing")
    expect(on.headers.getSetCookie().some((c) => c.startsWith(`${sessionCookie(shop.t.s.config, "learn")}=`))).toBe(
      true,
    )
    // Sent again: the same order, and nothing charged twice.
    expect((await post("/a-year/checkout", form, { cookie: page.cookie })).headers.get("location")).toBe(order)
    expect(await db().rows("SELECT 1 FROM charge WHERE state = 'succeeded'")).toHaveLength(1)

    // Its page shows itself to nobody else, and tells them nothing.
    const stranger = await get(order)
    expect(stranger.status).toBe(403)
    expect(await stranger.text()).not.toMatch(/Ines|ines@|290/)
    expect((await get("/order/AAAAAAAAAAAAAAAAAAAAAA")).status).toBe(404)
    expect((await get("/a-year/one-more-thing")).headers.get("location")).toBe("/a-year")
    expect((await get("/a-year/welcome")).status).toBe(200)

    const further = await (await get("/a-year/one-more-thing", { cookie: page.cookie })).text()
    expect(further).toContain("Yes, add it: €90.00")
    const fields = { order: hidden(further, "order"), seen: hidden(further, "seen") }
    // Somebody who saw the page but isn't the device that ordered can neither accept nor decline.
    for (const say of ["accepted", "declined"])
      expect((await post("/a-year/one-more-thing", { ...fields, say })).headers.get("location")).toBe("/a-year")
    expect(
      (await post("/a-year/one-more-thing", { ...fields, say: "perhaps" }, { cookie: page.cookie })).headers.get(
        "location",
      ),
    ).toBe("/a-year/one-more-thing")
    expect(
      (await post("/a-year/one-more-thing", { ...fields, seen: "old", say: "accepted" }, { cookie: page.cookie }))
        .status,
    ).toBe(409)
    const yes = await post("/a-year/one-more-thing", { ...fields, say: "accepted" }, { cookie: page.cookie })
    expect((await get(yes.headers.get("location")!, { cookie: page.cookie })).headers.get("location")).toBe(
      "/a-year/welcome",
    )
    const welcome = await (await get("/a-year/welcome", { cookie: page.cookie })).text()
    for (const text of ["A Year", "Koji", "You paid €290.00 today", "You paid €90.00 today", "ines@post.example"])
      expect(welcome).toContain(text)
    expect(await (await get("/a-year/welcome")).text()).not.toContain("ines@post.example")
  })
  it("tells only somebody signed in that they have it", async () => {
    const { order } = await buy(shop, "fine", { email: "owner@post.example" })
    const whole = await beginSession(db(), "learn", order.person_id!)
    const device = await beginSession(db(), "learn", order.person_id!, { scope: String(order.id) })
    const name = sessionCookie(shop.t.s.config, "learn")
    expect((await opened("", `${name}=${whole}`)).html).toContain("You have “A Year” already.")
    expect((await opened("", `${name}=${device}`)).html).not.toContain("already")
    // A stranger who types the address sees what everybody sees.
    const page = await opened()
    const res = await post("/a-year/checkout", typed(page, { quote: "1", email: "owner@post.example" }), {
      cookie: page.cookie,
    })
    expect(await res.text()).not.toContain("already")
  })
  it("waits, asking by itself, while the processor is away; and says so when nothing was charged", async () => {
    const form = await formOf(shop, "fine")
    shop.processor.store.behaviour = { ...shop.processor.store.behaviour, answers: "not at all" }
    const page = await opened()
    const placed = await post("/a-year/checkout", { ...typed(page), token: form.card }, { cookie: page.cookie })
    const order = placed.headers.get("location")!
    const waiting = await get(order, { cookie: page.cookie })
    expect(waiting.headers.get("refresh")).toBe(`3; url=${order}`)
    expect(await waiting.text()).toContain("Please don&#39;t pay again")
    shop.processor.store.behaviour = { ...shop.processor.store.behaviour, answers: "at once" }
    await db().write("UPDATE charge SET ask_at = '2020-01-01'")
    await db().write("UPDATE orders SET hold_until = hold_until - INTERVAL 46 SECOND")
    const over = await get(order, { cookie: page.cookie })
    expect(await over.text()).toContain("Nothing was charged")
    const row = await db().row<OrderRow>("SELECT * FROM orders ORDER BY id DESC LIMIT 1")
    expect(row!.state).toBe("lapsed")
  })
})

describe("the processor's word", () => {
  it("is taken only signed, and never for an order of another school", async () => {
    expect((await post("/hooks/cards", {}, { "webhook-id": "x" })).status).toBe(400)
    expect((await get("/hooks/cards")).status).toBe(404)
    expect((await fetch(`${origin}/hooks/cards`, { method: "POST", body: "x".repeat(70_000) })).status).toBe(400)
  })
})

describe("an offer's own link", () => {
  it("leads to the live checkout with its coupon, and nowhere else", async () => {
    const to = async (path: string) => (await get(path)).headers.get("location")
    expect(await to(`/get/${shop.offers.main}`)).toBe("/a-year/checkout")
    expect(await to(`/get/${shop.offers.main}?coupon=A%26b&to=https://evil.example`)).toBe(
      "/a-year/checkout?coupon=A%26b",
    )
    for (const path of [`/get/${shop.offers.further}`, "/get/0", "/get/99999", "/get/x", "/get/1/2"])
      expect((await get(path)).status).toBe(404)
  })
})

it("knows who a visitor is by their cookie only where it is one", async () => {
  const { order, visitor } = await buy(shop, "fine")
  expect((await get(`/order/${order.code}`, { cookie: visitorCookie(visitor) })).status).toBe(303)
  expect((await get(`/order/${order.code}`, { cookie: "heron_test_v=nonsense" })).status).toBe(403)
})

describe("a rush", () => {
  it("of three hundred looks of one client costs no buyer their answer, and nobody else theirs", async () => {
    shop.processor.store.behaviour = { ...shop.processor.store.behaviour, answers: "at once" }
    const from = (client: string) => ({ "x-forwarded-for": client })
    const trusting = frontServer(
      { ...shop.t.s, config: { ...shop.t.s.config, trustProxy: true } },
      async (_, res) => void res.end("next"),
    )
    await trusting.front.live.refresh()
    await new Promise<void>((r) => trusting.server.listen(0, "127.0.0.1", () => r()))
    const here = `http://127.0.0.1:${(trusting.server.address() as { port: number }).port}`
    const look = async (client: string) => {
      const res = await fetch(`${here}/a-year/checkout`, { headers: from(client) })
      await res.text()
      return { status: res.status, later: res.headers.get("retry-after") }
    }
    try {
      const before = await Promise.all(Array.from({ length: 20 }, () => opened()))
      const forms = await Promise.all(
        before.map(async (page, i) =>
          typed(page, { email: `rush${i}@post.example`, token: await tokenOf(shop, "fine") }),
        ),
      )
      const rush = Array.from({ length: 300 }, () => look("198.51.100.1"))
      const others = Array.from({ length: 10 }, (_, i) => look(`203.0.113.${i}`))
      const bought = before.map(async (page, i) => {
        const placed = await fetch(`${here}/a-year/checkout`, {
          method: "POST",
          redirect: "manual",
          headers: { ...from(`192.0.2.${i}`), cookie: page.cookie },
          body: new URLSearchParams(forms[i]),
        })
        const order = placed.headers.get("location") ?? ""
        const on = await fetch(here + order, {
          redirect: "manual",
          headers: { ...from(`192.0.2.${i}`), cookie: page.cookie },
        })
        return [placed.status, on.headers.get("location")]
      })
      expect(await Promise.all(bought)).toEqual(before.map(() => [303, "/a-year/one-more-thing"]))
      expect((await Promise.all(others)).map((o) => o.status)).toEqual(others.map(() => 200))
      // They are answered as far as there is place to wait, and otherwise told when to come again.
      for (const a of await Promise.all(rush))
        expect(a).toEqual(a.status === 503 ? { ...a, later: "5" } : { ...a, status: 200 })
    } finally {
      await trusting.close()
    }
  })

  it("a database that stands still for a moment is slow, not gone: whoever pays meanwhile is answered truly", async () => {
    const page = await opened()
    const form = typed(page, { email: "slow@post.example", token: await tokenOf(shop, "fine") })
    const pid = inject("databasePid")
    const placed = post("/a-year/checkout", form, { cookie: page.cookie })
    await new Promise((r) => setTimeout(r, 30))
    process.kill(pid, "SIGSTOP")
    try {
      // Long enough for two looks at it to be missed.
      await new Promise((r) => setTimeout(r, 5_500))
      expect((await get("/fonts/public-sans-latin.woff2")).status).toBe(200)
      expect(web.front.live.reachable()).toBe(false)
    } finally {
      process.kill(pid, "SIGCONT")
    }
    expect((await placed).status).toBe(303)
    await expect.poll(() => web.front.live.reachable(), { timeout: 10_000 }).toBe(true)
  })
})
