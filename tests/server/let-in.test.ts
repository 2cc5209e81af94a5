// Letting people in by hand and by invitation, taking it back, and who hasn't come in.
import { afterAll, beforeAll, describe, expect, it } from "vitest"
import { actingAs } from "@/server/context"
import { markDone, openLesson } from "@/server/course/in-lesson"
import { myCourse, myCourses } from "@/server/course/learn"
import {
  batchesLately,
  endAdmission,
  endInvitation,
  invitationLink,
  type LetInResult,
  letPeopleIn,
  mailWayIn,
  newInvitation,
  readInvitation,
  takeBatchBack,
  takeInvitation,
} from "@/server/course/let-in"
import {
  exportMembers,
  fileHolders,
  lessonStops,
  listInvitations,
  listMembers,
  whoIsNotIn,
} from "@/server/course/members"
import { myFile } from "@/server/course/my-files"
import { sendDue } from "@/server/mail/send"
import { storeMedia } from "@/server/media/store"
import { personStory } from "@/server/person/people"
import { enterByWayIn } from "@/server/person/way-in"
import { readToday } from "@/server/today"
import { lastTo, linkId, openSchool, type TestSchool, testSchool } from "../support/school"

const day = 86_400_000
let t: TestSchool
let school: Awaited<ReturnType<typeof openSchool>>
beforeAll(async () => {
  t = await testSchool("let-in", { start: "2026-11-02T09:00:00Z" })
  school = await openSchool(t)
})
afterAll(() => t.end())

const owner = () => actingAs(t.s, { is: "account", id: 1 })
const letIn = async (people: string, more: object = {}) =>
  (await letPeopleIn(owner(), { course: school.course, module: null, people, until: null, tells: true, ...more })) as {
    results: LetInResult[]
  }
const idOf = async (email: string) =>
  (await t.s.db.row<{ id: number }>("SELECT id FROM person WHERE email = ?", [email]))?.id ?? 0
const everybody = () => ({ course: school.course, search: "", only: "" as const, page: 0 })

describe("by hand", () => {
  it("answers each line, lets nobody in twice, and says who did it", async () => {
    const { results } = await letIn("Ana <ana@post.example>\nivo@post.example, Ivo\nANA@post.example\nnobody")
    expect(results.map((r) => r.came)).toEqual(["new", "new", "twice", "unreadable"])
    const again = await letIn("ana@POST.example\neva@post.example", { tells: false })
    expect(again.results.map((r) => r.came)).toEqual(["had", "new"])
    const story = (await personStory(t.s.db, await idOf("ana@post.example")))!
    expect(story.admissions).toMatchObject([{ title: "First", origin: "by hand", until_at: null }])
    expect(story.facts.find((f) => f.kind === "admitted")).toMatchObject({ who: expect.any(String) })
    await sendDue(t.s, "w")
    const mails = t.sent.filter((m) => m.subject.includes("let into"))
    expect(mails.map((m) => m.to.address).sort()).toEqual(["ana@post.example", "ivo@post.example"])
    // The link signs in, once, and leads to the course; it still works days later.
    t.set(t.at() + 9 * day)
    const entered = await enterByWayIn(t.s, linkId(t, mails[0]!, "way-in"))
    expect(entered).toMatchObject({ goTo: "/learn/first", session: expect.any(String) })
  })

  it("never shortens what somebody has, and what ends leaves the rest", async () => {
    await letIn("mia@post.example", { until: "2026-12-31" })
    expect((await letIn("mia@post.example", { until: "2026-12-01" })).results[0]!.came).toBe("had")
    expect((await letIn("mia@post.example")).results[0]!.came).toBe("let-in")
    const mia = await idOf("mia@post.example")
    const who = { person: mia, scope: null }
    const [first, second] = (await personStory(t.s.db, mia))!.admissions
    // The last day is whole, in the school's zone.
    expect([first!.until_at, second!.until_at].map((d) => d?.toISOString())).toContain("2026-12-31T23:00:00.000Z")
    expect(await endAdmission(owner(), first!.id)).toEqual({ ok: true })
    expect((await myCourses(t.s, who)).length).toBe(1)
    expect(await endAdmission(owner(), second!.id)).toEqual({ ok: true })
    expect(await myCourses(t.s, who)).toEqual([])
    expect(await endAdmission(owner(), second!.id)).toMatchObject({ refused: expect.any(String) })
    expect((await personStory(t.s.db, mia))!.facts.filter((f) => f.kind === "access-ended")).toHaveLength(2)
  })

  it("takes back together what was let in together, and forgets whom only that had made", async () => {
    const batch = "0123456789ab"
    await letIn("old@post.example", { tells: false })
    const people = (n: number) => Array.from({ length: 4 }, (_, i) => `batch${n + i}@post.example`).join("\n")
    const consent = "The newsletter, on paper at the market"
    await letIn(`${people(0)}\nold@post.example`, { tells: false, batch, consent })
    await letIn(people(4), { tells: false, batch, consent })
    expect((await batchesLately(t.s, { course: school.course }))[0]).toMatchObject({ batch, n: 8 })
    const stays = await idOf("batch2@post.example")
    expect((await personStory(t.s.db, stays))!.consents).toMatchObject([{ kind: "given", wording: consent }])
    await openLesson(
      t.s,
      { person: stays, scope: null },
      "first",
      (await myCourse(t.s, { person: stays, scope: null }, "first"))!.lessons[0]!.id,
    )
    expect(await takeBatchBack(owner(), { course: school.course }, batch)).toEqual({ ended: 8 })
    expect(await idOf("batch1@post.example")).toBe(0)
    expect(await idOf("batch2@post.example")).toBe(stays)
    expect(await myCourses(t.s, { person: stays, scope: null })).toEqual([])
    expect(await myCourses(t.s, { person: await idOf("old@post.example"), scope: null })).toHaveLength(1)
    expect(await takeBatchBack(owner(), { course: school.course }, batch)).toMatchObject({
      refused: expect.any(String),
    })
    await t.s.db.write("DELETE FROM person WHERE id IN (?)", [[stays, await idOf("old@post.example")]])
  })

  it("gives a file by itself: by hand with its own words, by invitation, and takes it back together", async () => {
    const stored = await storeMedia(t.s, "file", "Labels.txt", Buffer.from("Labels for jars."))
    if ("refused" in stored) throw new Error(stored.refused)
    const of = { media: stored.id }
    const batch = "00000000000f"
    const give = (people: string) => letIn(people, { course: null, ...of, batch })
    expect((await give("file1@post.example\nfile2@post.example")).results.map((r) => r.came)).toEqual(["new", "new"])
    expect((await give("file1@post.example")).results[0]!.came).toBe("had")
    await sendDue(t.s, "w")
    const mail = t.sent.find((m) => m.to.address === "file1@post.example")!
    expect(mail.subject).toBe("“Labels.txt” is yours")
    expect(await enterByWayIn(t.s, linkId(t, mail, "way-in"))).toMatchObject({ goTo: `/learn/file/${stored.id}` })
    expect(await fileHolders(t.s, stored.id)).toMatchObject({ total: 2, holders: [{ origin: "by hand" }, {}] })
    const made = await newInvitation(owner(), { ...of, name: "Class", most: 1, until: null, days: null })
    if ("refused" in made) throw new Error(made.refused)
    expect(await listInvitations(t.s, of)).toMatchObject([{ name: "Class", used: 0 }])
    const invited = invitationLink(t.s.config, made.id).split("/").pop()!
    await takeInvitation(t.s, invited, { email: "file3@post.example", name: "" }, "192.0.2.7")
    const third = { person: await idOf("file3@post.example"), scope: null }
    expect(await myFile(t.s, third, stored.id)).toMatchObject({ name: "Labels.txt" })
    expect((await batchesLately(t.s, of))[0]).toMatchObject({ batch, n: 2 })
    expect(await takeBatchBack(owner(), of, batch)).toEqual({ ended: 2 })
    expect(await fileHolders(t.s, stored.id)).toMatchObject({ total: 1 })
    // Who came in by its link is known; who didn't was made by the list alone, and is forgotten.
    expect(await idOf("file2@post.example")).toBe(0)
    expect(await letPeopleIn(owner(), { people: "x@y.example", until: null, tells: false })).toMatchObject({
      refused: expect.any(String),
    })
  })

  it("sent twice at once lets each in once", async () => {
    const people = Array.from({ length: 300 }, (_, i) => `double${i}@post.example`).join("\n")
    const input = { course: school.course, people, until: null, tells: true, batch: "00000000000d" }
    const both = await Promise.all([letPeopleIn(owner(), input), letPeopleIn(owner(), input)])
    const came = both.map((b) => ("results" in b ? b.results.filter((r) => r.came === "new").length : -1))
    expect([...came].sort((a, b) => a - b)).toEqual([0, 300])
    const count = async (sql: string) => (await t.s.db.row<{ n: number }>(sql))!.n
    expect(await count("SELECT COUNT(*) AS n FROM person WHERE email LIKE 'double%'")).toBe(300)
    expect(await count("SELECT COUNT(*) AS n FROM mail WHERE to_email LIKE 'double%'")).toBe(300)
    await t.s.db.write("DELETE FROM person WHERE email LIKE 'double%'")
  })

  it("says how far it is, and lets nobody in when it is cut off", async () => {
    const people = Array.from({ length: 4_500 }, (_, i) => `long${i}@post.example`).join("\n")
    const input = { course: school.course, people, until: null, tells: false }
    const told: number[] = []
    const cut = letPeopleIn(owner(), input, (n) => {
      told.push(n)
      if (n > 2_000) throw new Error("cut off")
    })
    await expect(cut).rejects.toThrow("cut off")
    expect(told).toEqual([900, 1_800, 2_700])
    expect(await idOf("long1@post.example")).toBe(0)
    const done = await letPeopleIn(owner(), input)
    expect("results" in done && done.results.every((r) => r.came === "new")).toBe(true)
    expect((await listMembers(t.s, { ...everybody(), search: "long4499" })).total).toBe(1)
    expect(await t.s.db.row("SELECT COUNT(*) AS n FROM presence WHERE course_id = ?", [school.course])).not.toBe(0)
    await t.s.db.write("DELETE FROM person WHERE email LIKE 'long%'")
  })

  it.each([
    [{ people: "  " }, "people"],
    [{ until: "2020-01-01" }, "until"],
    [{ until: "soon" }, "until"],
    [{ course: 99_999 }, undefined],
    [{ module: 99_999 }, undefined],
    [{ people: Array.from({ length: 100_001 }, (_, i) => `p${i}@x.example`).join("\n") }, "people"],
  ])("refuses %#", async (bad, field) => {
    const done = await letIn("x@x.example", bad)
    expect(done).toMatchObject({ refused: expect.any(String), ...(field ? { field } : {}) })
    expect(await idOf("x@x.example")).toBe(0)
  })
})

describe("an invitation", () => {
  const key = (id: number) => invitationLink(t.s.config, id).split("/").at(-1)!
  const invite = async (more: object = {}) =>
    (
      (await newInvitation(owner(), {
        course: school.course,
        module: null,
        name: "A class",
        most: null,
        until: null,
        days: null,
        ...more,
      })) as { id: number }
    ).id
  const take = (id: number, email: string) => takeInvitation(t.s, key(id), { email, name: "" }, `10.1.${id}.1`)

  it("lets in by the mailbox, for as long as it says, and no more than it may", async () => {
    const id = await invite({ most: 2, days: 10 })
    expect(await readInvitation(t.s, key(id))).toEqual({ title: "First", over: false })
    const all = await Promise.all(["a", "b", "c", "d"].map((n) => take(id, `${n}@class.example`)))
    expect(all.filter((r) => "ok" in r)).toHaveLength(2)
    expect(await readInvitation(t.s, key(id))).toMatchObject({ over: true })
    const got = await t.s.db.rows<{ until_at: Date }>("SELECT until_at FROM admission WHERE origin = ?", [
      `invitation:${id}`,
    ])
    expect(got.map((g) => g.until_at.getTime())).toEqual([t.at() + 10 * day, t.at() + 10 * day])
    expect(await listInvitations(t.s, { course: school.course })).toEqual([])
  })

  it("isn't used up by the same person twice, ends, and can't be guessed", async () => {
    const id = await invite({ most: 2, until: "2026-12-24" })
    for (let i = 0; i < 3; i++) expect(await take(id, "twice@class.example")).toEqual({ ok: true })
    expect((await listInvitations(t.s, { course: school.course }))[0]).toMatchObject({ id, used: 1, most: 2 })
    await endInvitation(owner(), id)
    expect(await take(id, "late@class.example")).toMatchObject({ refused: expect.any(String) })
    expect(await readInvitation(t.s, key(id).replace(/^\d+/, "1"))).toBeUndefined()
    expect(await takeInvitation(t.s, "1.abc", { email: "x@y.example", name: "" }, "10.2.0.1")).toMatchObject({
      refused: expect.any(String),
    })
    expect(await take(id, "not an address")).toMatchObject({ field: "email" })
    expect(
      await newInvitation(owner(), {
        course: school.course,
        module: null,
        name: " ",
        most: 0,
        until: null,
        days: null,
      }),
    ).toMatchObject({ field: "name" })
  })
})

describe("members", () => {
  it("are listed once each, with how far they are, and given as CSV", async () => {
    const who = { person: await idOf("eva@post.example"), scope: null }
    const lessons = (await myCourse(t.s, who, "first"))!.lessons
    for (const l of lessons.slice(0, 2)) await openLesson(t.s, who, "first", l.id)
    await markDone(t.s, who, "first", lessons[0]!.id, true)
    const { members, total } = await listMembers(t.s, everybody())
    expect(members).toHaveLength(total)
    expect(new Set(members.map((m) => m.person)).size).toBe(total)
    expect(members.find((m) => m.email === "eva@post.example")).toMatchObject({
      done: 1,
      origin: "by hand",
      until: null,
    })
    expect((await listMembers(t.s, { ...everybody(), search: "EVA@" })).total).toBe(1)
    expect((await listMembers(t.s, { ...everybody(), only: "ended" })).members.map((m) => m.email)).toEqual([
      "mia@post.example",
    ])
    expect((await listMembers(t.s, { ...everybody(), only: "in" })).total).toBe(total - 1)
    expect((await lessonStops(t.s.db, school.course)).slice(0, 2).map((l) => [l.begun, l.done])).toEqual([
      [1, 1],
      [1, 0],
    ])
    let text = ""
    for await (const piece of exportMembers(t.s, everybody())) text += piece
    expect(text.split("\r\n").filter(Boolean)).toHaveLength(total + 1)
    expect(text).toContain("eva@post.example,")
  })
})

describe("who paid or joined and hasn't come in", () => {
  it("is named an hour later, with why, and gone once they are in", async () => {
    await letIn("slow@post.example", { tells: false })
    const slow = await idOf("slow@post.example")
    await t.s.db.write("UPDATE admission SET origin = 'line:1' WHERE person_id = ?", [slow])
    const names = async () => (await whoIsNotIn(t.s)).map((n) => [n.email, n.why])
    expect(await names()).toEqual([])
    t.set(t.at() + 61 * 60_000)
    expect(await names()).toEqual([["slow@post.example", "unpressed"]])
    const today = await readToday(t.s)
    expect(today.broken.map((b) => b.words).join()).toContain("not come in yet")
    await t.s.db.write("UPDATE address SET suppressed = 'undeliverable' WHERE person_id = ?", [slow])
    expect(await names()).toEqual([["slow@post.example", "unreachable"]])
    await t.s.db.write("UPDATE address SET suppressed = NULL WHERE person_id = ?", [slow])
    expect(await mailWayIn(owner(), slow, school.course)).toEqual({ ok: true })
    expect(await names()).toEqual([["slow@post.example", "waiting"]])
    await sendDue(t.s, "w")
    await enterByWayIn(t.s, linkId(t, lastTo(t, "slow@post.example"), "way-in"))
    expect(await names()).toEqual([])
    expect(await mailWayIn(owner(), 99_999, school.course)).toMatchObject({ refused: expect.any(String) })
  })
})
