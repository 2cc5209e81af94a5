// What opens by the calendar is told at its hour, once; a module and a course that are done set off what hangs on them.
import { afterAll, beforeAll, describe, expect, it } from "vitest"
import { numberWords } from "@/core/course/certificate"
import { newRow, type Outline } from "@/core/course/outline"
import { certificateFile, certificateOf, seeCertificate } from "@/server/course/certificate"
import { newCourse, readCourse, saveCourse, saveLesson, saveModule } from "@/server/course/course"
import { markDone } from "@/server/course/in-lesson"
import { letPeopleIn } from "@/server/course/let-in"
import { bringsLessons, openings } from "@/server/course/opening"
import { saveOutline } from "@/server/course/outline"
import { doWhatIsDue } from "@/server/due-list"
import { addOnOccasion } from "@/server/funnel/occasion"
import { sendDue } from "@/server/mail/send"
import { personStory } from "@/server/person/people"
import { enterByWayIn } from "@/server/person/way-in"
import { addLetter, newSequence } from "@/server/sequence/edit"
import { linkId, openSchool, type TestSchool, testSchool } from "../support/school"

let t: TestSchool
beforeAll(async () => {
  t = await testSchool("opening", { start: "2026-11-02T09:00:00Z" })
  await openSchool(t)
})
afterAll(() => t.end())

/** A live course of two modules with two lessons each. */
async function fourLessons(title: string) {
  const { id: course } = (await newCourse(t.s, title)) as { id: number }
  const row = (key: string, kind: "module" | "lesson") => ({ ...newRow(key, kind, `${title} ${key}`), live: true })
  const rows = [
    row("A", "module"),
    row("1", "lesson"),
    row("2", "lesson"),
    row("B", "module"),
    row("3", "lesson"),
    row("4", "lesson"),
  ]
  const saved = (await saveOutline(t.s, { course, rows, known: [] })) as { rows: Outline }
  await saveCourse(t.s, { course, state: "live" })
  const ids = (kind: string) => saved.rows.filter((r) => r.kind === kind).map((r) => r.id!)
  return { course, slug: (await readCourse(t.s.db, course))!.course.slug, m: ids("module"), l: ids("lesson") }
}
async function letIn(course: number, email: string, zone = "Europe/Zagreb"): Promise<number> {
  await letPeopleIn(t.s, { course, module: null, people: email, until: null, tells: false })
  const { id } = (await t.s.db.row<{ id: number }>("SELECT id FROM person WHERE email = ?", [email]))!
  await t.s.db.write("UPDATE person SET zone = ? WHERE id = ?", [zone, id])
  return id
}
const mailsTo = (email: string) => t.sent.filter((m) => m.to.address === email).map((m) => m.subject)
async function until(at: string): Promise<void> {
  for (;;) {
    const next = await openings.nextAt(t.s)
    if (next === null || next > Date.parse(at)) break
    t.set(Math.max(next, t.at()))
    await doWhatIsDue(t.s, "w")
  }
  t.set(Date.parse(at))
  await doWhatIsDue(t.s, "w")
  await sendDue(t.s, "w")
}

describe("the next part", () => {
  it("is told at its hour where they are, once, with the way there", async () => {
    const { course, slug, m, l } = await fourLessons("Rye")
    await saveModule(t.s, m[1]!, { kind: "after-days", days: 7, at: "06:00" })
    await saveLesson(t.s, { lesson: l[3], opens: { kind: "after-days", days: 9, at: "06:00" } })
    await letIn(course, "zagreb@x.example")
    await letIn(course, "apia@x.example", "Pacific/Apia")
    await until("2026-11-09T04:59:00Z")
    expect(mailsTo("zagreb@x.example")).toEqual([])
    expect(mailsTo("apia@x.example")).toEqual(["“Rye 3” is open"])
    await until("2026-11-09T05:00:00Z")
    expect(mailsTo("zagreb@x.example")).toEqual(["“Rye 3” is open"])
    const mail = t.sent.find((x) => x.to.address === "zagreb@x.example")!
    expect(mail.headers["List-Unsubscribe"]).toBeTruthy()
    expect(await enterByWayIn(t.s, linkId(t, mail, "way-in"))).toMatchObject({ goTo: `/learn/${slug}/${l[2]}` })
    await until("2026-11-20T00:00:00Z")
    expect(mailsTo("zagreb@x.example")).toEqual(["“Rye 3” is open", "“Rye 4” is open"])
    expect(await t.s.db.rows("SELECT 1 FROM opening WHERE course_id = ?", [course])).toEqual([])
  })

  it("isn't told where the course doesn't want it, nor what a new plan opens at once, nor to whoever has left", async () => {
    const { course, m } = await fourLessons("Soy")
    await saveModule(t.s, m[1]!, { kind: "on-date", date: "2027-03-01", at: "06:00" })
    await letIn(course, "mia@x.example")
    const left = await letIn(course, "left@x.example")
    await t.s.db.write("UPDATE address SET suppressed = 'left' WHERE person_id = ?", [left])
    t.set(t.at() + 1000)
    await saveModule(t.s, m[1]!, null)
    await saveModule(t.s, m[0]!, { kind: "on-date", date: "2027-04-01", at: "06:00" })
    await until("2027-03-30T00:00:00Z")
    expect(mailsTo("mia@x.example")).toEqual([])
    // The first module was open to them already: nothing opens for them any more.
    await until("2027-04-02T00:00:00Z")
    expect(mailsTo("mia@x.example")).toEqual([])
    await saveModule(t.s, m[1]!, { kind: "on-date", date: "2027-05-01", at: "06:00" })
    const late = "late@x.example"
    await letIn(course, late)
    await saveCourse(t.s, { course, tells: false })
    await until("2027-05-02T00:00:00Z")
    expect([...mailsTo(late), ...mailsTo("left@x.example")]).toEqual([])
  })

  it("is waited for from when the lesson before is done, and not told to whoever has just done it", async () => {
    const { course, slug, l } = await fourLessons("Koji")
    await saveLesson(t.s, { lesson: l[1], opens: { kind: "after-lesson", lesson: l[0]! } })
    await saveLesson(t.s, { lesson: l[2], opens: { kind: "on-date", date: "2027-06-10", at: "06:00" } })
    const who = { person: await letIn(course, "koji@x.example"), scope: null }
    await until("2027-06-01T00:00:00Z")
    await markDone(t.s, who, slug, l[0]!, true)
    await until("2027-06-02T00:00:00Z")
    expect(mailsTo("koji@x.example")).toEqual([])
    await until("2027-06-11T00:00:00Z")
    expect(mailsTo("koji@x.example")).toEqual(["“Koji 3” is open"])
  })
})

describe("a lesson that an e-mail brings", () => {
  it("isn't told a second time to whoever is in the sequence; whoever isn't is told", async () => {
    const { course, m, l } = await fourLessons("Miso")
    await saveModule(t.s, m[1]!, { kind: "after-days", days: 2, at: null })
    const [inIt, not, left] = [
      await letIn(course, "in@x.example"),
      await letIn(course, "not@x.example"),
      await letIn(course, "left-it@x.example"),
    ]
    const { id } = (await newSequence(t.s, "Brings it")) as { id: number }
    const letter = (await addLetter(t.s, id)) as { id: number }
    await t.s.db.write("UPDATE sequence_mail SET lesson_id = ? WHERE id = ?", [l[2], letter.id])
    for (const [person, ended] of [
      [inIt, null],
      [left, new Date(t.at())],
    ])
      await t.s.db.write("INSERT INTO enrolment (person_id, sequence_id, begun_at, ended_at) VALUES (?, ?, ?, ?)", [
        person,
        id,
        new Date(t.at()),
        ended,
      ])
    expect(await bringsLessons(t.s.db, course)).toEqual([])
    await t.s.db.write("UPDATE sequence SET state = 'live' WHERE id = ?", [id])
    expect(await bringsLessons(t.s.db, course)).toEqual(["Brings it"])
    expect(not).toBeGreaterThan(0)
    await until(new Date(t.at() + 3 * 86_400_000).toISOString())
    expect(mailsTo("in@x.example")).toEqual([])
    expect(mailsTo("not@x.example")).toEqual(["“Miso 3” is open"])
    // Whoever left the sequence before it came is told.
    expect(mailsTo("left-it@x.example")).toEqual(["“Miso 3” is open"])
  })
})

describe("a certificate", () => {
  it("is given once to whoever has done all of it, is genuine by its number, and is its owner's alone", async () => {
    const { course, slug, l } = await fourLessons("Vinegar")
    await saveCourse(t.s, { course, certifies: true })
    const person = await letIn(course, "cert@x.example")
    for (const lesson of l) {
      expect(await certificateOf(t.s.db, person, course)).toBeNull()
      await markDone(t.s, { person, scope: null }, slug, lesson, true)
    }
    const number = (await certificateOf(t.s.db, person, course))!
    await markDone(t.s, { person, scope: null }, slug, l[0]!, false)
    await markDone(t.s, { person, scope: null }, slug, l[0]!, true)
    expect(await certificateOf(t.s.db, person, course)).toBe(number)
    expect(await seeCertificate(t.s, numberWords(number).toLowerCase(), "10.0.0.1")).toMatchObject({
      name: "cert@x.example",
      title: "Vinegar",
    })
    expect(await seeCertificate(t.s, "0".repeat(16), "10.0.0.1")).toBeNull()
    expect(await certificateFile(t.s, person + 1, number)).toBeUndefined()
    expect(
      Buffer.from((await certificateFile(t.s, person, number))!)
        .subarray(0, 5)
        .toString(),
    ).toBe("%PDF-")
    const guesses: unknown[] = []
    for (let i = 0; i < 125; i++) guesses.push(await seeCertificate(t.s, "1".repeat(16), "10.0.0.2"))
    expect(guesses.filter((g) => g === "too-many")).toHaveLength(5)
  })
})

describe("what is done", () => {
  it("sets off what hangs on its module and its course, once, when all that is required is done", async () => {
    const { course, slug, m, l } = await fourLessons("Miso")
    await saveLesson(t.s, { lesson: l[1], required: false })
    for (const [occasion, of, tag] of [
      ["module-done", m[0], "salt done"],
      ["course-done", course, "graduate"],
    ] as const)
      expect(await addOnOccasion(t.s, { occasion, of, kind: "tag-on", tag })).toEqual({ ok: true })
    expect(await addOnOccasion(t.s, { occasion: "course-done", of: 99_999, kind: "tag-on", tag: "x" })).toMatchObject({
      refused: expect.any(String),
    })
    const person = await letIn(course, "done@x.example")
    const done = (lesson: number, is = true) => markDone(t.s, { person, scope: null }, slug, lesson, is)
    const tags = async () => (await personStory(t.s.db, person))!.tags
    await done(l[1]!)
    expect(await tags()).toEqual([])
    await done(l[0]!)
    expect(await tags()).toEqual(["salt done"])
    await done(l[2]!)
    await done(l[3]!)
    expect(await tags()).toEqual(["graduate", "salt done"])
    await done(l[3]!, false)
    await done(l[3]!)
    const kinds = (await personStory(t.s.db, person))!.facts.map((f) => f.kind)
    expect(kinds.filter((k) => k === "course-done")).toHaveLength(1)
    expect(kinds.filter((k) => k === "module-done")).toHaveLength(2)
  })
})
