// Doors: passwords, links into the studio, sessions, devices, and forms from other sites.
import { isIPv6 } from "node:net"
import { afterAll, beforeAll, describe, expect, it } from "vitest"
import { connectionOf } from "@/core/person/connection"
import { orderPage } from "@/front/order-page"
import { type FrontServer, frontServer } from "@/front/server"
import { publishFunnel } from "@/server/funnel/release"
import { sendDue } from "@/server/mail/send"
import { askStudioLink, changePassword, enterStudio, makeOwner, signIn } from "@/server/person/account"
import { waitAfter } from "@/server/person/password"
import { beginSession, endOtherSessions, sessionCookie, studioSessionOf, visitorCookie } from "@/server/person/session"
import { verifyId } from "@/server/sign"
import { openSchool, type TestSchool, testSchool } from "../support/school"
import { buy, openShop } from "../support/shop"

let t: TestSchool
let school: Awaited<ReturnType<typeof openSchool>>
let web: FrontServer
let origin: string
beforeAll(async () => {
  t = await testSchool("doors")
  school = await openSchool(t)
  web = frontServer(t.s, async (_, res) => void res.end("next"))
  await web.front.live.refresh()
  await new Promise<void>((r) => web.server.listen(0, "127.0.0.1", () => r()))
  origin = `http://127.0.0.1:${(web.server.address() as { port: number }).port}`
})
afterAll(async () => {
  await web.close()
  await t.end()
})

const owner = { email: "maren@crock.example", password: "brine before breakfast" }
const from = (ip: string, password = "wrong password") => signIn(t.s, { email: owner.email, password, ip })

describe("wrong passwords", () => {
  it("make their own connection wait, longer each time, and never the owner elsewhere", async () => {
    for (let i = 0; i < 5; i++)
      expect(await from("203.0.113.5")).toMatchObject({ refused: expect.stringContaining("don't fit") })
    expect(await from("203.0.113.5", owner.password)).toMatchObject({
      refused: expect.stringMatching(/Try again in 2 seconds/),
    })
    for (let i = 0; i < 12; i++) await from(`198.51.100.${i}`)
    expect(await from("192.0.2.44", owner.password)).toHaveProperty("session")
    await t.s.db.write("UPDATE wrong_password SET last_at = '2020-01-01'")
    expect(await from("203.0.113.5", owner.password)).toHaveProperty("session")
  })
  it("counted at once are counted, and an IPv6 network is one connection", async () => {
    await Promise.all(Array.from({ length: 8 }, (_, i) => from(`2001:db8:7:7::${i + 1}`)))
    expect(await from("2001:db8:7:7:ffff::9", owner.password)).toMatchObject({
      refused: expect.stringContaining("Too many wrong passwords"),
    })
    expect(await from("2001:db8:7:8::1", owner.password)).toHaveProperty("session")
  })
  it("wait as long as is written: doubled each time, a quarter of an hour at most", () => {
    expect([4, 5, 6, 7, 8, 13, 14, 100].map((n) => waitAfter(n, 5))).toEqual([
      0, 2_000, 4_000, 8_000, 16_000, 512_000, 900_000, 900_000,
    ])
  })
  // The expected networks are written out by hand after RFC 4291, 2.2.
  it.each([
    ["192.0.2.1", "192.0.2.1"],
    ["::ffff:192.0.2.1", "192.0.2.1"],
    ["2001:db8::1", "2001:db8:0:0::/64"],
    ["2001:0db8:0001:0002:0003:0004:0005:0006", "2001:db8:1:2::/64"],
    ["2001:DB8:1:2::", "2001:db8:1:2::/64"],
    ["::1", "0:0:0:0::/64"],
    ["fe80::1%eth0", "fe80:0:0:0::/64"],
  ])("%s is the connection %s", (ip, connection) => {
    expect(isIPv6(ip.split("%")[0]!) || !ip.includes(":")).toBe(true)
    expect(connectionOf(ip)).toBe(connection)
  })
})

describe("a lost password", () => {
  const link = () => {
    const mail = t.sent.filter((m) => m.subject === "Sign in to the studio of Juniper Crock").at(-1)!
    return /\/studio-in\/([\w.-]+)/.exec(mail.text)![1]!
  }
  it("is mended by a link from the mailbox, pressed once, that lets a new one be set", async () => {
    expect(await askStudioLink(t.s, owner.email, "192.0.2.1")).toEqual({ ok: true })
    expect(await askStudioLink(t.s, "nobody@post.example", "192.0.2.1")).toEqual({ ok: true })
    await askStudioLink(t.s, owner.email, "192.0.2.1")
    await sendDue(t.s, "w")
    expect(t.sent.filter((m) => m.subject.startsWith("Sign in to the studio"))).toHaveLength(1)
    const opened = await fetch(`${origin}/studio-in/${link()}`)
    expect([opened.status, (await opened.text()).includes("Sign me in here")]).toEqual([200, true])
    const pressed = await fetch(`${origin}/studio-in/${link()}`, { method: "POST", redirect: "manual" })
    expect([pressed.status, pressed.headers.get("location")]).toEqual([303, "/studio/settings/account"])
    const token = /=([^;]+)/.exec(pressed.headers.getSetCookie()[0]!)![1]!
    const session = (await studioSessionOf(t.s.db, token))!
    expect(session.byMail).toBe(true)
    expect((await fetch(`${origin}/studio-in/${link()}`)).status).toBe(410)
    expect(await enterStudio(t.s, verifyId(t.s.config.secret, "studio", link())!)).toBeNull()
    expect((await fetch(`${origin}/studio-in/forged.AAAA`)).status).toBe(410)

    const other = await beginSession(t.s.db, "studio", session.account)
    const done = await changePassword(t.s, session, { current: "", next: "a new brine every morning" })
    expect(done).toHaveProperty("session")
    expect(await studioSessionOf(t.s.db, other)).toBeNull() // every other session ends
    expect(await studioSessionOf(t.s.db, token)).toBeNull()
    expect(await from("192.0.2.50", owner.password)).toHaveProperty("refused")
    owner.password = "a new brine every morning"
    expect(await from("192.0.2.51", owner.password)).toHaveProperty("session")
  })
})

it("a new password wants the old one, and other sessions can be ended", async () => {
  const mine = await beginSession(t.s.db, "studio", 1)
  const session = (await studioSessionOf(t.s.db, mine))!
  expect(await changePassword(t.s, session, { current: "guess", next: "long enough, surely" })).toMatchObject({
    field: "current",
  })
  expect(await changePassword(t.s, session, { current: owner.password, next: "short" })).toMatchObject({
    field: "next",
  })
  const other = await beginSession(t.s.db, "studio", 1)
  expect(await endOtherSessions(t.s.db, 1, mine)).toBeGreaterThanOrEqual(1)
  expect(await studioSessionOf(t.s.db, other)).toBeNull()
  expect(await studioSessionOf(t.s.db, mine)).not.toBeNull()
})

it("the school is opened only with the code that the command printed", async () => {
  const fresh = await testSchool("doors_first")
  const s = { ...fresh.s, config: { ...fresh.s.config, openingCode: "ABCD2345" } }
  const typed = { school: "S", name: "M", email: "m@s.example", password: "long enough, surely" }
  expect(await makeOwner(s, typed)).toMatchObject({ field: "code" })
  expect(await makeOwner(s, { ...typed, code: "ABCD2346" })).toMatchObject({ field: "code" })
  expect(await makeOwner(s, { ...typed, code: " abcd2345 " }, "Asia/Tokyo")).toHaveProperty("session")
  expect(await s.db.row("SELECT zone FROM school")).toEqual({ zone: "Asia/Tokyo" })
  await fresh.end()
})

it("over https, cookies are bound to the host and the browser is told to stay with it", async () => {
  const config = { ...t.s.config, origin: "https://school.example" }
  expect(sessionCookie(config, "studio")).toBe("__Host-heron_test_studio")
  const secure = frontServer({ ...t.s, config }, async (_, res) => void res.end("next"))
  await secure.front.live.refresh()
  await new Promise<void>((r) => secure.server.listen(0, "127.0.0.1", () => r()))
  const page = await fetch(`http://127.0.0.1:${(secure.server.address() as { port: number }).port}/first`)
  expect(page.headers.get("strict-transport-security")).toBe("max-age=31536000")
  for (const cookie of page.headers.getSetCookie()) expect(cookie).toMatch(/^__Host-.*; Path=\/; .*; Secure; /)
  await secure.close()
})

it("an order's page lets its device in for a day", async () => {
  const shop = await openShop("doors_order")
  const front = frontServer(shop.t.s, async (_, res) => void res.end("next"))
  const { order, visitor } = await buy(shop, "fine")
  const open = async () => {
    const req = {
      method: "GET",
      path: `order/${order.code}`,
      query: new URLSearchParams(),
      headers: {},
      ip: "192.0.2.1",
      cookies: { [visitorCookie(shop.t.s.config)]: visitor.toString("base64url") },
      form: async () => ({}),
      text: async () => "",
      mustEnd: () => {},
    }
    return (await orderPage(front.front, req, order.code, visitor))!.status
  }
  expect(await open()).toBe(303)
  shop.t.set(shop.t.at() + 90_000_000)
  expect(await open()).toBe(403)
  await front.close()
  await shop.end()
})

describe("a form from another site", () => {
  const send = () =>
    fetch(`${origin}/${school.path}`, {
      method: "POST",
      redirect: "manual",
      headers: { "sec-fetch-site": "cross-site" },
      body: new URLSearchParams({ email: "cross@post.example", release: String(school.release) }),
    })
  it("is refused, unless the marketer said that it is taken", async () => {
    const refused = await send()
    expect([refused.status, (await refused.text()).includes("sent from another site")]).toEqual([403, true])
    expect(await t.s.db.row("SELECT 1 FROM pending_join WHERE canonical = 'cross@post.example'")).toBeUndefined()
    await t.s.db.write(
      "UPDATE step SET page = REPLACE(page, '\"foreign\":false', '\"foreign\":true') WHERE kind = 'optin'",
    )
    school = { ...school, release: ((await publishFunnel(t.s, school.funnel)) as { release: number }).release }
    await web.front.live.refresh()
    expect((await send()).status).toBe(303)
  })
})
