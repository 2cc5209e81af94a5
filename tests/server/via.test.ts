// Links of affiliates through the front: what is put down of a click, what is kept on the device, and where a link leads.
import { gunzipSync } from "node:zlib"
import { afterAll, beforeAll, describe, expect, it } from "vitest"
import { type FrontServer, frontServer } from "@/front/server"
import { collectMentions } from "@/front/via"
import { changeAffiliate, endAffiliate } from "@/server/affiliate/affiliate"
import { addAffiliate } from "@/server/affiliate/come"
import { saveAffiliateRules } from "@/server/affiliate/rules"
import { changeStep } from "@/server/funnel/edit"
import { loadFunnel } from "@/server/funnel/load"
import { publishFunnel, unpublishFunnel } from "@/server/funnel/release"
import { firstProgramme, saveProgramme } from "@/server/programme/programme"
import { payRules } from "../support/affiliates"
import { openShop, type Shop } from "../support/shop"

let shop: Shop
let web: FrontServer
let origin: string
let ada: number
beforeAll(async () => {
  shop = await openShop("via")
  const { s } = shop.t
  await saveProgramme(s, shop.offers.main, { ...firstProgramme, on: true })
  const made = await addAffiliate(s, {
    email: "ada@fern.example",
    name: "Ada <b>Fern</b>",
    offer: shop.offers.main,
    atOnce: true,
  })
  if ("refused" in made) throw new Error(made.refused)
  ada = made.id
  await changeAffiliate(s, ada, { name: "Ada & Fern", shown: true, code: "ada" })
  web = frontServer(s, async (_, res) => void res.end("next"))
  await web.front.live.refresh()
  await new Promise<void>((r) => web.server.listen(0, "127.0.0.1", () => r()))
  origin = `http://127.0.0.1:${(web.server.address() as { port: number }).port}`
})
afterAll(async () => {
  await web.close()
  await shop.end()
})

const get = (path: string, cookie = "", headers: Record<string, string> = {}) =>
  fetch(origin + path, { redirect: "manual", headers: { ...(cookie ? { cookie } : {}), ...headers } })
const cookiesOf = (res: Response) => res.headers.getSetCookie().map((c) => c.split(";")[0]!)
const viaOf = (res: Response) => cookiesOf(res).find((c) => c.startsWith("heron_test_via="))
const mentions = async () => {
  await web.front.mentions.flush()
  return shop.t.s.db.rows<{ affiliate_id: number; sub: string; visitor: Buffer | null; step_id: number | null }>(
    "SELECT affiliate_id, sub, visitor, step_id FROM mention ORDER BY id",
  )
}
it("a click sets a signed cookie, counts once a browser shows to be one, and says who recommended", async () => {
  const res = await get("/a-year?via=Ada.letter", "", { "accept-encoding": "gzip" })
  expect(res.status).toBe(200)
  expect(await res.text()).toContain('<p class="small">Recommended by <strong>Ada &amp; Fern</strong></p>')
  expect(res.headers.get("cache-control")).toBe("no-store")
  const set = res.headers.getSetCookie().find((c) => c.startsWith("heron_test_via="))!
  expect(set).toMatch(/; Max-Age=2592000; Path=\/; HttpOnly; SameSite=Lax$/)
  // A program that fetches one address is nobody.
  expect(await mentions()).toEqual([])
  const cookie = cookiesOf(res).join("; ")
  await get("/seen.gif", cookie)
  await get("/seen.gif", cookie)
  const all = await mentions()
  expect(all).toMatchObject([{ affiliate_id: ada, sub: "letter", step_id: shop.step.sales }])
  expect(all[0]!.visitor).toHaveLength(16)
  await web.front.visits.flush()
  await web.front.visits.flush()
  expect(await shop.t.s.db.row("SELECT source FROM journey")).toEqual({ source: "@ada" })
  // The page without the link says so as well, while it counts; and a page made for the moment.
  expect(await (await get("/a-year", cookie)).text()).toContain("Recommended by")
  expect(await (await get("/a-year/checkout", cookie)).text()).toContain("Recommended by")
  expect(await (await get("/a-year")).text()).not.toContain("Recommended by")
})

it("the finished page stays as it was for everybody else, to the byte", async () => {
  const plain = await get("/a-year", "", { "accept-encoding": "gzip" })
  const page = web.front.live.page("a-year")!
  expect(Number(plain.headers.get("content-length"))).toBe(page.bodies.gzip.length)
  expect(gunzipSync(page.bodies.gzip).toString()).not.toContain("Recommended")
  expect(plain.headers.get("etag")).toBe(page.etag)
})

it("a cookie that was altered, or made up, is none", async () => {
  const res = await get("/a-year?via=ada")
  const via = viaOf(res)!
  const other = via.replace(/=(\d+)~/, (_, n) => `=${Number(n) + 1}~`)
  expect(other).not.toBe(via)
  const before = await mentions()
  for (const bad of [other, "heron_test_via=1~~0~1.AAAA", "heron_test_via=", `heron_test_via=${"A".repeat(4000)}`]) {
    const visitor = cookiesOf(res).find((c) => c.startsWith("heron_test_v="))!
    expect(await (await get("/a-year", `${visitor}; ${bad}`)).text()).not.toContain("Recommended by")
    await get("/seen.gif", `${visitor}; ${bad}`)
  }
  expect(await mentions()).toEqual(before)
})

it("nobody's code, a code with markup and a code of another shape bring nothing", async () => {
  for (const bad of ["nobody", "<script>", "ada.", ".ada", "a".repeat(200), "%00", ""]) {
    const res = await get(`/a-year?via=${encodeURIComponent(bad)}`)
    expect(res.status).toBe(200)
    expect(viaOf(res)).toBeUndefined()
    expect(await res.text()).not.toContain("Recommended by")
  }
})

it("where consent is asked, it is counted and nothing remembered before the yes", async () => {
  await saveAffiliateRules(shop.t.s, { ...payRules, consent: "asked" })
  await web.front.live.refresh()
  const before = (await mentions()).length
  const res = await get("/a-year?via=ada.letter")
  expect(viaOf(res)).toBeUndefined()
  const html = await res.text()
  expect(html).toContain("May we remember that on this device")
  const all = await mentions()
  expect(all).toHaveLength(before + 1)
  expect(all.at(-1)).toMatchObject({ affiliate_id: ada, visitor: null })
  // Of whom nothing may be remembered a connection counts each link once, however often it comes.
  for (let i = 0; i < 5; i++) await get("/a-year?via=ada.letter")
  await get("/a-year?via=ada.stall")
  expect(await mentions()).toHaveLength(before + 2)
  const answer = (says: string, site = "same-origin") =>
    fetch(`${origin}/via`, {
      method: "POST",
      redirect: "manual",
      body: new URLSearchParams({ via: "ada.letter", path: "a-year", answer: says }),
      headers: { "sec-fetch-site": site },
    })
  expect((await answer("yes", "cross-site")).status).toBe(403)
  expect(viaOf(await answer("no"))).toBeUndefined()
  const yes = await answer("yes")
  expect(yes.headers.get("location")).toBe("/a-year")
  expect(viaOf(yes)).toBeDefined()
  expect((await mentions()).at(-1)!.visitor).toHaveLength(16)
  // Nobody is led anywhere else by it.
  const led = await fetch(`${origin}/via`, {
    method: "POST",
    redirect: "manual",
    body: new URLSearchParams({ via: "ada", path: "//evil.example", answer: "yes" }),
  })
  expect(led.headers.get("location")).toBe("/")
  await saveAffiliateRules(shop.t.s, payRules)
  await web.front.live.refresh()
})

describe("what one connection can have put down", () => {
  const visitor = (n: number) => Buffer.from(String(n).padStart(16, "0"))
  const at = Date.parse("2027-06-01T09:10:00Z")
  const mention = (n: number, sub = "", when = at) => ({
    affiliate: ada,
    sub,
    step: null,
    visitor: visitor(n),
    at: when,
  })
  const count = async () =>
    (await shop.t.s.db.row<{ n: number }>("SELECT COUNT(*) AS n FROM mention WHERE at >= '2027-06-01'"))!.n

  it("is five hundred mentions an hour, whatever it makes up; others are counted on, and so is the next hour", async () => {
    const kept = collectMentions(shop.t.s)
    for (let i = 0; i < 800; i++) kept.add(mention(1, `made-up-${i}`), "2001:db8:1:2::1")
    // Another address of the same customer is the same connection.
    kept.add(mention(2), "2001:db8:1:2:ffff::9")
    await kept.flush()
    expect(await count()).toBe(500)
    kept.add(mention(3), "192.0.2.77")
    // What somebody came by before they sent a form is put down in any case.
    kept.add(mention(4), null)
    kept.add(mention(5, "", at + 3_600_000), "2001:db8:1:2::1")
    await kept.flush()
    expect(await count()).toBe(503)
    await kept.stop()
  })

  it("is the same once, also when the database was away in between", async () => {
    const before = await count()
    let away = true
    const db = shop.t.s.db
    const s = {
      ...shop.t.s,
      db: {
        ...db,
        transaction: (async (...a) => {
          if (away) throw new Error("the database is away")
          return db.transaction(...a)
        }) as typeof db.transaction,
      },
    }
    const kept = collectMentions(s)
    for (let i = 0; i < 3; i++) kept.add(mention(6, "twice"), "192.0.2.78")
    await expect(kept.flush()).rejects.toThrow("away")
    away = false
    await kept.flush()
    await kept.flush()
    await kept.stop()
    expect(await count()).toBe(before + 1)
  })
})

it("short addresses, moved pages and pages taken down lead on", async () => {
  const { s } = shop.t
  const to = async (path: string) => {
    const res = await get(path)
    return [res.status, res.headers.get("location")]
  }
  expect(await to("/by/ada/letter")).toEqual([303, "/a-year?via=ada.letter"])
  expect(await to("/by/nobody")).toEqual([404, null])
  expect(await to(`/get/${shop.offers.main}?via=ada.x`)).toEqual([303, "/a-year/checkout?via=ada.x"])
  await s.db.write("INSERT INTO affiliate_link (affiliate_id, offer_id, sub, made_at) VALUES (?, ?, 'till', ?)", [
    ada,
    shop.offers.main,
    new Date(),
  ])
  expect(await to("/by/ada/till")).toEqual([303, "/a-year/checkout?via=ada.till"])
  // The code may change: links that were given out go on working.
  await changeAffiliate(s, ada, { name: "Ada & Fern", shown: true, code: "ada-fern" })
  await web.front.live.refresh()
  expect(await to("/by/ada/letter")).toEqual([303, "/a-year?via=ada-fern.letter"])
  expect(await changeAffiliate(s, ada, { name: "Ada & Fern", shown: true, code: "ada" })).toEqual({ ok: true })

  const funnel = (await loadFunnel(s.db, shop.funnel))!
  const sales = funnel.steps.find((x) => x.id === shop.step.sales)!
  expect(await changeStep(s, { step: sales.id, name: sales.name, path: "a-whole-year" })).toEqual({ ok: true })
  await publishFunnel(s, shop.funnel, true)
  await web.front.live.refresh()
  expect(await to("/a-year?via=ada.letter&coupon=X")).toEqual([301, "/a-whole-year?via=ada.letter&coupon=X"])
  expect(await to("/a-year")).toEqual([301, "/a-whole-year"])

  // Taken down: nothing sells it any more, so the link has nowhere to lead; another page of its funnel would do.
  await unpublishFunnel(s, shop.funnel)
  await web.front.live.refresh()
  expect(await to("/a-whole-year?via=ada")).toEqual([410, null])
  await publishFunnel(s, shop.funnel, true)
  await s.db.write("DELETE FROM live_page WHERE step_id = ?", [shop.step.checkout])
  await s.db.write("REPLACE INTO page_before (path, funnel_id, step_id, at) VALUES ('gone', ?, 999999, ?)", [
    shop.funnel,
    new Date(),
  ])
  await web.front.live.refresh()
  expect(await to("/gone?via=ada.x")).toEqual([303, "/a-whole-year?via=ada.x"])
  expect(await to("/gone")).toEqual([410, null])
  await endAffiliate(s, ada)
  await web.front.live.refresh()
  expect(await to("/gone?via=ada.x")).toEqual([410, null])
  expect(await to("/by/ada")).toEqual([404, null])
})
