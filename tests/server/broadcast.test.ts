// Broadcasts and manners: who gets them and when, what is tried, held, left out, paused and stopped, and what came of it.
import { afterAll, beforeAll, beforeEach, describe, expect, it } from "vitest"
import { type Broadcast, newBroadcastDocument } from "@/core/mail/broadcast"
import { noSendingRules } from "@/core/mail/sending-rules"
import { type FrontServer, frontServer } from "@/front/server"
import { closeBroadcasts, countReaders, planBroadcast, turnBroadcast } from "@/server/broadcast/plan"
import { reached } from "@/server/broadcast/reached"
import { resultOf } from "@/server/broadcast/result"
import { listBroadcasts, newBroadcast, readBroadcast, removeBroadcast, saveBroadcast } from "@/server/broadcast/store"
import { doWhatIsDue, nextDueInstant } from "@/server/due-list"
import { pauseMail, resumeMail, saveSendingRules } from "@/server/mail/hold"
import { makePerson } from "@/server/person/person"
import { putTagsOn } from "@/server/person/tag"
import { openSchool, type TestSchool, testSchool } from "../support/school"

const hour = 3_600_000
const day = 24 * hour
let t: TestSchool
let web: FrontServer
let origin = ""
beforeAll(async () => {
  t = await testSchool("broadcast")
  await openSchool(t)
  web = frontServer(t.s, async (_, res) => void res.end("next"))
  await new Promise<void>((done) => web.server.listen(0, "127.0.0.1", () => done()))
  origin = `http://127.0.0.1:${(web.server.address() as { port: number }).port}`
})
afterAll(async () => {
  await web.close()
  await t.end()
})
beforeEach(async () => {
  t.sent.length = 0
  await saveSendingRules(t.s, noSendingRules)
})

let people = 0
async function person(tag: number, zone = "UTC", agreed = true): Promise<{ id: number; email: string }> {
  const email = `b${++people}@s.example`
  const made = await t.s.db.transaction((tx) =>
    makePerson(tx, { canonical: email, email, name: `B ${people}`, zone, source: "direct", confirmed: true }, t.at()),
  )
  await t.s.db.transaction((tx) => putTagsOn(tx, [{ person: made.person, tag, at: t.at(), name: "t" }]))
  if (agreed)
    await t.s.db.write(
      "INSERT INTO consent (address_id, kind, at, wording, ip, page) SELECT id, 'given', ?, 'yes', '', '' FROM address WHERE person_id = ?",
      [new Date(t.at()), made.person],
    )
  return { id: made.person, email }
}
const newTag = async () => (await t.s.db.write("INSERT INTO tag (name) VALUES (?)", [`t${Math.random()}`])).id

async function written(tag: number, more: Partial<Broadcast> = {}): Promise<number> {
  const { id } = (await newBroadcast(t.s, "News")) as { id: number }
  const saved = await saveBroadcast(t.s, id, {
    document: {
      ...newBroadcastDocument,
      to: { match: "all", parts: [{ kind: "tag", tag, has: true }] },
      subjects: ["Salt"],
      body: '<p>Read <a href="https://salt.example/">this</a></p>',
      ...more,
    },
  })
  if ("refused" in saved) throw new Error(saved.refused)
  return id
}
const planned = async (tag: number, more: Partial<Broadcast> = {}) => {
  const id = await written(tag, more)
  expect(await planBroadcast(t.s, id)).toEqual({ ok: true })
  return id
}
const got = (email: string) => t.sent.filter((m) => m.to.address === email).map((m) => m.subject)
const kept = async (id: number) => (await readBroadcast(t.s.db, id))!

async function walk(ms: number): Promise<void> {
  const until = t.at() + ms
  for (;;) {
    await doWhatIsDue(t.s, "w")
    const next = await nextDueInstant(t.s)
    if (next === null || next > until) break
    t.set(Math.max(next, t.at()))
  }
  t.set(until)
  await doWhatIsDue(t.s, "w")
  await closeBroadcasts(t.s)
}

describe("a broadcast", () => {
  it("goes to those who agreed and still take letters, once each, and can't be changed any more", async () => {
    const tag = await newTag()
    const [a, never, left, without] = [
      await person(tag),
      await person(tag, "UTC", false),
      await person(tag),
      await person(tag),
    ]
    await t.s.db.write("UPDATE address SET suppressed = 'left' WHERE person_id = ?", [left.id])
    await t.s.db.write("INSERT INTO unwanted (person_id, what, at) VALUES (?, 'broadcasts', ?)", [
      without.id,
      new Date(t.at()),
    ])
    const id = await written(tag)
    expect(await countReaders(t.s, (await kept(id)).document)).toEqual({ total: 1, without: 3 })
    await Promise.all([planBroadcast(t.s, id), planBroadcast(t.s, id)])
    await walk(hour)
    expect([a, never, left, without].map((p) => got(p.email))).toEqual([["Salt"], [], [], []])
    expect(await saveBroadcast(t.s, id, { name: "Other" })).toHaveProperty("refused")
    expect(await removeBroadcast(t.s, id)).toHaveProperty("refused")
    expect(await kept(id)).toMatchObject({ state: "sent" })
    const why = async (p: { email: string }) => {
      const found = await reached(t.s, id, p.email)
      return "refused" in found ? found.refused : found.mail === null ? found.says.join(" ") : "reached"
    }
    expect(await why(a)).toBe("reached")
    expect(await why(never)).toBe("They had not agreed to be written to.")
    expect(await why(left)).toBe("They had unsubscribed.")
    expect(await why(without)).toContain("do without broadcasts")
    expect(await why({ email: "nobody@s.example" })).toContain("Nobody")
    expect(await why(await person(await newTag()))).toContain("aren’t among those it goes to: people who have the tag")
    // What somebody said later doesn't count.
    const other = await person(await newTag())
    await t.s.db.write(
      "INSERT INTO consent (address_id, kind, at, wording, ip, page) SELECT id, 'withdrawn', ?, '', '', '' FROM address WHERE person_id = ?",
      [new Date(t.at() + hour), other.id],
    )
    await t.s.db.write("UPDATE person SET joined_at = ? WHERE id = ?", [new Date(t.at() - 3 * day), other.id])
    await t.s.db.write(
      "UPDATE consent SET at = ? WHERE kind = 'given' AND address_id = (SELECT id FROM address WHERE person_id = ?)",
      [new Date(t.at() - 3 * day), other.id],
    )
    expect(await why(other)).toMatch(/^As things are now they aren’t among/)
    const m = t.sent[0]!
    expect(m.headers["List-Unsubscribe-Post"]).toBe("List-Unsubscribe=One-Click")
    expect(m.html).not.toContain("salt.example")
  })

  it("isn't planned without words, readers or a sender", async () => {
    const tag = await newTag()
    expect(await planBroadcast(t.s, await written(tag))).toHaveProperty("refused")
    await person(tag)
    expect(await planBroadcast(t.s, await written(tag, { subjects: ["A", " "] }))).toHaveProperty("refused")
    // A button with words that leads nowhere, or to what isn't live.
    for (const [button, lesson, step] of [
      ["Open it", null, null],
      ["Open it", 99_999, null],
      ["Open it", null, 99_999],
    ] as const)
      expect(await planBroadcast(t.s, await written(tag, { button, lesson, step }))).toMatchObject({
        refused: "The button “Open it” leads nowhere. Choose where it leads, or remove its words.",
      })
    expect(await planBroadcast(t.s, await written(tag, { body: "<p> </p>" }))).toHaveProperty("refused")
    await t.s.db.write("UPDATE school SET sender_email = '' WHERE id = 1")
    expect(await planBroadcast(t.s, await written(tag))).toHaveProperty("refused")
    await t.s.db.write("UPDATE school SET sender_email = 'maren@crock.example' WHERE id = 1")
    expect(await planBroadcast(t.s, 9999)).toHaveProperty("refused")
  })

  it("comes at an hour where each reader is, and so many an hour", async () => {
    const tag = await newTag()
    const [east, west] = [await person(tag, "Asia/Kathmandu"), await person(tag, "America/Lima")]
    const date = new Date(t.at() + 2 * day).toISOString().slice(0, 10)
    const id = await planned(tag, { when: { date, at: 450, where: "reader" } })
    const due = async (p: { id: number }, of: number) =>
      (await t.s.db.row<{ at: Date }>("SELECT due_at AS at FROM mail WHERE person_id = ? AND broadcast_id = ?", [
        p.id,
        of,
      ]))!.at.toISOString()
    expect(await due(east, id)).toBe(`${date}T01:45:00.000Z`)
    expect(await due(west, id)).toBe(`${date}T12:30:00.000Z`)
    const slow = await planned(tag, { perHour: 1 })
    const times = [await due(east, slow), await due(west, slow)].map((x) => Date.parse(x)).sort()
    expect(times[1]! - times[0]!).toBe(hour)
    await turnBroadcast(t.s, id, "stop")
    await turnBroadcast(t.s, slow, "stop")
  })

  it("tries subjects on a part, gives the rest the better one, and says how sure that is", async () => {
    const tag = await newTag()
    for (let i = 0; i < 40; i++) await person(tag)
    const id = await planned(tag, { subjects: ["Plain", "Fancy"], trial: { percent: 50, hours: 2 } })
    await walk(60_000)
    expect(t.sent.map((m) => m.subject).sort()).toEqual([...Array(10).fill("Fancy"), ...Array(10).fill("Plain")])
    for (const m of t.sent.filter((x) => x.subject === "Fancy").slice(0, 8)) {
      const link = /\/go\/([\w.-]+)/.exec(m.html)![1]!
      expect((await fetch(`${origin}/go/${link}`, { redirect: "manual" })).status).toBe(303)
    }
    await walk(3 * hour)
    expect(t.sent.slice(20).map((m) => m.subject)).toEqual(Array(20).fill("Fancy"))
    const result = await resultOf(t.s.db, await kept(id))
    expect(result).toMatchObject({ sent: 40, trial: { best: 1, by: "clicked", sure: true } })
    expect(result.clicked).toMatchObject({ hits: 8, of: 40 })
    expect(result.links).toMatchObject([{ says: "https://salt.example/", clicked: { hits: 8 } }])
  })

  it("goes once more to those who didn't open it, and to nobody else", async () => {
    const tag = await newTag()
    const [a, b, c] = [await person(tag), await person(tag), await person(tag)]
    const id = await planned(tag, { againAfter: 2 })
    await walk(60_000)
    const picture = /\/mail\.gif\/([\w.-]+)/.exec(t.sent.find((m) => m.to.address === b.email)!.html)![1]!
    const res = await fetch(`${origin}/mail.gif/${picture}`)
    expect([res.status, res.headers.get("content-type"), res.headers.get("cache-control")]).toEqual([
      200,
      "image/gif",
      "no-store",
    ])
    expect((await fetch(`${origin}/mail.gif/${picture.slice(0, -3)}AAA`)).status).toBe(200)
    // However often its picture is asked for, it was opened once.
    await fetch(`${origin}/mail.gif/${picture}`)
    expect(
      await t.s.db.rows("SELECT person_id FROM fact WHERE kind = 'opened' AND person_id IN (?)", [[a.id, b.id]]),
    ).toEqual([{ person_id: b.id }])
    await t.s.db.write("UPDATE address SET suppressed = 'left' WHERE person_id = ?", [c.id])
    await walk(3 * day)
    expect([a, b, c].map((p) => got(p.email).length)).toEqual([2, 1, 1])
    expect(await resultOf(t.s.db, await kept(id))).toMatchObject({ sent: 3, again: 1, opened: { hits: 1 } })
    expect(await kept(id)).toMatchObject({ state: "sent" })
  })

  it("is paused, goes on, and is stopped", async () => {
    const tag = await newTag()
    const all = [await person(tag), await person(tag), await person(tag)]
    const id = await planned(tag, { perHour: 1 })
    await walk(60_000)
    expect(await turnBroadcast(t.s, id, "pause")).toEqual({ ok: true })
    expect(await turnBroadcast(t.s, id, "pause")).toHaveProperty("refused")
    await walk(90 * 60_000)
    expect(t.sent).toHaveLength(1)
    expect(await turnBroadcast(t.s, id, "go-on")).toEqual({ ok: true })
    await walk(60_000)
    expect(t.sent).toHaveLength(2)
    expect(await turnBroadcast(t.s, id, "stop")).toEqual({ ok: true })
    await walk(9 * hour)
    expect(all.flatMap((p) => got(p.email))).toHaveLength(2)
    expect((await listBroadcasts(t.s.db)).find((x) => x.id === id)).toMatchObject({
      state: "stopped",
      sent: 2,
      mails: 3,
    })
  })
})

describe("a reader", () => {
  it("does without letters to everybody, takes them again, and leaves all by one click", async () => {
    const tag = await newTag()
    const a = await person(tag)
    const first = await planned(tag)
    await walk(60_000)
    const url = new URL(/<(.*)>/.exec(t.sent[0]!.headers["List-Unsubscribe"]!)![1]!)
    const at = `${origin}${url.pathname}${url.search}`
    const post = (body: Record<string, string>) =>
      fetch(at, { method: "POST", body: new URLSearchParams(body) }).then((r) => r.text())
    expect(await (await fetch(at)).text()).toContain("Stop letters to everybody")
    expect(await post({ broadcasts: "stop" })).toContain("don&#39;t come any more")
    expect(await planBroadcast(t.s, await written(tag))).toHaveProperty("refused")
    await post({ broadcasts: "again" })
    await planned(tag)
    await post({ "List-Unsubscribe": "One-Click" })
    await walk(hour)
    expect(got(a.email)).toHaveLength(1)
    expect((await resultOf(t.s.db, await kept(first))).left).toMatchObject({ hits: 1, of: 1 })
    // Somebody else's mail in the link is nobody's business.
    expect((await fetch(`${origin}${url.pathname}?mail=1`)).status).toBe(200)
  })
})

describe("manners", () => {
  it("hold until morning there, keep to two a day, and say why", async () => {
    const tag = await newTag()
    t.set("2026-12-09T04:10:00Z") // 23:10 in Lima
    const a = await person(tag, "America/Lima")
    expect(await saveSendingRules(t.s, { ...noSendingRules, hours: { from: 450, until: 1380 }, perDay: 2 })).toEqual({
      ok: true,
    })
    const ids = [
      await planned(tag),
      await planned(tag, { subjects: ["Second"] }),
      await planned(tag, { subjects: ["Third"], goes: "first" }),
    ]
    await walk(hour)
    expect(got(a.email)).toEqual([])
    await walk(Date.parse("2026-12-09T12:30:00Z") - t.at())
    expect(got(a.email).sort()).toEqual(["Salt", "Third"])
    await walk(day)
    expect(got(a.email).at(-1)).toBe("Second")
    const holds = await t.s.db.rows<{ why: string }>(
      "SELECT h.why FROM mail_hold h JOIN mail m ON m.id = h.mail_id WHERE m.broadcast_id = ? ORDER BY h.id",
      [ids[1]],
    )
    expect(holds.map((h) => h.why)).toEqual(["night", "day-full", "night"])
  })

  it("leave out what comes too late, and never hold what was asked for", async () => {
    const tag = await newTag()
    t.set("2026-12-15T09:00:00Z") // a Tuesday
    const a = await person(tag)
    await saveSendingRules(t.s, { ...noSendingRules, weekdays: [1], lateAfter: 12 })
    const id = await planned(tag)
    await t.s.db.write(
      "INSERT INTO mail (once, kind, person_id, to_email, to_name, goes, due_at, try_at) VALUES ('asked', 'way-in', ?, ?, '', NULL, ?, ?)",
      [a.id, a.email, new Date(t.at()), new Date(0)],
    )
    await walk(hour)
    expect(got(a.email)).toEqual(["Your sign-in link for Juniper Crock"])
    expect(await t.s.db.row("SELECT state, trouble FROM mail WHERE broadcast_id = ?", [id])).toEqual({
      state: "cancelled",
      trouble: "left out: it would have come too late",
    })
    expect(await saveSendingRules(t.s, { ...noSendingRules, weekdays: [] })).toHaveProperty("refused")
    expect(await saveSendingRules(t.s, { ...noSendingRules, hours: { from: 1440, until: 0 } })).toHaveProperty(
      "refused",
    )
  })

  it("are kept by two workers that hold a letter each for the same reader", async () => {
    const tag = await newTag()
    const readers = [await person(tag), await person(tag), await person(tag), await person(tag)]
    await saveSendingRules(t.s, { ...noSendingRules, perDay: 1 })
    for (const subject of ["A", "B", "C"]) await planned(tag, { subjects: [subject] })
    await Promise.all([doWhatIsDue(t.s, "one"), doWhatIsDue(t.s, "two"), doWhatIsDue(t.s, "three")])
    expect(readers.map((r) => got(r.email).length)).toEqual([1, 1, 1, 1])
    await walk(4 * day)
    expect(readers.map((r) => got(r.email).sort())).toEqual(Array(4).fill(["A", "B", "C"]))
  })
})

describe("the red button", () => {
  it("holds everything that nobody asked for just now, for all or for one, and lets it go on", async () => {
    const tag = await newTag()
    const [a, b] = [await person(tag), await person(tag)]
    await pauseMail(t.s, null)
    await planned(tag)
    await walk(hour)
    expect(t.sent).toEqual([])
    expect(await t.s.db.row("SELECT COUNT(*) AS n FROM mail WHERE state = 'held'")).toEqual({ n: 2 })
    await pauseMail(t.s, a.id)
    await resumeMail(t.s, null)
    await walk(hour)
    expect([got(a.email), got(b.email)]).toEqual([[], ["Salt"]])
    await resumeMail(t.s, a.id)
    await walk(hour)
    expect(got(a.email)).toEqual(["Salt"])
  })
})
