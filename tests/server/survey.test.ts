// Surveys as they are answered, courses that are only files, and how long what plays is.
import { afterAll, beforeAll, describe, expect, it } from "vitest"
import { figuresHtml } from "@/core/page/figures"
import { readCourse } from "@/server/course/course"
import { courseFigures } from "@/server/course/figures"
import { openLesson } from "@/server/course/in-lesson"
import { courseFor } from "@/server/course/learn"
import { saveLessonPage } from "@/server/course/lesson-page"
import { letPeopleIn } from "@/server/course/let-in"
import { myFile, openFiles } from "@/server/course/my-files"
import { lessonLength } from "@/server/course/outline"
import { answerSurvey, answersOf, exportAnswers, surveyResults } from "@/server/course/survey"
import { addOnOccasion } from "@/server/funnel/occasion"
import { measureMedia } from "@/server/media/length"
import { storeMedia } from "@/server/media/store"
import { personStory } from "@/server/person/people"
import { upgrade } from "@/server/upgrade"
import { openSchool, type TestSchool, testSchool } from "../support/school"
import { course as otherCourse } from "../support/shop"

let t: TestSchool
let course: number
let lessons: number[]
const people: number[] = []
beforeAll(async () => {
  t = await testSchool("survey")
  course = (await openSchool(t)).course
  lessons = (await readCourse(t.s.db, course))!.lessons.map((l) => l.id)
  const done = await letPeopleIn(t.s, {
    course,
    module: null,
    people: "a@x.example\nb@x.example",
    until: null,
    tells: false,
  })
  if ("refused" in done) throw new Error(done.refused)
  people.push(...done.results.map((r) => r.person!))
})
afterAll(() => t.end())

const none = { learners: 0, lately: 0, names: [], lessons: 0, hours: 0 }
const me = (i: number) => ({ person: people[i]!, scope: null })
const page = (blocks: object[]) => ({ version: 1, title: "x", blocks })
const survey = {
  id: "s",
  kind: "survey",
  survey: [
    {
      id: "q1",
      kind: "choice",
      asks: "What do you have?",
      required: true,
      several: false,
      options: ["A jar", "A crock"],
    },
    { id: "q2", kind: "text", asks: "=cmd()", required: false },
  ],
}

describe("a survey", () => {
  const answer = (i: number, typed: unknown, block = "s", lesson = lessons[0]!) =>
    answerSurvey(t.s, me(i), { slug: "first", lesson, block }, typed)
  beforeAll(async () => {
    expect(await saveLessonPage(t.s, lessons[0]!, 1, page([survey]))).toEqual({ revision: 2 })
  })

  it("answered twice at once is one answer, told once, and changed by a later one", async () => {
    expect(await Promise.all([answer(0, { q1: [0] }), answer(0, { q1: [0] })])).toEqual([{ ok: true }, { ok: true }])
    expect(await answer(0, { q1: [1], q2: "More salt." })).toEqual({ ok: true })
    expect(await answersOf(t.s.db, people[0]!, lessons[0]!)).toEqual(new Map([["s", { q1: [1], q2: "More salt." }]]))
    const told = (await personStory(t.s.db, people[0]!))!.facts.filter((f) => f.kind === "survey-answered")
    expect(told).toHaveLength(1)
    expect(await surveyResults(t.s.db, course)).toMatchObject([
      { people: 1, results: [{ counts: [{ n: 0 }, { n: 1 }] }, { texts: ["More salt."] }] },
    ])
  })

  it("refuses what lacks an answer, isn't there, or comes from somebody who isn't in", async () => {
    expect(await answer(1, { q2: "x" })).toMatchObject({ field: "q1" })
    expect(await answer(1, { q1: [7] })).toMatchObject({ field: "q1" })
    expect(await answer(1, { q1: [0] }, "zz")).toMatchObject({ refused: expect.any(String) })
    expect(await answer(1, { q1: [0] }, "s", lessons[1])).toMatchObject({ refused: expect.any(String) })
    const at = { slug: "first", lesson: lessons[0]!, block: "s" }
    expect(await answerSurvey(t.s, { person: 999, scope: null }, at, { q1: [0] })).toMatchObject({
      refused: expect.any(String),
    })
  })

  it("rates the course where a scale of it says so: the average of those who answered it, said from ten people on", async () => {
    const scale = {
      id: "q9",
      kind: "scale",
      asks: "How was it?",
      required: false,
      most: 5,
      low: "",
      high: "",
      rates: true,
    }
    const rated = { id: "r", kind: "survey", survey: [{ ...scale, id: "q8", rates: undefined }, scale] }
    const own = await otherCourse(t, "rated", "Rated")
    const last = (await readCourse(t.s.db, own))!.lessons[0]!.id
    await saveLessonPage(t.s, last, 1, page([rated]))
    const them = Array.from({ length: 7 }, (_, i) => `rates${i}@x.example`).join("\n")
    const members = await letPeopleIn(t.s, { course: own, module: null, people: them, until: null, tells: false })
    if ("refused" in members) throw new Error(members.refused)
    const answers = [{ q9: 5 }, { q9: 5 }, { q9: 4 }, { q9: 3 }, { q9: 1 }, { q8: 1 }, { q9: 99 }]
    await t.s.db.insert(
      "survey_answer",
      members.results.map((r, i) => ({
        person_id: r.person!,
        lesson_id: last,
        block: "r",
        answers: JSON.stringify(answers[i]),
        at: new Date(),
      })),
    )
    const { rating } = (await courseFigures(t.s.db, t.at()))[own]!
    expect(rating).toMatchObject({ most: 5, people: 5 })
    expect(rating!.average).toBeCloseTo(18 / 5, 6)
    const said = (n: number) => figuresHtml({ ...none, rating: { average: 4.68, most: 5, people: n } }, ["rating"]).text
    expect(said(9)).toBe("")
    // Rounded down: never more than it is.
    expect(said(10)).toContain("<dt>of 5, say 10 learners</dt><dd>4.6</dd>")
  })

  it("is an occasion, and comes out as CSV in which nothing begins a formula", async () => {
    const hung = await addOnOccasion(t.s, {
      occasion: "survey-answered",
      of: lessons[0],
      kind: "tag-on",
      tag: "Has answered",
      about: null,
    })
    expect(hung).toEqual({ ok: true })
    await answer(1, { q1: [0], q2: "@SUM(1)" })
    expect(await t.s.db.rows("SELECT person_id FROM person_tag")).toMatchObject([{ person_id: people[1] }])
    let text = ""
    for await (const part of exportAnswers(t.s.db, course, lessons[0]!, "s")) text += part
    expect(text.split("\r\n")[0]).toContain("'=cmd()")
    expect(text).toContain("b@x.example")
    expect(text).toContain("'@SUM(1)")
    expect(text).toContain("A jar")
  })
})

/** A WAV of so many seconds of silence: 8,000 samples a second of 8 bits (RFC 2361 names the format; header from memory). */
function wav(seconds: number): Buffer {
  const data = Buffer.alloc(8_000 * seconds, 128)
  const head = Buffer.alloc(44)
  head.write("RIFF", 0)
  head.writeUInt32LE(36 + data.length, 4)
  head.write("WAVEfmt ", 8)
  head.writeUInt32LE(16, 16)
  head.writeUInt16LE(1, 20)
  head.writeUInt16LE(1, 22)
  head.writeUInt32LE(8_000, 24)
  head.writeUInt32LE(8_000, 28)
  head.writeUInt16LE(1, 32)
  head.writeUInt16LE(8, 34)
  head.write("data", 36)
  head.writeUInt32LE(data.length, 40)
  return Buffer.concat([head, data])
}

describe("a course of files", () => {
  it("is drawn as that while each of its lessons is files with a few words, and opens them all at once", async () => {
    const stored = await storeMedia(t.s, "file", "Labels.txt", Buffer.from("Labels for jars."))
    if ("refused" in stored) throw new Error(stored.refused)
    const files = page([
      { id: "t", kind: "text", html: "<p>To print.</p>" },
      { id: "f", kind: "download", media: stored.id, says: "Labels" },
    ])
    const only = async () => (await courseFor(t.s, me(0), "first"))!.onlyFiles
    await saveLessonPage(t.s, lessons[0]!, 2, files)
    expect(await only()).toBe(false)
    await saveLessonPage(t.s, lessons[1]!, 1, files)
    await saveLessonPage(t.s, lessons[2]!, 1, files)
    expect(await only()).toBe(true)
    const found = (await courseFor(t.s, me(0), "first"))!
    expect((await openFiles(t.s, me(0), found)).map((f) => f.lesson.id)).toEqual(lessons)
    expect(await t.s.db.rows("SELECT 1 FROM lesson_seen WHERE person_id = ?", [people[0]])).toHaveLength(3)
    expect(await openFiles(t.s, null, (await courseFor(t.s, null, "first"))!)).toEqual([])
    // A long text beside them is something to read: a course again. What was stored before is read anew by the upgrade.
    await saveLessonPage(
      t.s,
      lessons[2]!,
      2,
      page([{ id: "t", kind: "text", html: `<p>${"x".repeat(401)}</p>` }, ...files.blocks.slice(1)]),
    )
    expect(await only()).toBe(false)
    await t.s.db.write("UPDATE lesson SET only_files = 0")
    await upgrade(t.s.db, ["020_surveys.sql"])
    expect(await t.s.db.rows("SELECT id FROM lesson WHERE only_files = 1 ORDER BY id")).toMatchObject([
      { id: lessons[0] },
      { id: lessons[1] },
    ])
  })

  it("has a page for a file alone, for whoever has it", async () => {
    const { id } = (await t.s.db.row<{ id: number }>("SELECT id FROM media LIMIT 1"))!
    await t.s.db.write("INSERT INTO admission (person_id, media_id, origin, from_at) VALUES (?, ?, 'hand', ?)", [
      people[0],
      id,
      new Date(t.at()),
    ])
    expect(await myFile(t.s, me(0), id)).toMatchObject({ name: "Labels.txt" })
    expect(await myFile(t.s, me(1), id)).toBeUndefined()
  })
})

describe("the length of a lesson", () => {
  it("is counted from what it plays, unless another is typed", async () => {
    // What plays is told by a package of its own; here the row says that it does.
    const stored = await storeMedia(t.s, "file", "hum.txt", Buffer.from("hum"))
    if ("refused" in stored) throw new Error(stored.refused)
    await (await import("node:fs/promises")).writeFile(`${t.s.config.mediaFolder}/${stored.stored}`, wav(125))
    await t.s.db.write("UPDATE media SET type = 'audio/wav', seconds = NULL WHERE id = ?", [stored.id])
    await saveLessonPage(t.s, lessons[2]!, 3, page([{ id: "a", kind: "audio", media: stored.id, says: "Hum" }]))
    const takes = async () =>
      (await t.s.db.row<{ takes: number }>("SELECT takes FROM lesson WHERE id = ?", [lessons[2]]))!.takes
    await t.s.db.write("UPDATE lesson SET minutes = 0 WHERE id = ?", [lessons[2]])
    expect(await takes()).toBe(0)
    await measureMedia(t.s)
    expect(await t.s.db.row("SELECT seconds FROM media WHERE id = ?", [stored.id])).toEqual({ seconds: 125 })
    expect(await takes()).toBe(3)
    expect((await openLesson(t.s, me(0), "first", lessons[2]!))!.lesson.minutes).toBe(3)
    expect(await lessonLength(t.s.db, course)).toMatchObject({ minutes: 13 })
    await t.s.db.write("UPDATE lesson SET minutes = 20 WHERE id = ?", [lessons[2]])
    expect(await takes()).toBe(20)
  })
})
