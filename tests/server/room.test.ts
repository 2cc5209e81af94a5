// What is said in a room: to whom it comes, who is told what they missed, and what is refused.
import { afterAll, beforeAll, describe, expect, it } from "vitest"
import { type FrontServer, frontServer } from "@/front/server"
import { erasePerson, everythingOf } from "@/server/person/erase"
import { makePerson } from "@/server/person/person"
import { beginSession, sessionCookie } from "@/server/person/session"
import { sign } from "@/server/sign"
import { dateOf, listDates } from "@/server/webinar/dates"
import { takeSeat } from "@/server/webinar/seat"
import { saidSince, sayAsHost, settleSaid } from "@/server/webinar/talk"
import { newWebinarOf, saveWebinar } from "@/server/webinar/webinar"
import { filmOf } from "../support/film"
import { openSchool, type TestSchool, testSchool, thatTuesday } from "../support/school"

let t: TestSchool
let web: FrontServer
let origin: string
let webinar: number
let date: number
const start = Date.parse("2026-12-03T19:00:00Z")
type Guest = { person: number; room: string; cookie: string }
const guests: Guest[] = []

beforeAll(async () => {
  t = await testSchool("room", { start: thatTuesday })
  await openSchool(t)
  const made = await newWebinarOf(t.s, "Why brine goes cloudy")
  if ("refused" in made) throw new Error(made.refused)
  webinar = made.id
  await saveWebinar(t.s, webinar, {
    recording: await filmOf(t.s),
    zone: "UTC",
    host: "Maren",
    when: { kind: "dates", dates: [{ date: "2026-12-03", at: 19 * 60 }] },
  })
  date = (await listDates(t.s, webinar, "to-come"))[0]!.id
  web = frontServer(t.s, async (_, res) => void res.end("next"))
  await web.front.live.refresh()
  await new Promise<void>((r) => web.server.listen(0, "127.0.0.1", () => r()))
  origin = `http://127.0.0.1:${(web.server.address() as { port: number }).port}`
  for (const name of ["Ann", "Bo", "Cy"]) guests.push(await guest(name))
  t.set(start - 5 * 60_000)
  for (const g of guests) {
    const res = await post(g, {})
    expect(res.status).toBe(303)
    g.cookie = res.headers.getSetCookie()[0]!.split(";")[0]!
  }
})
afterAll(async () => {
  await web.close()
  await t.end()
})

async function guest(name: string): Promise<Guest> {
  const email = `${name.toLowerCase()}@post.example`
  const { person } = await t.s.db.transaction((tx) =>
    makePerson(tx, { canonical: email, email, name, zone: "UTC", source: "direct", confirmed: true }, t.at()),
  )
  const seat = await t.s.db.transaction((tx) => takeSeat(tx, date, person, t.at()))
  if ("refused" in seat) throw new Error(seat.refused)
  return { person, room: `/room/${sign(t.s.config.secret, "room", String(seat.registration))}`, cookie: "" }
}
const post = (g: Guest, fields: Record<string, string>, cookie = g.cookie) =>
  fetch(origin + g.room, { method: "POST", redirect: "manual", body: new URLSearchParams(fields), headers: { cookie } })
const say = (g: Guest, words: string, more: Record<string, string> = {}) => post(g, { say: words, ...more })

type Heard = { id: number; name: string; host: boolean; mine: boolean; question: boolean; words: string }

/** Listens as a browser does, until `enough` have come. */
async function listen(g: Guest, enough: number, last = ""): Promise<Heard[]> {
  const stop = new AbortController()
  const res = await fetch(`${origin}${g.room}/live`, {
    signal: stop.signal,
    headers: { cookie: g.cookie, ...(last ? { "last-event-id": last } : {}) },
  })
  expect(res.headers.get("content-type")).toBe("text/event-stream")
  const heard: Heard[] = []
  let text = ""
  const decoder = new TextDecoder()
  for await (const chunk of res.body as unknown as AsyncIterable<Uint8Array>) {
    text += decoder.decode(chunk, { stream: true })
    for (;;) {
      const end = text.indexOf("\n\n")
      if (end < 0) break
      const event = text.slice(0, end)
      text = text.slice(end + 2)
      const data = /^data: (.*)$/m.exec(event)?.[1]
      if (data) heard.push({ id: Number(/^id: (\d+)$/m.exec(event)![1]), ...JSON.parse(data) })
    }
    if (heard.length >= enough) break
  }
  stop.abort()
  return heard
}
const wordsOf = (them: readonly Heard[]) => them.map((m) => m.words)
const mode = async (chat: "all" | "host" | "off") =>
  expect(await saveWebinar(t.s, webinar, { chat })).toHaveProperty("value")

describe("a seat", () => {
  const cookieOf = (res: Response) => res.headers.getSetCookie()[0]?.split(";")[0] ?? ""

  it("is nobody's before the room opens, and lets in one of many devices with its link", async () => {
    const dee = await guest("Dee")
    t.set(start - 3 * 3_600_000)
    for (let i = 0; i < 4; i++) expect(cookieOf(await post(dee, {}))).toBe("")
    t.set(start - 5 * 60_000)
    const pressed = await Promise.all(Array.from({ length: 5 }, () => post(dee, {})))
    expect(pressed.filter((r) => r.status === 303)).toHaveLength(1)
    expect(pressed.filter((r) => r.status === 409)).toHaveLength(4)
  })

  it("that another device takes over by proof falls shut on the first: page, beats, chat, votes and what is heard", async () => {
    const eli = await guest("Eli")
    const first = { ...eli, cookie: cookieOf(await post(eli, {})) }
    const hearing = fetch(`${origin}${eli.room}/live`, { headers: { cookie: first.cookie } })
    expect((await hearing).status).toBe(200)
    const ended = (await hearing).text()
    // The owner signs in on another device.
    const session = await beginSession(t.s.db, "learn", eli.person)
    const proof = `${sessionCookie(t.s.config, "learn")}=${session}`
    const second = { ...eli, cookie: cookieOf(await post(eli, {}, proof)) }
    expect((await post(second, { beat: "1" })).status).toBe(200)
    expect((await post(first, { beat: "1" })).status).toBe(409)
    expect((await say(first, "in her name")).status).toBe(409)
    expect((await post(first, { poll: "1", answer: "0" })).status).toBe(409)
    expect((await fetch(`${origin}${eli.room}/live`, { headers: { cookie: first.cookie } })).status).toBe(204)
    expect(await (await fetch(origin + eli.room, { headers: { cookie: first.cookie } })).text()).not.toContain(
      "EventSource",
    )
    expect((await post(first, {})).status).toBe(409)
    // It hears no more, whichever process it listens to.
    await ended
    // Once the owner has been gone for three beats the link is pressed again.
    t.set(t.at() + 60_000)
    expect((await post(first, {})).status).toBe(303)
    t.set(start - 5 * 60_000)
  })
})

describe("what is said", () => {
  it("comes to everybody in the room as text, and whoever comes back hears what they missed, once", async () => {
    const [ann, bo] = guests as [Guest, Guest]
    const hearing = listen(ann, 2)
    expect((await say(bo, "  Hello <b>all</b>\n")).status).toBe(200)
    expect((await say(ann, "Why is it cloudy?", { question: "1" })).status).toBe(200)
    const heard = await hearing
    expect(heard).toMatchObject([
      { name: "Bo", mine: false, host: false, question: false, words: "Hello <b>all</b>" },
      { name: "Ann", mine: true, question: true, words: "Why is it cloudy?" },
    ])
    await sayAsHost(t.s, date, "Lactic acid bacteria.")
    const missed = await listen(ann, 1, String(heard[1]!.id))
    expect(missed).toMatchObject([{ name: "Maren", host: true, words: "Lactic acid bacteria." }])
    expect(wordsOf(await listen(bo, 3))).toEqual(["Hello <b>all</b>", "Why is it cloudy?", "Lactic acid bacteria."])
  })

  it("is for the host alone where that is set; the host is heard by all", async () => {
    const [ann, bo, cy] = guests as [Guest, Guest, Guest]
    await mode("host")
    await say(cy, "For Maren only")
    await sayAsHost(t.s, date, "Welcome")
    expect(wordsOf(await listen(bo, 3))).toEqual(["Hello <b>all</b>", "Lactic acid bacteria.", "Welcome"])
    expect(wordsOf(await listen(cy, 3))).toEqual(["Lactic acid bacteria.", "For Maren only", "Welcome"])
    expect(wordsOf(await listen(ann, 3))).toEqual(["Why is it cloudy?", "Lactic acid bacteria.", "Welcome"])
    await mode("all")
  })

  it("is answered and taken out by the host, and goes with whoever is erased", async () => {
    const all = await saidSince(t.s.db, date, 0)
    const question = all.find((m) => m.kind === "question")!
    expect(await settleSaid(t.s, question.id, "answered")).toEqual({ ok: true })
    expect(await settleSaid(t.s, all[0]!.id, "hidden")).toEqual({ ok: true })
    expect(await settleSaid(t.s, 99_999, "hidden")).toHaveProperty("refused")
    const now = await saidSince(t.s.db, date, 0)
    expect(now.map((m) => m.id)).not.toContain(all[0]!.id)
    expect(now.find((m) => m.id === question.id)).toMatchObject({ answered: true })
    expect(JSON.stringify(await everythingOf(t.s.db, guests[2]!.person))).toContain("For Maren only")
    await erasePerson(t.s, guests[2]!.person)
    expect((await saidSince(t.s.db, date, 0)).map((m) => m.words)).not.toContain("For Maren only")
    expect(await dateOf(t.s, webinar, date)).toMatchObject({ host: "Maren", registered: 4, here: 1 })
  })

  it("is refused empty, too long, too fast, without a seat of one's own, and when the room is closed or silent", async () => {
    const [ann, bo] = guests as [Guest, Guest]
    expect((await say(ann, " ")).status).toBe(422)
    expect((await say(ann, "x".repeat(501))).status).toBe(422)
    expect((await post(ann, { say: "as Bo" }, bo.cookie)).status).toBe(409)
    expect((await fetch(`${origin}${ann.room}/live`, { headers: { cookie: bo.cookie } })).status).toBe(204)
    // All of them in one half minute, as they are counted.
    const left = 30_000 - (Date.now() % 30_000)
    if (left < 10_000) await new Promise((r) => setTimeout(r, left))
    const many = await Promise.all(Array.from({ length: 30 }, (_, i) => say(bo, `n${i}`)))
    expect(many.filter((r) => r.status === 200).length).toBeLessThanOrEqual(10)
    expect(many.some((r) => r.status === 422)).toBe(true)
    await mode("off")
    expect((await say(ann, "Anybody?")).status).toBe(422)
    await mode("all")
    t.set(start + 3_600_000)
    expect((await say(ann, "Still here")).status).toBe(422)
  })

  it("takes no more beats than a room could send, and tells few windows of one seat", async () => {
    t.set(start - 60_000)
    const [ann] = guests as [Guest]
    const all = await Promise.all(Array.from({ length: 400 }, () => post(ann, { beat: "1" })))
    const taken = all.filter((r) => r.status === 200).length
    expect(taken).toBeGreaterThan(100)
    expect(taken).toBeLessThanOrEqual(300)
    const [seat] = await t.s.db.rows<{ id: number }>("SELECT id FROM registration WHERE person_id = ?", [ann.person])
    expect(await t.s.db.row("SELECT COUNT(*) AS n FROM stay WHERE registration_id = ?", [seat!.id])).toEqual({ n: 1 })
    const stop = new AbortController()
    const windows = await Promise.all(
      Array.from({ length: 12 }, () =>
        fetch(`${origin}${ann.room}/live`, { signal: stop.signal, headers: { cookie: ann.cookie } }),
      ),
    )
    expect(windows.every((r) => r.status === 200)).toBe(true)
    await expect.poll(() => web.front.rooms.count()).toBeLessThanOrEqual(5)
    stop.abort()
  })

  it("is listened to by nobody once they have gone", async () => {
    await expect.poll(() => web.front.rooms.count(), { timeout: 10_000 }).toBe(0)
  })
})
