// Learners who sign in by a password: what is refused, what guessing costs, and what ends.
import { afterAll, beforeAll, describe, expect, it } from "vitest"
import { learnerAccount, setLearnerPassword, signInLearner } from "@/server/person/learner"
import { personStory } from "@/server/person/people"
import { makePerson } from "@/server/person/person"
import { admittedOf, beginSession, devicesOf, endDevice, signedIn } from "@/server/person/session"
import { enterByWayIn, queueWayIn } from "@/server/person/way-in"
import { type TestSchool, testSchool } from "../support/school"

let t: TestSchool
let person: number
const email = "Ana@Post.example"
beforeAll(async () => {
  t = await testSchool("learner")
  const made = await t.s.db.transaction((tx) =>
    makePerson(
      tx,
      {
        canonical: "ana@post.example",
        email,
        name: "Ana Kos Mihaljevic",
        zone: "UTC",
        source: "direct",
        confirmed: true,
      },
      t.at(),
    ),
  )
  person = made.person
})
afterAll(() => t.end())

const who = () => ({ person, scope: null })
const session = (more: object = {}) => beginSession(t.s.db, "learn", person, more)
const signIn = (password: string, ip = "10.0.0.1", address = email) =>
  signInLearner(t.s, { email: address, password, ip }, { agent: "Test/1" })

describe("a learner's password", () => {
  it("is set once without another, kept as a hash, and signs in by any spelling of the address", async () => {
    const token = await session()
    expect(await signIn("the third jar")).toMatchObject({ refused: expect.any(String) })
    expect(await learnerAccount(t.s, who(), token)).toMatchObject({ hasPassword: false, byMail: false })
    const set = await setLearnerPassword(t.s, who(), { token }, { next: "the third jar" })
    expect(set).toMatchObject({ session: expect.any(String) })
    expect(await admittedOf(t.s.db, token)).toBeNull()
    const { password_hash: hash } = (await t.s.db.row<{ password_hash: string }>(
      "SELECT password_hash FROM person WHERE id = ?",
      [person],
    ))!
    expect(hash).toMatch(/^\$argon2id\$/)
    const done = (await signIn("the third jar", "10.0.0.2", "  ana@POST.example ")) as { session: string }
    expect(await admittedOf(t.s.db, done.session)).toEqual(who())
    expect((await personStory(t.s.db, person))!.facts.at(-1)).toMatchObject({ kind: "signed-in", words: "password" })
  })

  it.each([
    ["short", "next"],
    ["1234567890", "next"],
    ["ana@post.example", "next"],
    ["Ana Kos Mihaljevic", "next"],
    ["x".repeat(201), "next"],
  ])("is refused as %j", async (next, field) => {
    expect(await setLearnerPassword(t.s, who(), { token: await session({ byMail: true }) }, { next })).toMatchObject({
      field,
    })
  })

  it("asks for the one there is, unless they came by a link from the mailbox", async () => {
    const token = await session()
    const set = (current: string, by = token) =>
      setLearnerPassword(t.s, who(), { token: by }, { current, next: "the fourth jar" })
    expect(await set("")).toMatchObject({ field: "current" })
    expect(await set("the first jar")).toMatchObject({ field: "current" })
    expect(await set("", await session({ byMail: true }))).toHaveProperty("session")
    expect(await signIn("the third jar", "10.0.0.3")).toMatchObject({ refused: expect.any(String) })
    expect(await signIn("the fourth jar", "10.0.0.3")).toHaveProperty("session")
  })

  it("says the same for an address nobody has, and makes only who guesses wait", async () => {
    const wrong = await signIn("not this one", "10.0.0.4")
    expect(await signIn("not this one", "10.0.0.5", "nobody@post.example")).toEqual(wrong)
    for (let i = 0; i < 6; i++) await signIn("not this one", "10.0.0.6")
    expect(await signIn("the fourth jar", "10.0.0.6")).toMatchObject({
      refused: expect.stringContaining("Try again in"),
    })
    expect(await signIn("the fourth jar", "10.0.0.7")).toHaveProperty("session")
  })
})

describe("devices", () => {
  it("are seen by their names and ended one by one or all", async () => {
    await t.s.db.write("DELETE FROM session")
    const here = await session({ agent: "Here/1" })
    const other = await session({ agent: "Other/1" })
    await session()
    const listed = await devicesOf(t.s.db, person, here)
    expect(listed.map((d) => d.agent).sort()).toEqual([null, "Here/1", "Other/1"].sort())
    expect(listed.filter((d) => d.here).map((d) => d.agent)).toEqual(["Here/1"])
    await endDevice(t.s.db, person, here, listed.find((d) => d.agent === "Other/1")!.id)
    expect(await admittedOf(t.s.db, other)).toBeNull()
    await endDevice(t.s.db, person, here, listed.find((d) => d.here)!.id) // never the one that asks
    expect(await admittedOf(t.s.db, here)).toEqual(who())
    await endDevice(t.s.db, 99_999, here, null)
    expect(await devicesOf(t.s.db, person, here)).toHaveLength(2)
    await endDevice(t.s.db, person, here, null)
    expect((await devicesOf(t.s.db, person, here)).map((d) => d.here)).toEqual([true])
  })
})

describe("a rush at the door", () => {
  it("lets everybody in by their own link once, however many come at the same moment", async () => {
    const many = Array.from({ length: 150 }, (_, i) => i)
    await t.s.db.write("INSERT INTO person (name, email, zone, joined_at) VALUES ?", [
      many.map((i) => [`R ${i}`, `rush${i}@x.example`, "UTC", new Date(t.at())]),
    ])
    const rows = await t.s.db.rows<{ id: number; email: string }>(
      "SELECT id, email FROM person WHERE email LIKE 'rush%'",
    )
    await t.s.db.transaction(async (tx) => {
      for (const r of rows)
        await queueWayIn(tx, { person: r.id, email: r.email, name: "", leadsTo: "/learn", at: t.at() })
    })
    const links = await t.s.db.rows<{ id: number; person_id: number }>(
      "SELECT id, person_id FROM way_in WHERE person_id IN (?)",
      [rows.map((r) => r.id)],
    )
    expect(links).toHaveLength(many.length)
    const pressed = await Promise.all([...links, ...links].map((l) => enterByWayIn(t.s, l.id, { agent: "Rush/1" })))
    const sessions = pressed.flatMap((p) => ("session" in p ? [p.session] : []))
    expect(sessions).toHaveLength(many.length)
    const people = await Promise.all(sessions.map((x) => admittedOf(t.s.db, x)))
    expect(new Set(people.map((p) => signedIn(p)?.person)).size).toBe(many.length)
    expect(pressed.filter((p) => "refused" in p && p.refused === "used")).toHaveLength(many.length)
  })

  it("opens nothing by a link that is too old, altered, or of a thing that isn't there", async () => {
    const [row] = await t.s.db.rows<{ id: number }>("SELECT id FROM person WHERE email = 'rush1@x.example'")
    await t.s.db.transaction((tx) =>
      queueWayIn(
        tx,
        { person: row!.id, email: "rush1@x.example", name: "", leadsTo: "//evil.example", at: t.at() },
        "let-in",
      ),
    )
    const link = (await t.s.db.row<{ id: number }>("SELECT MAX(id) AS id FROM way_in"))!.id
    t.set(t.at() + 14 * 86_400_000)
    expect(await enterByWayIn(t.s, link)).toEqual({ refused: "used" })
    expect(await enterByWayIn(t.s, link + 999)).toEqual({ refused: "foreign" })
    expect(await admittedOf(t.s.db, "x".repeat(200))).toBeNull()
    expect(await admittedOf(t.s.db, undefined)).toBeNull()
  })
})
