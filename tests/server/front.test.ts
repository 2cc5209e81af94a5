import { gunzipSync } from "node:zlib"
import { afterAll, beforeAll, describe, expect, it } from "vitest"
import { byteRangeOf } from "@/front/files"
import { type FrontServer, frontServer } from "@/front/server"
import { publishFunnel, unpublishFunnel } from "@/server/funnel/release"
import { sendDue } from "@/server/mail/send"
import { mediaLink, safeName, storeMedia } from "@/server/media/store"
import { openSchool, type TestSchool, testSchool } from "../support/school"

let t: TestSchool
let school: Awaited<ReturnType<typeof openSchool>>
let web: FrontServer
let origin: string
beforeAll(async () => {
  t = await testSchool("front")
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

const get = (path: string, init: RequestInit = {}) => fetch(origin + path, { redirect: "manual", ...init })
const post = (path: string, fields: Record<string, string>, headers: Record<string, string> = {}) =>
  get(path, { method: "POST", body: new URLSearchParams(fields), headers })
const cookiesOf = (res: Response) =>
  res.headers
    .getSetCookie()
    .map((c) => c.split(";")[0])
    .join("; ")
const visits = async () => {
  // One that is under way already does not take what came since: the second does.
  await web.front.visits.flush()
  await web.front.visits.flush()
  return (await t.s.db.row<{ n: number }>("SELECT COUNT(*) AS n FROM journey"))!.n
}

describe("a published page", () => {
  it("comes finished, small, compressed, with a strict policy and no framework script", async () => {
    const res = await get("/first", { headers: { "accept-encoding": "gzip" } })
    expect(res.status).toBe(200)
    expect(Number(res.headers.get("content-length"))).toBeLessThan(14 * 1024)
    const policy = res.headers.get("content-security-policy")!
    expect(policy).toContain("default-src 'none'")
    expect(policy).not.toContain("unsafe-inline")
    expect(res.headers.get("x-content-type-options")).toBe("nosniff")
    expect(res.headers.getSetCookie()[0]).toMatch(
      /^heron_test_v=[\w-]{22}; Max-Age=\d+; Path=\/; HttpOnly; SameSite=Lax$/,
    )
    const html = await res.text()
    expect(html).toContain('<h1 dir="auto">A promise</h1>')
    expect(html).not.toMatch(/<script src/)
  })
  it("answers HEAD, an unchanged page, and each encoding", async () => {
    const whole = await get("/first", { headers: { "accept-encoding": "identity" } })
    const body = Buffer.from(await whole.arrayBuffer())
    expect(whole.headers.get("content-encoding")).toBeNull()
    const head = await get("/first", { method: "HEAD" })
    expect([head.status, await head.text()]).toEqual([200, ""])
    const same = await get("/first", { headers: { "if-none-match": whole.headers.get("etag")! } })
    expect([same.status, await same.text()]).toEqual([304, ""])
    expect(
      (await get("/first", { headers: { "accept-encoding": "br;q=0, gzip;q=0" } })).headers.get("content-encoding"),
    ).toBeNull()
    const gz = web.front.live.page("first")!.bodies.gzip
    expect(gunzipSync(gz).equals(body)).toBe(true)
  })
  it("counts a visitor once, by where they came from, and not a prefetch", async () => {
    const before = await visits()
    const first = await get("/first?utm_source=letter")
    const cookie = cookiesOf(first)
    // A program that comes once is no visitor; a browser asks for the page's picture, too.
    expect(await visits()).toBe(before)
    const seen = await get("/seen.gif", { headers: { cookie } })
    expect(seen.headers.get("set-cookie")).toMatch(/^heron_test_first=; .*Max-Age=0/)
    expect(await visits()).toBe(before + 1)
    const again = await get("/first", { headers: { cookie } })
    expect(again.headers.get("set-cookie")).toBeNull()
    await get("/first", { headers: { "sec-purpose": "prefetch" } })
    await get("/first", { method: "HEAD" })
    expect(await visits()).toBe(before + 1)
    expect(await t.s.db.row("SELECT source FROM journey ORDER BY begun_at DESC, source DESC LIMIT 1")).toEqual({
      source: "letter",
    })
  })
  it("takes a cookie that isn't one for none", async () => {
    for (const bad of ["x", "'; DROP TABLE journey", "A".repeat(5000)])
      expect((await get("/first", { headers: { cookie: `heron_test_v=${bad}` } })).headers.get("set-cookie")).toContain(
        "heron_test_v=",
      )
  })
  it("is gone when unpublished, and back when published", async () => {
    await unpublishFunnel(t.s, school.funnel)
    await web.front.live.refresh()
    expect((await get("/first")).status).toBe(410)
    const again = await publishFunnel(t.s, school.funnel)
    school = { ...school, release: (again as { release: number }).release }
    await web.front.live.refresh()
    expect((await get("/first")).status).toBe(200)
  })
  it("has a door for visitors: what begins here and is live, and the way to the learning area; never the studio", async () => {
    const door = await get("/")
    expect(door.status).toBe(200)
    const html = await door.text()
    expect(html).toContain('<h1 dir="auto">Juniper Crock</h1>')
    expect(html).toMatch(/href="\/first" aria-label="Get it: [^"]+"/)
    expect(html).toContain('<a href="/learn">My courses</a>')
    expect(html).not.toContain("studio")
  })
  it("answers what it doesn't know with a page of words, and strange methods with a no", async () => {
    for (const path of ["/nothing", "/first/../../etc/passwd", "/%00", "/first/", "//evil.example", "/FIRST"])
      expect((await get(path)).status).toBe(404)
    for (const broken of ["/%E0%A4%A", "/learn/%E0%A4%A", "/studio/%"]) {
      const said = await get(broken)
      expect([said.status, (await said.text()).includes("cut off on its way")]).toEqual([400, true])
    }
    expect((await get("/first", { method: "DELETE" })).status).toBe(405)
    expect(await (await get("/studio")).text()).toBe("next")
  })
})

describe("the form", () => {
  it("works without a script, leads on by 303, and says at the field what is wrong", async () => {
    const release = String(school.release)
    const good = await post("/first", { email: "web@post.example", name: "Web", release })
    expect([good.status, good.headers.get("location")]).toEqual([303, "/first/check-your-inbox"])
    const bad = await post("/first", { email: '"><script>', name: "Web", release })
    expect(bad.status).toBe(422)
    const html = await bad.text()
    expect(html).toContain('role="alert"')
    expect(html).toContain("&quot;&gt;&lt;script&gt;")
    expect((await post("/first", { email: "x".repeat(70_000), release })).status).toBe(413)
    expect((await post("/first", { email: "a@x.example", release: "77777" })).status).toBe(404)
    expect((await post("/nothing", { email: "a@x.example" })).status).toBe(404)
    expect(
      (await get("/first", { method: "POST", body: "{", headers: { "content-type": "application/json" } })).status,
    ).toBe(404)
  })
})

describe("the doors", () => {
  it("open by GET without doing anything, and do it by POST", async () => {
    await post("/first", { email: "door@post.example", name: "Door", release: String(school.release) })
    await sendDue(t.s, "w")
    const link = /http:\/\/localhost:4799(\/confirm\/[\w.-]+)/.exec(
      t.sent.find((m) => m.to.address === "door@post.example")!.text,
    )![1]!
    for (let i = 0; i < 3; i++) expect((await get(link)).status).toBe(200)
    expect((await post(link, {}, { "sec-fetch-site": "cross-site" })).status).toBe(200)
    expect(await t.s.db.row("SELECT 1 FROM person WHERE email = 'door@post.example'")).toBeUndefined()
    const pressed = await post(link, {})
    expect([pressed.status, pressed.headers.get("location")]).toEqual([303, "/first/welcome"])
    expect(pressed.headers.get("set-cookie")).toMatch(/^heron_test_learn=[\w-]{43}; .*HttpOnly; SameSite=Lax/)
    expect((await get(link)).status).toBe(410)
    expect((await post(link, { renew: "1" })).status).toBe(200)

    await sendDue(t.s, "w")
    const letter = t.sent.filter((m) => m.to.address === "door@post.example" && m.headers["List-Unsubscribe"]).at(-1)!
    const go = /(\/go\/[\w.-]+)/.exec(letter.html)![1]!
    expect((await get(go)).headers.get("location")).toMatch(/^\/learn\/first\/\d+$/)
    const leave = /(\/mails\/[\w.-]+)/.exec(letter.headers["List-Unsubscribe"]!)![1]!
    expect(await (await get(leave)).text()).toContain("You receive them now")
    const left = () => t.s.db.row("SELECT suppressed FROM address WHERE canonical = 'door@post.example'")
    expect(await left()).toEqual({ suppressed: null })
    expect((await post(leave, { "List-Unsubscribe": "One-Click" })).status).toBe(200) // RFC 8058
    expect(await left()).toEqual({ suppressed: "left" })
    expect(await (await post(leave, { back: "1" })).text()).toContain("come again")
    expect(await left()).toEqual({ suppressed: null })
    expect(await (await post(leave, { zone: "Asia/Tokyo" })).text()).toContain("The time zone is saved")
  })
  it("don't open to a link that was made up or cut off", async () => {
    for (const path of [
      "/confirm/1.AAAA",
      "/confirm/",
      "/confirm",
      "/way-in/1.x",
      "/mails/1.x",
      "/go/1-0.x",
      "/go/https://evil.example",
    ]) {
      const res = await get(path)
      expect([path, res.status]).toEqual([path, 404])
    }
  })
})

describe("media", () => {
  const png = Buffer.from(
    "iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==",
    "base64",
  )
  it("is told by its content, whatever it is called, and named by us", async () => {
    const kept = await storeMedia(t.s, "picture", "../../etc/passwd.png", png)
    expect(kept).toMatchObject({ stored: expect.stringMatching(/^[0-9a-f]{24}\.webp$/) })
    const res = await get(`/media/${(kept as { stored: string }).stored}`)
    expect([res.status, res.headers.get("content-type"), res.headers.get("x-content-type-options")]).toEqual([
      200,
      "image/webp",
      "nosniff",
    ])
    expect(res.headers.get("content-disposition")).toContain("passwd.webp")
    for (const [kind, name, bytes] of [
      ["picture", "x.png", Buffer.from("<svg onload=alert(1)>")],
      ["picture", "x.png", Buffer.from("not a picture")],
      ["picture", "x.png", png.subarray(0, 30)],
      ["video", "x.mp4", png],
      ["file", "x.pdf", Buffer.from("<html><script>")],
      ["file", "x.pdf", Buffer.from([0, 1, 2, 3])],
      ["picture", "x.png", Buffer.alloc(0)],
      ["picture", "x.png", Buffer.alloc(13e6)],
    ] as const)
      expect(await storeMedia(t.s, kind, name, bytes)).toMatchObject({ refused: expect.stringMatching(/\./) })
  })
  it.each([
    ["..\\..\\x.exe", "x.txt"],
    ["/a/b/c.txt", "c.txt"],
    [".htaccess", "htaccess.txt"],
    ["a\u0000b\r\n.txt", "ab.txt"],
    ["", "file.txt"],
    ["\u202Egnp.txt", "gnp.txt"],
  ])("%j is called %s", (name, safe) => {
    expect(safeName(name, "txt")).toBe(safe)
  })
  it("takes a video by its content, and serves it with its type", async () => {
    const mp4 = Buffer.concat([
      Buffer.from([0, 0, 0, 24]),
      Buffer.from("ftypisom\0\0\x02\0isomiso2"),
      Buffer.alloc(2000),
    ])
    const kept = (await storeMedia(t.s, "video", "lesson.bin", mp4)) as { stored: string }
    const res = await get(mediaLink(t.s.config, kept.stored, Date.now()), { headers: { range: "bytes=0-99" } })
    expect([res.status, res.headers.get("content-type"), res.headers.get("content-length")]).toEqual([
      206,
      "video/mp4",
      "100",
    ])
    expect((await get(`/media/${kept.stored}`)).status).toBe(404)
  })
  // The first two are the smallest files of WebVTT (W3C, 4.1): the header alone, with a line break or a space after it.
  it.each([
    ["WEBVTT\n\n00:00.000 --> 00:02.000\nSalt first.\n", "text/vtt", "captions.vtt"],
    ["WEBVTT - Chapters\n\n1\n00:00:00.000 --> 00:01:00.000\nSalt\n", "text/vtt", "captions.vtt"],
    ["00:00.000 --> 00:02.000\nNo header.\n", "text/plain", "captions.txt"],
  ])("keeps captions as captions: %#", async (text, type, name) => {
    const { id } = (await storeMedia(t.s, "file", "captions.vtt", Buffer.from(text))) as { id: number }
    expect(await t.s.db.row("SELECT type, name FROM media WHERE id = ?", [id])).toEqual({ type, name })
  })

  // WebVTT (W3C, 4.3): times with three digits after the point, an end after its start, a blank line before each cue.
  it.each([
    ["WEBVTT\n\n00:00.000 --> 00:02\nSalt\n", 3],
    ["WEBVTT\n\n00:04.000 --> 00:02.000\nSalt\n", 3],
    ["WEBVTT\n\n00:00,000 --> 00:02,000\nSalt\n", 3],
    ["WEBVTT\n00:00.000 --> 00:02.000\nSalt\n", 2],
  ])("refuses captions that aren't what their format says, with the line: %#", async (text, line) => {
    const done = await storeMedia(t.s, "file", "captions.vtt", Buffer.from(text))
    expect(done).toEqual({ refused: expect.stringContaining(`Line ${line}: `) })
  })

  it("behind an admission is served by a signed link only, whole or in ranges", async () => {
    const kept = (await storeMedia(t.s, "file", "list.txt", Buffer.from("0123456789"))) as { stored: string }
    expect((await get(`/media/${kept.stored}`)).status).toBe(404)
    expect((await get(`${mediaLink(t.s.config, kept.stored, Date.now() - 7 * 3_600_000)}`)).status).toBe(404)
    expect((await get(mediaLink(t.s.config, `${"0".repeat(24)}.txt`, Date.now()))).status).toBe(404)
    const link = mediaLink(t.s.config, kept.stored, Date.now())
    const range = async (r: string) => {
      const res = await get(link, { headers: { range: r } })
      return [res.status, await res.text(), res.headers.get("content-range")]
    }
    expect((await get(link)).headers.get("content-disposition")).toBe("attachment; filename*=UTF-8''list.txt")
    expect(await range("bytes=2-4")).toEqual([206, "234", "bytes 2-4/10"])
    expect(await range("bytes=7-")).toEqual([206, "789", "bytes 7-9/10"])
    expect(await range("bytes=-3")).toEqual([206, "789", "bytes 7-9/10"])
    expect(await range("bytes=50-60")).toEqual([416, "", "bytes */10"])
    expect(await range("bytes=0-1,3-4")).toEqual([200, "0123456789", null])
  })
  // RFC 9110, 14.1.2, with its own examples for 10,000 bytes.
  it.each([
    ["bytes=0-499", { from: 0, to: 499 }],
    ["bytes=500-999", { from: 500, to: 999 }],
    ["bytes=-500", { from: 9500, to: 9999 }],
    ["bytes=9500-", { from: 9500, to: 9999 }],
    ["bytes=5-2", undefined],
    ["lines=1-2", undefined],
    ["bytes=-0", "unsatisfiable"],
    ["bytes=10000-", "unsatisfiable"],
    ["bytes=0-99999", { from: 0, to: 9999 }],
  ])("%s", (header, range) => {
    expect(byteRangeOf(header, 10_000)).toEqual(range)
  })
})

describe("health", () => {
  it("says in JSON what is well and what isn't", async () => {
    const res = await get("/healthz")
    expect(res.status).toBe(503)
    expect(await res.json()).toEqual({
      ok: false,
      database: "well",
      worker: "no worker is running",
      mail: expect.stringContaining("not known"),
      due: "well",
    })
  })
})
