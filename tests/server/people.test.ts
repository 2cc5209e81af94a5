import { afterAll, beforeAll, describe, expect, it } from "vitest"
import { mayTry } from "@/server/attempt"
import { clockOf } from "@/server/clock"
import { moveClock } from "@/server/due-list"
import { confirmJoin } from "@/server/funnel/confirm"
import { sendDue } from "@/server/mail/send"
import { makeOwner, signIn } from "@/server/person/account"
import { countPeople, listPeople, type PeopleQuery, personStory } from "@/server/person/people"
import { searchedText } from "@/server/person/person"
import { admittedOf, beginSession, endSession, studioSessionOf } from "@/server/person/session"
import { sign, verify, verifyId } from "@/server/sign"
import { readToday } from "@/server/today"
import { join_, lastTo, linkId, openSchool, type TestSchool, testSchool, thatTuesday } from "../support/school"

let t: TestSchool
let school: Awaited<ReturnType<typeof openSchool>>
beforeAll(async () => {
  t = await testSchool("people", { start: thatTuesday })
  school = await openSchool(t)
})
afterAll(() => t.end())

describe("the owner's account", () => {
  it("is made once, however many try at the same moment", async () => {
    const fresh = await testSchool("owner")
    const input = { school: "S", name: "N", email: "n@x.example", password: "long enough it is" }
    const all = await Promise.all(Array.from({ length: 6 }, () => makeOwner(fresh.s, input)))
    expect(all.filter((a) => "session" in a)).toHaveLength(1)
    for (const bad of [{ ...input, password: "short" }, { ...input, email: "x" }, { ...input, school: " " }, null])
      expect(await makeOwner(fresh.s, bad)).toMatchObject({ refused: expect.any(String) })
    await fresh.end()
  })
  it("opens with its password only, in the same words for either mistake, and not for ever", async () => {
    const good = await signIn(t.s, { email: "MAREN@crock.example", password: "brine before breakfast", ip: "1" })
    expect(good).toHaveProperty("session")
    const wrong = await signIn(t.s, { email: "maren@crock.example", password: "x", ip: "1" })
    expect(await signIn(t.s, { email: "nobody@crock.example", password: "x", ip: "1" })).toEqual(wrong)
    expect(await signIn(t.s, { email: "' OR 1=1 --", password: "x", ip: "1" })).toEqual(wrong)
    for (let i = 0; i < 12; i++) await signIn(t.s, { email: "maren@crock.example", password: "x", ip: "1" })
    expect(
      await signIn(t.s, { email: "maren@crock.example", password: "brine before breakfast", ip: "1" }),
    ).toMatchObject({ refused: expect.stringContaining("Too many") })
  })
  it("has sessions of one realm that end, whose token is nowhere stored", async () => {
    const token = await beginSession(t.s.db, "studio", 1)
    expect(Buffer.from(token, "base64url")).toHaveLength(32)
    expect(await studioSessionOf(t.s.db, token)).toEqual({ account: 1, byMail: false })
    expect(await admittedOf(t.s.db, token)).toBeNull()
    expect(JSON.stringify(await t.s.db.rows("SELECT HEX(token_hash) AS h FROM session"))).not.toContain(token)
    for (const bad of [undefined, "", "x", `${token}x`, "x".repeat(5000)])
      expect(await studioSessionOf(t.s.db, bad)).toBeNull()
    await t.s.db.write("UPDATE session SET expires_at = ? WHERE realm = 'studio'", [new Date(Date.now() - 1)])
    expect(await studioSessionOf(t.s.db, token)).toBeNull()
    await endSession(t.s.db, token)
  })
})

describe("signatures", () => {
  it("are of one purpose, one secret and one text", () => {
    const token = sign("secret", "confirm", "12")
    expect(verifyId("secret", "confirm", token)).toBe(12)
    expect(verify("secret", "way-in", token)).toBeNull()
    expect(verify("other", "confirm", token)).toBeNull()
    for (const bad of [
      "",
      ".",
      "12",
      "12.",
      `13${token.slice(2)}`,
      `${token}A`,
      sign("secret", "confirm", "0"),
      sign("secret", "confirm", "1e3"),
    ])
      expect(verifyId("secret", "confirm", bad)).toBeNull()
  })
})

describe("rate limits", () => {
  it("count exactly, also at once", async () => {
    const tries = await Promise.all(
      Array.from({ length: 20 }, () => mayTry(t.s.db, "test", { most: 5, windowMs: 3_600_000 })),
    )
    expect(tries.filter(Boolean).length).toBeLessThanOrEqual(5)
    expect(await mayTry(t.s.db, "test", { most: 5, windowMs: 3_600_000 })).toBe(false)
    expect(await mayTry(t.s.db, "another", { most: 5, windowMs: 3_600_000 })).toBe(true)
  })
})

describe("the people list", () => {
  const names = ["José", "Jose", "Zoë", "さくら", "Anna 100%", "a_b", "O'Neil", "Ánna"]
  beforeAll(async () => {
    for (const [i, name] of names.entries()) {
      const email = `p${i}@list.example`
      await t.s.db.write("INSERT INTO person (name, email, zone, joined_at, searched) VALUES (?, ?, 'UTC', ?, ?)", [
        name,
        email,
        new Date(t.at() - i * 1000),
        searchedText(name, email),
      ])
    }
    await t.s.db.write("INSERT INTO tag (name) VALUES ('crock')")
    await t.s.db.write(
      "INSERT INTO person_tag SELECT p.id, g.id, p.joined_at, p.joined_at FROM person p, tag g WHERE p.email IN ('p0@list.example', 'p2@list.example') AND g.name = 'crock'",
    )
  })
  const query = (q: Partial<PeopleQuery> = {}): PeopleQuery => ({
    search: "list.example",
    tag: null,
    sort: "joined",
    descending: true,
    page: 0,
    ...q,
  })
  const found = async (q: Partial<PeopleQuery>) => {
    const people = await listPeople(t.s.db, query(q))
    expect(await countPeople(t.s.db, query(q))).toBe(people.length)
    return people.map((p) => p.name)
  }
  it.each([
    ["jose list", ["José", "Jose"]],
    ["JOSÉ", ["José", "Jose"]],
    ["さく", ["さくら"]],
    ["100%", ["Anna 100%"]],
    ["a_b", ["a_b"]],
    ["%", ["Anna 100%"]],
    ["_", ["a_b"]],
    ["o'neil", ["O'Neil"]],
    ["anna", ["Anna 100%", "Ánna"]],
    ["\\", []],
    ["p3@list", ["さくら"]],
    ["nobody here", []],
  ])("finds %j", async (search, names) => {
    expect(await found({ search })).toEqual(names)
  })
  it("sorts, filters by tag, and pages without losing or doubling anyone", async () => {
    expect((await found({})).slice(0, 2)).toEqual(["José", "Jose"])
    expect((await found({ sort: "email", descending: false }))[0]).toBe("José")
    const tag = (await t.s.db.row<{ id: number }>("SELECT id FROM tag WHERE name = 'crock'"))!.id
    expect(await found({ tag })).toEqual(["José", "Zoë"])
    expect(await found({ tag, sort: "name", descending: true })).toEqual(["Zoë", "José"])
    const many = Array.from({ length: 120 }, (_, i) => [
      `Same`,
      `s${i}@page.example`,
      "UTC",
      new Date(t.at()),
      `same s${i}@page.example`,
    ])
    await t.s.db.write("INSERT INTO person (name, email, zone, joined_at, searched) VALUES ?", [many])
    for (const sort of ["joined", "name", "email"] as const) {
      const ids = new Set<number>()
      for (let page = 0; page < 3; page++)
        for (const p of await listPeople(t.s.db, query({ search: "page.example", sort, page }))) ids.add(p.id)
      expect(ids.size).toBe(120)
    }
    expect(await listPeople(t.s.db, query({ page: 999 }))).toEqual([])
  })
  it("has no story for nobody", async () => expect(await personStory(t.s.db, 99_999)).toBeUndefined())
})

describe("the clock", () => {
  it("moves on by stopping at each thing due, and what is due happens in order", async () => {
    const s = { ...t.s, clock: clockOf(t.s.db, "test") }
    await t.s.db.write("UPDATE clock SET offset_ms = 0")
    t.set(Date.now())
    await join_(t, school, "clock@post.example", { zone: "UTC" })
    await sendDue(s, "w")
    await confirmJoin(s, linkId(t, lastTo(t, "clock@post.example"), "confirm"), { ip: "" })
    const before = t.sent.length
    const moved = await moveClock(s, (await s.clock.now()) + 4 * 86_400_000)
    expect(moved).toMatchObject({ whole: true })
    expect(t.sent.slice(before).map((m) => m.subject)).toEqual([
      "1 of 3: Lesson 1",
      "2 of 3: Lesson 2",
      "3 of 3: Lesson 3",
    ])
    const rows = await t.s.db.rows<{ due_at: Date; sent_at: Date }>(
      "SELECT due_at, sent_at FROM mail WHERE to_email = 'clock@post.example' AND kind = 'sequence' ORDER BY id",
    )
    for (const r of rows) expect(r.sent_at.getTime() - r.due_at.getTime()).toBeLessThan(5_000) // sent when it was due, not when the clock arrived
    expect(Math.abs((await s.clock.now()) - moved.now)).toBeLessThan(2_000)
    await expect(moveClock({ ...s, config: { ...s.config, mode: "own" } }, 0)).rejects.toThrow("can't be moved")
  })
})

describe("today", () => {
  it("says who came and joined, what is broken, what is next", async () => {
    t.set("2026-11-24T10:00:00Z")
    const today = await readToday(t.s)
    expect(today.week.newPeople).toBeGreaterThan(100)
    expect(today.before).toEqual({ visited: 0, newPeople: 0, orders: 0, money: [] })
    expect(today.broken.map((b) => b.words).join(" ")).toContain("no worker is running")
    expect(today.next).toBeNull()
  })
})

it("no value turns into SQL of its own: an object that came instead of a number is text", async () => {
  const sneaky = { id: 1 } as unknown as number
  expect(await t.s.db.rows("SELECT 1 FROM person p WHERE p.id = ?", [sneaky])).toEqual([])
  expect(await t.s.db.rows("SELECT ? AS x", [{ a: "b" }])).toEqual([{ x: "[object Object]" }])
})

it("a page in the far half is the same, read from the end, in any order", async () => {
  const { db } = t.s
  await db.write(
    "INSERT INTO person (name, email, zone, joined_at, searched) SELECT CONCAT('far', seq % 97), CONCAT('far', seq, '@x.example'), 'UTC', FROM_UNIXTIME(1.7e9 + seq % 1000), CONCAT('far', seq) FROM seq_1_to_5321",
  )
  const columns = { joined: "joined_at", name: "name", email: "email" } as const
  for (const sort of ["joined", "name", "email"] as const)
    for (const descending of [false, true]) {
      const way = descending ? "DESC" : "ASC"
      const all = await db.rows<{ id: number }>(
        `SELECT id FROM person WHERE searched LIKE '%far%' ORDER BY ${columns[sort]} ${way}, id ${way}`,
      )
      for (const page of [0, 53, 100, 101, 106, 107]) {
        const list = await listPeople(db, { search: "far", tag: null, sort, descending, page })
        expect(list.map((p) => p.id)).toEqual(all.slice(page * 50, page * 50 + 50).map((p) => p.id))
      }
    }
})
