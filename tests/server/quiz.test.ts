// Quizzes as they are tried: what the learner is told before, how tries count, and what passing does.
import { Readable } from "node:stream"
import { afterAll, beforeAll, describe, expect, it } from "vitest"
import { readCourse, saveLesson } from "@/server/course/course"
import { answerHandIn, handIn, handInsOf, listHandIns, sweepHandedIn, takeHandedIn } from "@/server/course/hand-in"
import { myCourse } from "@/server/course/learn"
import { saveLessonPage } from "@/server/course/lesson-page"
import { letPeopleIn } from "@/server/course/let-in"
import { askQuizzes, tryQuiz } from "@/server/course/quiz"
import { addOnOccasion } from "@/server/funnel/occasion"
import { sendDue } from "@/server/mail/send"
import { mediaNames } from "@/server/media/media-view"
import { personStory } from "@/server/person/people"
import { readToday } from "@/server/today"
import { openSchool, type TestSchool, testSchool } from "../support/school"

let t: TestSchool
let lesson: number
beforeAll(async () => {
  t = await testSchool("quiz")
  const school = await openSchool(t)
  lesson = (await readCourse(t.s.db, school.course))!.lessons[0]!.id
  const question = {
    id: "q1",
    kind: "choice",
    asks: "How much salt?",
    explains: "Two percent.",
    options: [
      { says: "2 %", right: true },
      { says: "20 %", right: false },
    ],
  }
  const quiz = (id: string, tries: number) => ({
    id,
    kind: "quiz",
    questions: [question],
    passMark: 100,
    tries,
    shuffle: true,
  })
  const saved = await saveLessonPage(t.s, lesson, 1, { version: 1, title: "x", blocks: [quiz("a", 3), quiz("b", 0)] })
  expect(saved).toEqual({ revision: 2 })
  await saveLesson(t.s, { lesson, doneBy: "passed" })
  for (const [occasion, tag] of [
    ["quiz-passed", "knows salt"],
    ["quiz-failed", "needs salt"],
  ] as const)
    await addOnOccasion(t.s, { occasion, of: lesson, kind: "tag-on", tag })
  await letPeopleIn(t.s, {
    course: school.course,
    module: null,
    people: "a@x.example\nb@x.example",
    until: null,
    tells: false,
  })
})
afterAll(() => t.end())

const idOf = async (email: string) =>
  (await t.s.db.row<{ id: number }>("SELECT id FROM person WHERE email = ?", [email]))!.id
const row = async () => (await t.s.db.row<never>("SELECT * FROM lesson WHERE id = ?", [lesson]))!
const attempt = (person: number | null, block: string, answer: unknown, scope: string | null = null) =>
  tryQuiz(
    t.s,
    person === null ? null : scope === null ? { person, scope } : { buyer: person, scope },
    { slug: "first", lesson, block },
    { q1: answer },
  )

describe("a quiz", () => {
  it("is asked without what is right", async () => {
    const [asked] = await askQuizzes(t.s.db, await row(), { person: 1, scope: null })
    expect(asked).toMatchObject({ block: "a", triesLeft: 3, last: null, passMark: 100 })
    expect(JSON.stringify(asked)).not.toMatch(/right|explains|Two percent/)
    expect(asked!.questions[0]).toMatchObject({
      several: false,
      options: expect.arrayContaining([{ n: 0, says: "2 %" }]),
    })
  })

  it("is marked, explained, kept, and makes its lesson done when each of its quizzes is passed", async () => {
    const person = await idOf("a@x.example")
    const done = async () => (await myCourse(t.s, { person, scope: null }, "first"))!.done.has(lesson)
    expect(await attempt(person, "a", [1])).toMatchObject({
      marked: { points: 0, of: 1, passed: false },
      explains: { q1: "Two percent." },
      triesLeft: 2,
      kept: true,
    })
    expect(await attempt(person, "a", [0])).toMatchObject({ marked: { passed: true }, triesLeft: 1 })
    expect(await done()).toBe(false)
    await attempt(person, "b", [0])
    expect(await done()).toBe(true)
    const story = (await personStory(t.s.db, person))!
    expect(story.tags).toEqual(["knows salt", "needs salt"])
    expect(story.facts.filter((f) => f.kind.startsWith("quiz")).map((f) => f.kind)).toEqual([
      "quiz-failed",
      "quiz-passed",
      "quiz-passed",
    ])
    expect((await askQuizzes(t.s.db, await row(), { person, scope: null }))[0]).toMatchObject({
      last: { points: 1, of: 1, passed: true },
      triesLeft: 1,
    })
  })

  it("has no more tries than it says, however many come at once", async () => {
    const person = await idOf("b@x.example")
    const all = await Promise.all(Array.from({ length: 6 }, () => attempt(person, "a", [1])))
    expect(all.filter((x) => "marked" in x)).toHaveLength(3)
    expect(all.filter((x) => "refused" in x)).toHaveLength(3)
    expect(
      await t.s.db.row("SELECT COUNT(*) AS n, MAX(n) AS last FROM quiz_try WHERE person_id = ? AND block = 'a'", [
        person,
      ]),
    ).toMatchObject({ last: 3 })
  })

  it("is marked for a device that is known by an order, and kept for nobody", async () => {
    const person = await idOf("b@x.example")
    expect(await attempt(person, "b", [0], "1")).toMatchObject({ refused: expect.any(String) }) // not let in by that order
    expect(await attempt(null, "b", [0])).toMatchObject({ refused: expect.any(String) })
    await saveLesson(t.s, { lesson, free: true })
    expect(await attempt(null, "b", [0])).toMatchObject({ marked: { passed: true }, kept: false })
    await saveLesson(t.s, { lesson, free: false })
  })

  it.each([[{ q1: [99] }], [{ q1: { right: true } }], ["x"], [null]])("refuses %j", async (typed) => {
    const who = { person: await idOf("a@x.example"), scope: null }
    expect(await tryQuiz(t.s, who, { slug: "first", lesson, block: "b" }, typed)).toMatchObject({
      refused: expect.any(String),
    })
    expect(await tryQuiz(t.s, who, { slug: "first", lesson, block: "zz" }, {})).toMatchObject({
      refused: expect.any(String),
    })
  })
})

describe("a hand-in", () => {
  const at = (block = "w") => ({ slug: "first", lesson: second, block })
  const work = (person: number, body: unknown, block = "w", file: number | null = null) =>
    handIn(t.s, { person, scope: null }, at(block), { body, file })
  let second: number
  beforeAll(async () => {
    second = (await readCourse(
      t.s.db,
      (await t.s.db.row<{ id: number }>("SELECT course_id AS id FROM lesson WHERE id = ?", [lesson]))!.id,
    ))!.lessons[1]!.id
    await saveLessonPage(t.s, second, 1, {
      version: 1,
      title: "x",
      blocks: [{ id: "w", kind: "assignment", asks: "Photograph your jar in words." }],
    })
    await saveLesson(t.s, { lesson: second, doneBy: "accepted" })
  })

  it("waits for the teacher, is asked for again or accepted, and is told by mail; with it the lesson is done", async () => {
    const person = await idOf("a@x.example")
    const course = (await t.s.db.row<{ id: number }>("SELECT course_id AS id FROM lesson WHERE id = ?", [second]))!.id
    const done = async () => (await myCourse(t.s, { person, scope: null }, "first"))!.done.has(second)
    expect(await work(person, " ")).toMatchObject({ refused: expect.any(String) })
    expect(await work(person, "x", "other")).toMatchObject({ refused: expect.any(String) })
    await Promise.all([work(person, "A jar."), work(person, "A jar.")])
    expect(await listHandIns(t.s.db, course)).toMatchObject([{ person, body: "A jar.", state: "waiting" }])
    expect((await readToday(t.s)).broken.map((b) => b.words).join()).toContain("One hand-in waits")
    const id = (await listHandIns(t.s.db, course))[0]!.id
    expect(await answerHandIn(t.s, id, { accepted: false, answer: "How tall?" })).toEqual({ ok: true })
    expect(await answerHandIn(t.s, id, { accepted: true, answer: "" })).toMatchObject({ refused: expect.any(String) })
    expect(await handInsOf(t.s.db, person, second)).toMatchObject([{ state: "again", answer: "How tall?" }])
    await sendDue(t.s, "w")
    expect(t.sent.at(-1)!.subject).toBe("Once more, please: “Lesson 2”")
    await work(person, "A jar, two hands tall.")
    expect(await done()).toBe(false)
    expect(await answerHandIn(t.s, id, { accepted: true, answer: "Lovely." })).toEqual({ ok: true })
    expect(await done()).toBe(true)
    await sendDue(t.s, "w")
    expect(t.sent.at(-1)!.subject).toBe("Accepted: “Lesson 2”")
    // What is accepted stays as it was.
    await work(person, "Something else")
    expect(await handInsOf(t.s.db, person, second)).toMatchObject([
      { state: "accepted", body: "A jar, two hands tall." },
    ])
    expect(await answerHandIn(t.s, 99_999, { accepted: true, answer: "" })).toMatchObject({
      refused: expect.any(String),
    })
  })

  it("may be a file where the assignment takes one: its own, told by its content, forgotten where it isn't handed in", async () => {
    const person = await idOf("b@x.example")
    const other = await idOf("a@x.example")
    const who = { person, scope: null }
    const send = (w: typeof who, name: string, body: string, block = "w") =>
      takeHandedIn(t.s, w, at(block), name, Readable.from([Buffer.from(body)]))
    expect(await send(who, "jar.txt", "A jar.")).toMatchObject({ refused: expect.any(String) })
    await saveLessonPage(t.s, second, 2, {
      version: 1,
      title: "x",
      blocks: [{ id: "w", kind: "assignment", asks: "Photograph your jar.", file: true }],
    })
    expect(await send(who, "jar.exe", "MZ\0\0\0")).toMatchObject({ refused: expect.stringContaining("handed in") })
    expect(await send(who, "jar.txt", "A jar.", "zz")).toMatchObject({ refused: expect.any(String) })
    const mine = await send(who, "../my jar.txt", "A jar.")
    const spare = await send(who, "jar.txt", "Another jar.")
    if ("refused" in mine || "refused" in spare) throw new Error("refused")
    // Nobody hands in what somebody else sent up, nor a file of the school's.
    expect(await work(other, "mine", "w", mine.id)).toMatchObject({ refused: expect.any(String) })
    expect(await work(person, "", "w", mine.id)).toEqual({ ok: true })
    expect(await handInsOf(t.s.db, person, second)).toMatchObject([{ body: "", file: { name: "my jar.txt" } }])
    expect((await mediaNames(t.s.db, t.s.config)).map((m) => m.id)).not.toContain(mine.id)
    t.set(t.at() + 2 * 86_400_000)
    await sweepHandedIn(t.s)
    const left = await t.s.db.rows<{ id: number }>("SELECT id FROM media WHERE kind = 'handed-in'")
    expect(left.map((m) => m.id)).toEqual([mine.id])
  })
})
