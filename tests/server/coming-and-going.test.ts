// Another address, proved by both mailboxes; who counts as away; signing up that is closed; where leaving leads.
import { afterAll, beforeAll, describe, expect, it } from "vitest"
import type { HappeningKind } from "@/core/happening"
import { storyWords } from "@/core/words/story"
import { away } from "@/server/course/away"
import { saveCourse } from "@/server/course/course"
import { saveSignOut, wayOut } from "@/server/course/gates"
import { markDone, openLesson } from "@/server/course/in-lesson"
import { letPeopleIn } from "@/server/course/let-in"
import { loadFunnel } from "@/server/funnel/load"
import { checkFunnel } from "@/server/funnel/release"
import { sendDue } from "@/server/mail/send"
import {
  askAddressChange,
  changeAsked,
  changeState,
  pressAddressChange,
  readChangeLink,
} from "@/server/person/address-change"
import { setLearnerPassword, signInLearner } from "@/server/person/learner"
import { personStory } from "@/server/person/people"
import { admittedOf, beginSession, proveDevice } from "@/server/person/session"
import { unite } from "@/server/person/unite"
import { askWayIn, enterByWayIn } from "@/server/person/way-in"
import { join_, openSchool, type TestSchool, testSchool } from "../support/school"

let t: TestSchool
let school: Awaited<ReturnType<typeof openSchool>>
const day = 86_400_000
beforeAll(async () => {
  t = await testSchool("coming")
  school = await openSchool(t)
})
afterAll(() => t.end())

async function known(email: string): Promise<number> {
  const done = await letPeopleIn(t.s, { course: school.course, module: null, people: email, until: null, tells: false })
  if ("refused" in done) throw new Error(done.refused)
  return done.results[0]!.person!
}
const me = (person: number) => ({ person, scope: null })
const emailOf = async (person: number) =>
  (await t.s.db.row<{ email: string }>("SELECT email FROM person WHERE id = ?", [person]))!.email
const facts = async (person: number) =>
  (await personStory(t.s.db, person))!.facts.map((f) => storyWords[f.kind as HappeningKind](f as never))

describe("another address", () => {
  async function asked(person: number, to: string) {
    t.sent.length = 0
    expect(await askAddressChange(t.s, me(person), to)).toEqual({ ok: true })
    await sendDue(t.s, "w")
    const links = t.sent.map((m) => ({
      to: m.to,
      ...readChangeLink(t.s.config, /confirm-address\/([\w.-]+)/.exec(m.text)![1]!)!,
    }))
    return { links, press: (side: "old" | "new") => pressAddressChange(t.s, links[0]!.id, side) }
  }

  it("takes a yes from both mailboxes, in either order, and then signs in", async () => {
    const ana = await known("ana@old.example")
    const { links, press } = await asked(ana, "Ana@New.example")
    expect(links.map((l) => l.side).sort()).toEqual(["new", "old"])
    expect(await changeAsked(t.s, ana)).toEqual({ email: "Ana@New.example", oldPressed: false, newPressed: false })
    expect(await press("new")).toBe("half")
    expect(await press("new")).toBe("half")
    expect(await emailOf(ana)).toBe("ana@old.example")
    expect(await press("old")).toBe("done")
    expect(await press("old")).toBe("over")
    expect(await emailOf(ana)).toBe("Ana@New.example")
    expect(await facts(ana)).toContain(
      "changed the address from ana@old.example to Ana@New.example, proved by both mailboxes",
    )
    t.sent.length = 0
    await askWayIn(t.s, "ana@new.example", "192.0.2.9", "/learn")
    await askWayIn(t.s, "ana@old.example", "192.0.2.9", "/learn")
    await sendDue(t.s, "w")
    expect(t.sent.map((m) => m.to.address)).toEqual(["Ana@New.example"])
    expect(await changeState(t.s, links[0]!.id, "old")).toMatchObject({ state: "done" })
  })

  it("of somebody who is here already makes the two one", async () => {
    const bea = await known("bea@a.example")
    const other = await known("bea@b.example")
    const { press } = await asked(bea, "bea@b.example")
    const token = await beginSession(t.s.db, "learn", bea)
    await setLearnerPassword(t.s, me(bea), { token }, { next: "the third jar" })
    const still = await beginSession(t.s.db, "learn", bea)
    expect([await press("old"), await press("new")]).toEqual(["half", "done"])
    // Whoever had asked for it is out: only the new mailbox lets in.
    expect(await admittedOf(t.s.db, still)).toBeNull()
    expect(
      await signInLearner(t.s, { email: "bea@b.example", password: "the third jar", ip: "192.0.2.3" }),
    ).toMatchObject({
      refused: expect.any(String),
    })
    expect(await emailOf(bea)).toBe("bea@b.example")
    expect(await t.s.db.row("SELECT united_with FROM person WHERE id = ?", [other])).toEqual({ united_with: bea })
    expect(await t.s.db.rows("SELECT email FROM address WHERE person_id = ?", [bea])).toEqual([
      { email: "bea@b.example" },
    ])
  })

  it("shuts every way in that was open before: links kept back, devices, sessions; so do joining two and a new password", async () => {
    const keepBack = async (person: number, email: string) => {
      await t.s.db.write("DELETE FROM knock")
      await askWayIn(t.s, email, "192.0.2.9", "/learn")
      await sendDue(t.s, "w")
      const link = await t.s.db.row<{ id: number }>("SELECT MAX(id) AS id FROM way_in WHERE person_id = ?", [person])
      const visitor = Buffer.from(`kept-${email}`.padEnd(16, ".").slice(0, 16))
      await t.s.db.transaction((tx) => proveDevice(tx, { visitor }, person))
      return { link: link!.id, session: await beginSession(t.s.db, "learn", person) }
    }
    const shut = async (person: number, kept: { link: number; session: string }) => {
      expect(await enterByWayIn(t.s, kept.link)).toEqual({ refused: "used" })
      expect(await admittedOf(t.s.db, kept.session)).toBeNull()
      expect(await t.s.db.rows("SELECT 1 FROM device WHERE person_id = ?", [person])).toEqual([])
    }
    // A change of address to a mailbox that nobody here has, and to one that somebody has.
    const ian = await known("ian@a.example")
    const kept = await keepBack(ian, "ian@a.example")
    const moving = await asked(ian, "ian@b.example")
    expect([await moving.press("old"), await moving.press("new")]).toEqual(["half", "done"])
    await shut(ian, kept)
    const victim = await known("eve@a.example")
    const [mine, hers] = [await keepBack(ian, "ian@b.example"), await keepBack(victim, "eve@a.example")]
    const taking = await asked(ian, "eve@a.example")
    expect([await taking.press("old"), await taking.press("new")]).toEqual(["half", "done"])
    await shut(ian, mine)
    await shut(victim, hers)
    // Two that the school joins.
    const [fay, gus] = [await known("fay@a.example"), await known("gus@a.example")]
    const [one, two] = [await keepBack(fay, "fay@a.example"), await keepBack(gus, "gus@a.example")]
    expect(await unite(t.s, fay, gus)).toEqual({ ok: true })
    await shut(fay, one)
    await shut(gus, two)
    // A new password: this browser goes on, nothing else does.
    const hal = await known("hal@a.example")
    const before = await keepBack(hal, "hal@a.example")
    const visitor = Buffer.from("the browser here")
    const done = await setLearnerPassword(
      t.s,
      me(hal),
      { token: before.session, visitor },
      { next: "the fourth crock" },
    )
    expect(await enterByWayIn(t.s, before.link)).toEqual({ refused: "used" })
    expect(await admittedOf(t.s.db, before.session)).toBeNull()
    expect(await admittedOf(t.s.db, "session" in done ? done.session : "")).toEqual(me(hal))
    expect(await t.s.db.rows("SELECT visitor FROM device WHERE person_id = ?", [hal])).toEqual([{ visitor }])
  })

  it("is over after a day, replaced by a later one, and refused where it can't be", async () => {
    const cyd = await known("cyd@a.example")
    const first = await asked(cyd, "cyd@b.example")
    const second = await asked(cyd, "cyd@c.example")
    expect(await first.press("old")).toBe("over")
    expect(await second.press("old")).toBe("half")
    t.set(t.at() + day)
    expect(await second.press("new")).toBe("over")
    expect(await emailOf(cyd)).toBe("cyd@a.example")
    expect(await askAddressChange(t.s, me(cyd), "CYD@a.example")).toMatchObject({ field: "email" })
    expect(await askAddressChange(t.s, me(cyd), "no address")).toMatchObject({ field: "email" })
    expect(readChangeLink(t.s.config, "1-old.forged")).toBeNull()
  })

  it("writes to a stranger's mailbox once, however many ask", async () => {
    const [one, two] = [await known("one@a.example"), await known("two@a.example")]
    const first = await asked(one, "victim@a.example")
    const second = await asked(two, "victim@a.example")
    expect(first.links).toHaveLength(2)
    expect(second.links.map((l) => l.side)).toEqual(["old"])
  })
})

describe("somebody who isn't here", () => {
  it("counts as away once for each time, when they stayed away so long, and not when they have done it all", async () => {
    const dan = await known("dan@a.example")
    const lessons = (await t.s.db.rows<{ id: number }>("SELECT id FROM lesson ORDER BY position")).map((l) => l.id)
    const gone = async () => (await facts(dan)).filter((f) => f.includes("for a while")).length
    const pass = async (days: number) => {
      t.set(t.at() + days * day)
      await away.run(t.s, "w")
    }
    await saveCourse(t.s, { course: school.course, awayDays: 7 })
    await pass(6)
    expect(await gone()).toBe(0)
    await openLesson(t.s, me(dan), "first", lessons[0]!)
    expect(await facts(dan)).toContain("began the course “First”")
    await pass(6)
    expect(await gone()).toBe(0)
    await pass(1)
    await pass(30)
    expect(await gone()).toBe(1)
    await openLesson(t.s, me(dan), "first", lessons[0]!)
    await pass(7)
    expect(await gone()).toBe(2)
    for (const l of lessons) await markDone(t.s, me(dan), "first", l, true)
    await openLesson(t.s, me(dan), "first", lessons[0]!)
    await pass(7)
    expect(await gone()).toBe(2)
    // Switched off nobody waits; switched on again only for those whose moment is still to come.
    await saveCourse(t.s, { course: school.course, awayDays: null })
    expect(await away.nextAt(t.s)).toBeNull()
    await saveCourse(t.s, { course: school.course, awayDays: 3 })
    expect(await away.nextAt(t.s)).toBeNull()
    expect(await saveCourse(t.s, { course: school.course, awayDays: 0 })).toMatchObject({ field: "awayDays" })
  })
})

describe("signing up", () => {
  it("that is closed refuses the form, whoever fills it in, and preflight says so", async () => {
    await saveCourse(t.s, { course: school.course, signingUp: false })
    expect(await join_(t, school, "new@a.example")).toMatchObject({
      refused: "form",
      says: expect.stringContaining("Signing up for “First” is closed"),
    })
    const found = await checkFunnel(t.s, (await loadFunnel(t.s.db, school.funnel))!)
    expect(found.map((f) => f.rule)).toContain("sign-up-closed")
    await saveCourse(t.s, { course: school.course, signingUp: true })
    expect(await join_(t, school, "new@a.example")).toHaveProperty("goTo")
    await saveCourse(t.s, { course: school.course, state: "closed" })
    expect(await join_(t, school, "newer@a.example")).toMatchObject({ refused: "form" })
    await saveCourse(t.s, { course: school.course, state: "live" })
  })
})

describe("leaving", () => {
  it("leads to a live page that was chosen, and nowhere else", async () => {
    const { id, path } = (await t.s.db.row<{ id: number; path: string }>(
      "SELECT step_id AS id, path FROM live_page WHERE path = ?",
      [school.path],
    ))!
    expect(await wayOut(t.s.db, null)).toBeNull()
    await saveSignOut(t.s, id)
    await saveCourse(t.s, { course: school.course, leaveStep: id })
    expect([await wayOut(t.s.db, null), await wayOut(t.s.db, "first")]).toEqual([`/${path}`, `/${path}`])
    expect(await saveSignOut(t.s, 9_999)).toMatchObject({ refused: expect.any(String) })
    expect(await saveCourse(t.s, { course: school.course, leaveStep: 9_999 })).toMatchObject({ field: "leaveStep" })
    await saveSignOut(t.s, null)
    expect(await wayOut(t.s.db, null)).toBeNull()
  })
})
