// What is sent up as it comes through the front: who may, from where, how much; a list that is let in while it says how far it
// is; and the doors of an address that changes.
import { afterAll, beforeAll, describe, expect, it } from "vitest"
import { type FrontServer, frontServer } from "@/front/server"
import { readCourse } from "@/server/course/course"
import { saveLessonPage } from "@/server/course/lesson-page"
import { letPeopleIn } from "@/server/course/let-in"
import { askAddressChange, changeLink } from "@/server/person/address-change"
import { beginSession, sessionCookie } from "@/server/person/session"
import { openSchool, type TestSchool, testSchool } from "../support/school"

let t: TestSchool
let web: FrontServer
let origin: string
let course: number
let lesson: number
let person: number
const cookies = { studio: "", learn: "", other: "" }
beforeAll(async () => {
  t = await testSchool("uploads")
  course = (await openSchool(t)).course
  lesson = (await readCourse(t.s.db, course))!.lessons[0]!.id
  await saveLessonPage(t.s, lesson, 1, {
    version: 1,
    title: "x",
    blocks: [{ id: "w", kind: "assignment", asks: "A jar.", file: true }],
  })
  const done = await letPeopleIn(t.s, { course, people: "a@x.example", until: null, tells: false })
  if ("refused" in done) throw new Error(done.refused)
  person = done.results[0]!.person!
  const outsider = (
    await t.s.db.write("INSERT INTO person (name, email, zone, joined_at) VALUES ('', 'o@x.example', 'UTC', NOW())")
  ).id
  const cookie = async (realm: "studio" | "learn", id: number) =>
    `${sessionCookie(t.s.config, realm)}=${await beginSession(t.s.db, realm, id)}`
  cookies.studio = await cookie("studio", 1)
  cookies.learn = await cookie("learn", person)
  cookies.other = await cookie("learn", outsider)
  web = frontServer(t.s, async (_, res) => void res.end("next"))
  await web.front.live.refresh()
  await new Promise<void>((r) => web.server.listen(0, "127.0.0.1", () => r()))
  origin = `http://127.0.0.1:${(web.server.address() as { port: number }).port}`
})
afterAll(async () => {
  await web.close()
  await t.end()
})

const send = (path: string, body: string | Buffer, headers: Record<string, string> = {}) =>
  fetch(origin + path, { method: "POST", body: body as BodyInit, headers, redirect: "manual" })

describe("a file that is handed in", () => {
  const at = () => `/learn/hand-in?course=first&lesson=${lesson}&block=w&name=jar.txt`

  it("is taken from whoever is in the lesson, and from nobody else", async () => {
    const taken = await send(at(), "A jar.", { cookie: cookies.learn })
    expect([taken.status, await taken.json()]).toEqual([200, expect.objectContaining({ id: expect.any(Number) })])
    const statuses = []
    for (const cookie of ["", cookies.studio, cookies.other])
      statuses.push((await send(at(), "A jar.", { cookie })).status)
    expect(statuses).toEqual([401, 401, 422])
    const foreign = { cookie: cookies.learn, origin: "https://evil.example" }
    expect((await send(at(), "A jar.", foreign)).status).toBe(403)
    expect((await send(at().replace("block=w", "block=zz"), "A jar.", { cookie: cookies.learn })).status).toBe(422)
  })

  it("is refused when it is too large, also where it doesn't say so before", async () => {
    const large = Buffer.alloc(21e6, 97)
    expect((await send(at(), large, { cookie: cookies.learn })).status).toBe(413)
    const streamed = await fetch(origin + at(), {
      method: "POST",
      headers: { cookie: cookies.learn },
      body: new ReadableStream({
        start(c) {
          for (let i = 0; i < 21; i++) c.enqueue(new Uint8Array(1e6).fill(97))
          c.close()
        },
      }),
      duplex: "half",
    } as RequestInit).catch(() => null)
    expect(streamed === null || streamed.status === 413).toBe(true)
  })

  it("is nothing that the studio's door takes, nor the other way round", async () => {
    const kind = (k: string) => send(`/studio/upload?kind=${k}&name=x.txt`, "x", { cookie: cookies.studio })
    expect([(await kind("handed-in")).status, (await kind("constructor")).status]).toEqual([400, 400])
    expect((await kind("file")).status).toBe(200)
    expect((await send("/studio/upload?kind=file&name=x.txt", "x", { cookie: cookies.learn })).status).toBe(401)
  })
})

describe("a list that is let in", () => {
  const path = () => `/studio/let-in?course=${course}&batch=0123456789ab`
  const lines = async (res: Response) =>
    (await res.text())
      .trim()
      .split("\n")
      .map((l) => JSON.parse(l))

  it("says how far it is, and then what became of each line", async () => {
    const list = Array.from({ length: 4_100 }, (_, i) => `up${i}@x.example`).join("\n")
    const all = await lines(await send(path(), list, { cookie: cookies.studio }))
    expect(all.slice(0, 2)).toEqual([
      { done: 900, of: 4_100 },
      { done: 1_800, of: 4_100 },
    ])
    expect(all.at(-1).results).toHaveLength(4_100)
    expect(
      (await t.s.db.row<{ actor: string }>("SELECT actor FROM fact WHERE kind = 'admitted' ORDER BY id DESC LIMIT 1"))!
        .actor,
    ).toBe("account:1")
  })

  it("is refused from a stranger, a learner, another site, and where nothing is chosen", async () => {
    expect((await send(path(), "x@y.example")).status).toBe(401)
    expect((await send(path(), "x@y.example", { cookie: cookies.learn })).status).toBe(401)
    const foreign = { cookie: cookies.studio, origin: "https://evil.example" }
    expect((await send(path(), "x@y.example", foreign)).status).toBe(403)
    const nothing = await send("/studio/let-in?course=999", "x@y.example", { cookie: cookies.studio })
    expect(await lines(nothing)).toEqual([{ refused: expect.any(String) }])
    expect(await lines(await send(path(), Buffer.from([0xff, 0xfe, 0x00]), { cookie: cookies.studio }))).toMatchObject([
      { results: [{ came: "unreadable" }] },
    ])
  })
})

describe("the doors of an address that changes", () => {
  it("open by looking and say yes by pressing; a forged one leads nowhere", async () => {
    await askAddressChange(t.s, { person, scope: null }, "b@x.example")
    const { id } = (await t.s.db.row<{ id: number }>("SELECT id FROM address_change"))!
    const door = (side: "old" | "new") => new URL(changeLink(t.s.config, id, side)).pathname
    const look = async (path: string) => (await fetch(origin + path)).text()
    expect(await look(door("old"))).toContain("the address b@x.example instead of a@x.example")
    // The new mailbox isn't told what the address was.
    expect(await look(door("new"))).not.toContain("a@x.example")
    expect((await send(door("old"), "", { "sec-fetch-site": "cross-site" })).status).toBe(200)
    expect(await t.s.db.row("SELECT old_pressed_at FROM address_change")).toEqual({ old_pressed_at: null })
    expect(await (await send(door("old"), "")).text()).toContain("Now the other mailbox")
    expect(await (await send(door("new"), "")).text()).toContain("From now on it is b@x.example")
    expect(await look(door("new"))).toContain("From now on it is b@x.example")
    expect((await fetch(`${origin}/confirm-address/1-old.forged`)).status).toBe(404)
  })
})
