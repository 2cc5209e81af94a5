// A course as it opens bit by bit: the outline it is written in, what is open to whom, and the gates before the rest.
import { afterAll, beforeAll, describe, expect, it } from "vitest"
import type { AdmissionTo } from "@/core/course/may-open"
import { newRow, type Outline } from "@/core/course/outline"
import { lessonPage } from "@/core/page/lesson"
import { newCourse, readCourse, saveCourse, saveLesson, saveModule } from "@/server/course/course"
import { setDrip } from "@/server/course/drip"
import { coursePagesOf, meetGate, saveSchoolGates } from "@/server/course/gates"
import { markDone, openLesson } from "@/server/course/in-lesson"
import { courseFor, courseSeenAs, myCourse, myCourses, type SeenAs } from "@/server/course/learn"
import { saveLessonPage } from "@/server/course/lesson-page"
import { lockedName } from "@/server/course/locked"
import { copyCourse, lessonLength, readOutline, saveOutline } from "@/server/course/outline"
import { storeMedia } from "@/server/media/store"
import { usesOf } from "@/server/reference"
import { openSchool, type TestSchool, testSchool } from "../support/school"

const day = 86_400_000
let t: TestSchool
let school: Awaited<ReturnType<typeof openSchool>>
beforeAll(async () => {
  t = await testSchool("learn", { start: "2026-11-02T09:00:00Z" })
  school = await openSchool(t)
})
afterAll(() => t.end())

let people = 0
async function person(zone = "Europe/Zagreb"): Promise<number> {
  const n = ++people
  return (
    await t.s.db.write("INSERT INTO person (name, email, zone, joined_at) VALUES (?, ?, ?, ?)", [
      `P ${n}`,
      `p${n}@x.example`,
      zone,
      new Date(t.at()),
    ])
  ).id
}
let origins = 0
async function letIn(who: number, course: number, a: Partial<AdmissionTo> = {}): Promise<void> {
  await t.s.db.write(
    "INSERT INTO admission (person_id, course_id, module_id, origin, from_at, until_at) VALUES (?, ?, ?, ?, ?, ?)",
    [
      who,
      course,
      a.module ?? null,
      `test:${++origins}`,
      new Date(a.from ?? t.at()),
      a.until ? new Date(a.until) : null,
    ],
  )
}
const write = (lesson: number, html: string) =>
  saveLessonPage(t.s, lesson, 1, { version: 1, title: "Lesson", blocks: [{ id: "t", kind: "text", html }] })
const me = (person: number) => ({ person, scope: null })

/** A live course with two modules of two lessons. */
async function fourLessons(title: string): Promise<{ course: number; slug: string; m: number[]; l: number[] }> {
  const { id: course } = (await newCourse(t.s, title)) as { id: number }
  const row = (key: string, kind: "module" | "lesson") => ({ ...newRow(key, kind, `${title} ${key}`), live: true })
  const saved = (await saveOutline(t.s, {
    course,
    rows: [
      row("A", "module"),
      row("1", "lesson"),
      row("2", "lesson"),
      row("B", "module"),
      row("3", "lesson"),
      row("4", "lesson"),
    ],
    known: [],
  })) as { rows: Outline }
  await saveCourse(t.s, { course, state: "live" })
  const ids = (kind: string) => saved.rows.filter((r) => r.kind === kind).map((r) => r.id!)
  return { course, slug: (await readCourse(t.s.db, course))!.course.slug, m: ids("module"), l: ids("lesson") }
}
const openIn = async (who: number | null, slug: string) =>
  (await courseFor(t.s, who === null ? null : me(who), slug))!.lessons.map((l) => (l.may.open ? "o" : "-")).join("")
const said = async (who: number, slug: string) => (await courseFor(t.s, me(who), slug))!.lessons.map((l) => l.says)

describe("an outline", () => {
  it("is stored as it is written, with what another window added meanwhile", async () => {
    const { course, l } = await fourLessons("Kraut")
    const before = await readOutline(t.s.db, course)
    const known = before.map((r) => `${r.kind}:${r.id}`)
    // Another window adds one; this one, which doesn't know it, turns the rest around and takes one out.
    await saveOutline(t.s, { course, rows: [...before, newRow("x", "lesson", "Theirs")], known })
    const mine = [...before].reverse().filter((r) => r.id !== l[3])
    const saved = (await saveOutline(t.s, { course, rows: mine, known })) as { rows: Outline }
    expect(saved.rows.map((r) => r.title)).toEqual(["Kraut 3", "Kraut B", "Kraut 2", "Kraut 1", "Kraut A", "Theirs"])
    const stored = (await readCourse(t.s.db, course))!
    expect(stored.lessons.map((x) => [x.title, x.module_id])).toEqual([
      ["Kraut 3", null],
      ["Kraut 2", before[3]!.id],
      ["Kraut 1", before[3]!.id],
      ["Theirs", before[0]!.id],
    ])
  })

  it("puts back what was taken out, with all that was in it and who has done it", async () => {
    const { course, slug, l } = await fourLessons("Kimchi")
    const who = await person()
    await letIn(who, course)
    await write(l[0]!, "<p>Salt.</p>")
    await markDone(t.s, me(who), slug, l[0]!, true)
    const before = await readOutline(t.s.db, course)
    const known = before.map((r) => `${r.kind}:${r.id}`)
    await saveOutline(t.s, { course, rows: before.slice(2), known })
    expect(await openLesson(t.s, me(who), slug, l[0]!)).toBeUndefined()
    expect((await myCourse(t.s, me(who), slug))!.lessons).toHaveLength(3)
    expect(await meetGate(t.s, me(who), slug, l[0]!)).toEqual({ goTo: `/learn/${slug}` })
    await saveOutline(t.s, { course, rows: before, known: known.slice(2) })
    const as = (rows: Outline) => rows.map(({ revision: _, ...r }) => r)
    expect(as(await readOutline(t.s.db, course))).toEqual(as(before))
    expect((await openLesson(t.s, me(who), slug, l[0]!))!.page.blocks).toMatchObject([{ html: "<p>Salt.</p>" }])
    expect((await myCourse(t.s, me(who), slug))!.done).toEqual(new Set([l[0]]))
  })

  it("copies lessons and courses, with rules that wait for the copies", async () => {
    const { course, l } = await fourLessons("Miso")
    await saveLesson(t.s, { lesson: l[0], opens: { kind: "after-lesson", lesson: l[1]! } })
    await write(l[0]!, "<p>Rice.</p>")
    const rows = await readOutline(t.s.db, course)
    const saved = (await saveOutline(t.s, {
      course,
      rows: [...rows, { ...newRow("c", "lesson", "Rice again"), copyOf: l[0]! }],
      known: [],
    })) as { rows: Outline }
    const copy = (await readCourse(t.s.db, course))!.lessons.find((x) => x.id === saved.rows.at(-1)!.id)!
    expect(copy).toMatchObject({ title: "Rice again", state: "draft" })
    expect(lessonPage(copy).blocks).toMatchObject([{ html: "<p>Rice.</p>" }])
    const { id } = (await copyCourse(t.s, course)) as { id: number }
    const whole = (await readCourse(t.s.db, id))!
    expect(whole.course).toMatchObject({ title: "Miso (copy)", state: "draft" })
    expect(whole.lessons).toHaveLength(5)
    expect(JSON.parse(whole.lessons[0]!.opens!)).toEqual({ kind: "after-lesson", lesson: whole.lessons[1]!.id })
    expect(await copyCourse(t.s, 99_999)).toMatchObject({ refused: expect.any(String) })
  })

  it("says where a file is used, in whichever lesson, and no more once it isn't", async () => {
    const { course, l } = await fourLessons("Kvass")
    const file = (await storeMedia(t.s, "file", "list.txt", Buffer.from("bread"))) as { id: number }
    const page = (blocks: object[]) => ({ version: 1, title: "x", blocks })
    const give = [{ id: "f", kind: "download", media: file.id, says: "" }]
    await saveLessonPage(t.s, l[0]!, 1, page(give))
    await saveLessonPage(t.s, l[1]!, 1, page(give))
    expect(await usesOf(t.s.db, "media", file.id)).toHaveLength(2)
    expect(await lessonLength(t.s.db, course)).toMatchObject({ files: 2, videos: 0 })
    await saveLessonPage(t.s, l[1]!, 2, page([]))
    expect(await usesOf(t.s.db, "media", file.id)).toHaveLength(1)
    await copyCourse(t.s, course)
    expect(await usesOf(t.s.db, "media", file.id)).toHaveLength(2)
  })

  it.each([
    [{ rows: [{ key: "a" }] }],
    [{ rows: "x" }],
    [{ rows: Array.from({ length: 2001 }, (_, i) => newRow(String(i), "lesson", "x")) }],
    [{ rows: [newRow("a", "lesson", "x".repeat(161))] }],
  ])("refuses %#", async (bad) => {
    expect(await saveOutline(t.s, { course: school.course, known: [], ...bad })).toMatchObject({
      refused: expect.any(String),
    })
  })
})

describe("what opens when", () => {
  it("opens in the learner's zone, days after they were let in, and says so", async () => {
    const { course, slug, m, l } = await fourLessons("Rye")
    await saveModule(t.s, m[1]!, { kind: "after-days", days: 7, at: "06:00" })
    const [zagreb, apia] = [await person(), await person("Pacific/Apia")]
    await letIn(zagreb, course)
    await letIn(apia, course)
    expect(await openIn(zagreb, slug)).toBe("oo--")
    expect(await said(zagreb, slug)).toEqual([
      null,
      null,
      "Opens on 9 November at 06:00, seven days after you joined",
      "Opens on 9 November at 06:00, seven days after you joined",
    ])
    // Apia is thirteen hours ahead: it is six there first.
    t.set(Date.parse("2026-11-08T17:00:00Z"))
    expect(await openIn(apia, slug)).toBe("oooo")
    expect(await openIn(zagreb, slug)).toBe("oo--")
    expect(await openLesson(t.s, me(zagreb), slug, l[2]!)).toBeUndefined()
    expect(await markDone(t.s, me(zagreb), slug, l[2]!, true)).toBe(false)
    t.set(Date.parse("2026-11-09T05:00:00Z"))
    expect(await openIn(zagreb, slug)).toBe("oooo")
  })

  it("goes in order where it should, and waits for what is required", async () => {
    const { course, slug, l } = await fourLessons("Koji")
    await saveCourse(t.s, { course, inOrder: true })
    await saveLesson(t.s, { lesson: l[1], required: false })
    const who = await person()
    await letIn(who, course)
    expect(await openIn(who, slug)).toBe("o---")
    expect((await said(who, slug))[3]).toBe("Opens when you have done “Koji 1”")
    await markDone(t.s, me(who), slug, l[0]!, true)
    expect(await openIn(who, slug)).toBe("ooo-")
    await markDone(t.s, me(who), slug, l[2]!, true)
    expect(await openIn(who, slug)).toBe("oooo")
  })

  it("takes nothing back from whoever had it open when the plan changes", async () => {
    const { course, slug, l } = await fourLessons("Soy")
    const [early, late] = [await person(), await person()]
    await letIn(early, course)
    t.set(t.at() + day)
    await saveLesson(t.s, { lesson: l[3], opens: { kind: "on-date", date: "2030-01-01", at: "06:00" } })
    t.set(t.at() + 1000)
    await letIn(late, course)
    expect(await openIn(early, slug)).toBe("oooo")
    expect(await openIn(late, slug)).toBe("ooo-")
    // Only what changed the plan for those who were in is kept.
    await saveLesson(t.s, { lesson: l[3], title: "Soy 4, again" })
    expect(await t.s.db.rows("SELECT 1 FROM plan_before WHERE course_id = ?", [course])).toHaveLength(1)
  })

  it("opens an announced course on its day, and lets people in before", async () => {
    const { course, slug, l } = await fourLessons("Natto")
    expect(await saveCourse(t.s, { course, state: "announced" })).toMatchObject({ field: "starts" })
    await saveCourse(t.s, { course, state: "announced", starts: "2026-12-01" })
    await saveLesson(t.s, { lesson: l[0], free: true })
    const who = await person()
    await letIn(who, course)
    expect(await openIn(who, slug)).toBe("o---")
    expect((await said(who, slug))[1]).toBe("The course begins on 1 December")
    expect((await myCourses(t.s, me(who))).map((c) => c.title)).toEqual(["Natto"])
    t.set(Date.parse("2026-11-30T23:00:00Z"))
    expect(await openIn(who, slug)).toBe("oooo")
  })

  it("opens one module to whoever has that only, and what is free or open to all to everybody", async () => {
    const { course, slug, m, l } = await fourLessons("Tempeh")
    const who = await person()
    await letIn(who, course, { module: m[1]! })
    expect(await openIn(who, slug)).toBe("--oo")
    expect(await openIn(null, slug)).toBe("----")
    await saveLesson(t.s, { lesson: l[0], free: true })
    expect(await openIn(null, slug)).toBe("o---")
    expect((await openLesson(t.s, null, slug, l[0]!))!.lesson.title).toBe("Tempeh 1")
    expect(await openLesson(t.s, null, slug, l[1]!)).toBeUndefined()
    await saveCourse(t.s, { course, openToAll: true })
    expect(await openIn(null, slug)).toBe("oooo")
  })

  it("is looked at as anybody by the school, without marking anything", async () => {
    const { course, slug, m, l } = await fourLessons("Amazake")
    await saveModule(t.s, m[1]!, { kind: "after-days", days: 7, at: null })
    await saveLesson(t.s, { lesson: l[0], free: true })
    const who = await person()
    await letIn(who, course, { from: t.at() - 6 * day })
    const seen = async (as: SeenAs) =>
      (await courseSeenAs(t.s, course, as))!.lessons.map((x) => (x.may.open ? "o" : "-")).join("")
    expect(await seen({ as: "stranger" })).toBe("o---")
    expect(await seen({ as: "outside" })).toBe("o---")
    expect(await seen({ as: "learner", days: 6 })).toBe("oo--")
    expect(await seen({ as: "learner", days: 7 })).toBe("oooo")
    expect(await seen({ as: "person", person: who })).toBe("oo--")
    expect(await seen({ as: "person", person: 99_999 })).toBe("o---")
    expect(await t.s.db.rows("SELECT 1 FROM lesson_seen WHERE person_id = ?", [who])).toEqual([])
    await saveCourse(t.s, { course, state: "draft" })
    expect(await seen({ as: "learner", days: 7 })).toBe("oooo")
    expect(await courseFor(t.s, me(who), slug)).toBeUndefined()
    expect(await courseSeenAs(t.s, 99_999, { as: "stranger" })).toBeUndefined()
  })

  it("marks as done what is opened, where that is enough", async () => {
    const { course, slug, l } = await fourLessons("Vinegar")
    await saveCourse(t.s, { course, doneBy: "opened" })
    await saveLesson(t.s, { lesson: l[1], doneBy: "pressed" })
    const who = await person()
    await letIn(who, course)
    for (const id of l) await openLesson(t.s, me(who), slug, id)
    expect([...(await myCourse(t.s, me(who), slug))!.done].sort()).toEqual([l[0], l[2], l[3]].sort())
  })
})

describe("an outline and what stands beside it", () => {
  it("a lesson put live beside the outline stays live when a row is renamed there", async () => {
    const { course, l } = await fourLessons("Garum")
    const heard = await readOutline(t.s.db, course)
    await saveLesson(t.s, { lesson: l[0], state: "draft", free: true })
    await saveLesson(t.s, { lesson: l[1], title: "Renamed beside it" })
    const rows = heard.map((r) =>
      r.id === l[3] && r.kind === "lesson" ? { ...r, title: "Renamed", required: false } : r,
    )
    const known = heard.map((r) => `${r.kind}:${r.id}`)
    const lessons = heard.flatMap((r) => (r.kind === "lesson" && r.id !== null ? [{ ...r, id: r.id }] : []))
    const done = await saveOutline(t.s, { course, rows, known, heard: lessons })
    if ("refused" in done) throw new Error(done.refused)
    const of = (id: number) => done.rows.find((r) => r.kind === "lesson" && r.id === id)
    expect(of(l[0]!)).toMatchObject({ live: false, free: true })
    expect(of(l[1]!)).toMatchObject({ title: "Renamed beside it", live: true })
    expect(of(l[3]!)).toMatchObject({ title: "Renamed", required: false })
    // What this window did change counts, whatever was there.
    const off = rows.map((r) => (r.id === l[1] && r.kind === "lesson" ? { ...r, live: false } : r))
    const again = await saveOutline(t.s, { course, rows: off, known, heard: lessons })
    expect("rows" in again && again.rows.find((r) => r.kind === "lesson" && r.id === l[1])).toMatchObject({
      live: false,
    })
  })
})

describe("a drip for all", () => {
  it("sets every rule at once, and keeps open what was open", async () => {
    const { course, slug } = await fourLessons("Shrub")
    const who = await person()
    await letIn(who, course)
    expect(await openIn(who, slug)).toBe("oooo")
    t.set(t.at() + 1_000)
    expect(await setDrip(t.s, { course, drip: { each: "lesson", days: 1, at: null } })).toEqual({ ok: true })
    expect(await openIn(who, slug)).toBe("oooo")
    t.set(t.at() + 1_000)
    const later = await person()
    await letIn(later, course)
    expect(await openIn(later, slug)).toBe("o---")
    t.set(t.at() + 3 * 86_400_000)
    expect(await openIn(later, slug)).toBe("oooo")
    expect(await setDrip(t.s, { course, drip: { each: "lesson", days: 0, at: null } })).toHaveProperty("refused")
    expect(await setDrip(t.s, { course, drip: { each: "lesson", days: 1, at: "25:00" } })).toHaveProperty("refused")
  })
})

describe("gates", () => {
  it("lead where the lesson, the course or the school says, for each that stands before them", async () => {
    const { course, slug, l } = await fourLessons("Garum")
    const [outside, over, early] = [await person(), await person(), await person()]
    await letIn(over, course, { from: t.at() - 9 * day, until: t.at() - day })
    await letIn(early, course, { from: t.at() + day })
    const meet = (who: number | null, lesson: number | null = l[0]!) =>
      meetGate(t.s, who === null ? null : me(who), slug, lesson)
    // Nobody has chosen, and no page leads to it.
    expect(await meet(null)).toEqual({ goTo: `/learn/sign-in?to=${encodeURIComponent(`/learn/${slug}/${l[0]}`)}` })
    expect(await meet(outside)).toMatchObject({ situation: "outside", page: null })
    expect(await meet(over, null)).toMatchObject({ situation: "ended", lesson: null })
    expect(await meet(early)).toMatchObject({ situation: "not-yet", words: "" })
    await saveSchoolGates(t.s, {
      outside: { kind: "words", words: "Ask us." },
      stranger: { kind: "words", words: "Hello." },
    })
    expect(await meet(outside)).toMatchObject({ words: "Ask us." })
    await saveCourse(t.s, { course, gates: { outside: { kind: "words", words: "Buy it." } } })
    expect(await meet(outside)).toMatchObject({ words: "Buy it." })
    expect(await meet(null)).toMatchObject({ situation: "stranger", words: "Hello." })
    await saveLesson(t.s, { lesson: l[0], gates: { outside: { kind: "sign-in" } } })
    // Whoever is signed in would only come back from there.
    expect(await meet(outside)).toMatchObject({ situation: "outside", words: "" })
    expect(await meet(outside, l[1]!)).toMatchObject({ words: "Buy it." })
    await saveSchoolGates(t.s, {})
    expect(await saveSchoolGates(t.s, { outside: { kind: "nowhere" } })).toMatchObject({ refused: expect.any(String) })
  })

  it("lead to a live page of a step, and stay on the spot where it isn't live", async () => {
    const [step] = await t.s.db.rows<{ step_id: number; path: string }>("SELECT step_id, path FROM live_page LIMIT 1")
    const { course, slug, l } = await fourLessons("Doenjang")
    const who = await person()
    await saveCourse(t.s, { course, gates: { outside: { kind: "step", step: step!.step_id } } })
    expect(await meetGate(t.s, me(who), slug, l[0]!)).toEqual({
      goTo: `/${step!.path}?lesson=${l[0]}`,
    })
    expect(await lockedName(t.s.db, "lesson", l[0]!)).toMatchObject({ course: "Doenjang" })
    expect(await lockedName(t.s.db, "lesson", 99_999)).toBeUndefined()
    await saveCourse(t.s, { course, gates: { outside: { kind: "step", step: 99_999 } } })
    expect(await meetGate(t.s, me(who), slug, l[0]!)).toMatchObject({ situation: "outside" })
    expect(await meetGate(t.s, me(who), "no-such-course", null)).toBeUndefined()
    await saveCourse(t.s, { course, state: "draft" })
    expect(await meetGate(t.s, me(who), slug, null)).toBeUndefined()
  })
  it("that lead nowhere, and lessons that can never open, are known to preflight", async () => {
    const { course, l } = await fourLessons("Tsukemono")
    expect((await coursePagesOf(t.s.db)).get(course)).toEqual({
      empty: ["Tsukemono 1", "Tsukemono 2", "Tsukemono 3", "Tsukemono 4"],
      closed: false,
      signUpClosed: false,
      never: [],
      dead: [],
    })
    await t.s.db.write(
      "INSERT INTO step (funnel_id, kind, name, path, position) VALUES (?, 'sales', 'Old sale', 'old-sale', 99)",
      [school.funnel],
    )
    const step = (await t.s.db.row<{ id: number }>("SELECT id FROM step WHERE name = 'Old sale'"))!.id
    await saveLesson(t.s, { lesson: l[1], gates: { outside: { kind: "step", step } } })
    await saveLesson(t.s, { lesson: l[2], opens: { kind: "after-lesson", lesson: l[3]! } })
    await saveLesson(t.s, { lesson: l[3], opens: { kind: "after-lesson", lesson: l[2]! } })
    await saveCourse(t.s, { course, state: "closed" })
    expect((await coursePagesOf(t.s.db)).get(course)).toMatchObject({
      closed: true,
      signUpClosed: true,
      never: ["Tsukemono 3", "Tsukemono 4"],
      dead: ["Old sale"],
    })
    await t.s.db.write("DELETE FROM step WHERE id = ?", [step])
  })
})
