// Courses as they are written and learnt, effects of outcomes, and what a person who is let in meets.
import { afterAll, beforeAll, describe, expect, it } from "vitest"
import { lessonPage } from "@/core/page/lesson"
import { allSteps, removeFlowStep } from "@/core/sequence/flow"
import { mailOf } from "@/core/sequence/step/list"
import * as course from "@/server/course/course"
import { gateOf } from "@/server/course/gates"
import { markDone, openLesson } from "@/server/course/in-lesson"
import { myCourse, myCourses } from "@/server/course/learn"
import { saveLessonPage } from "@/server/course/lesson-page"
import { saveOutline } from "@/server/course/outline"
import { doWhatIsDue } from "@/server/due-list"
import { confirmJoin } from "@/server/funnel/confirm"
import { changeFunnel } from "@/server/funnel/edit"
import { setOff } from "@/server/funnel/leave"
import { loadFunnel } from "@/server/funnel/load"
import { publishFunnel } from "@/server/funnel/release"
import { addEffect, removeEffect } from "@/server/funnel/steps"
import { health } from "@/server/health"
import { beat } from "@/server/heartbeat"
import { sendDue } from "@/server/mail/send"
import { storeMedia } from "@/server/media/store"
import { personStory } from "@/server/person/people"
import { saveMail, saveSequence } from "@/server/sequence/edit"
import { putLive } from "@/server/sequence/live"
import { loadSequence } from "@/server/sequence/store"
import { addLesson, join_, lastTo, linkId, openSchool, type TestSchool, testSchool } from "../support/school"

let t: TestSchool
let school: Awaited<ReturnType<typeof openSchool>>
beforeAll(async () => {
  t = await testSchool("course")
  school = await openSchool(t)
})
afterAll(() => t.end())

async function member(email: string): Promise<number> {
  await join_(t, school, email)
  await sendDue(t.s, "w")
  await confirmJoin(t.s, linkId(t, t.sent.filter((m) => m.to.address === email).at(-1)!, "confirm"), { ip: "" })
  return (await t.s.db.row<{ id: number }>("SELECT id FROM person WHERE email = ?", [email]))!.id
}

const fields = { promise: "P", teacher: "M", picture: null, state: "draft" as const }
const lesson = { minutes: 3, state: "live" as const }
const page = (...blocks: object[]) => ({ version: 1, title: "Lesson", blocks })

describe("writing a course", () => {
  it("gives each an address of its own, also when ten are made at once", async () => {
    const made = await Promise.all(Array.from({ length: 10 }, () => course.newCourse(t.s, "Brine & Salt")))
    const slugs = await t.s.db.rows<{ slug: string }>("SELECT slug FROM course WHERE title = 'Brine & Salt'")
    expect(made.every((m) => "ok" in m)).toBe(true)
    expect(new Set(slugs.map((s) => s.slug)).size).toBe(10)
    expect(slugs.map((s) => s.slug)).toContain("brine-salt")
  })
  it.each([[""], ["   "], ["x".repeat(200)], [7], [null]])("refuses the title %j", async (title) => {
    expect(await course.newCourse(t.s, title)).toMatchObject({ refused: expect.any(String) })
  })
  it("keeps what was typed, cleans rich text, and names the field that is wrong", async () => {
    await course.newCourse(t.s, "Plans")
    expect(await t.s.db.row("SELECT slug FROM course WHERE title = 'Plans'")).toEqual({ slug: "plans-2" })
    const { id } = (await course.newCourse(t.s, "Rye")) as { id: number }
    expect(await course.saveCourse(t.s, { ...fields, course: id, title: "Rye <b>bread</b>" })).toHaveProperty(
      "revision",
    )
    expect(await course.saveCourse(t.s, { ...fields, course: id, title: " " })).toMatchObject({ field: "title" })
    expect(await course.saveCourse(t.s, { ...fields, course: id, title: "x", state: "gone" })).toMatchObject({
      field: "state",
    })
    const first = await addLesson(t.s, id, "One")
    await course.saveLesson(t.s, { ...lesson, lesson: first, title: "One" })
    const html = `<h2>Hi</h2><p style="x">a<script>b</script></p><ul><li>c</li></ul><object>`
    expect(await saveLessonPage(t.s, first, 1, page({ id: "t", kind: "text", html }))).toEqual({ revision: 2 })
    const read = (await course.readCourse(t.s.db, id))!
    expect(read.course.title).toBe("Rye <b>bread</b>")
    expect(lessonPage(read.lessons[0]!).blocks).toEqual([
      { id: "t", kind: "text", html: "<h2>Hi</h2><p>a</p><ul><li>c</li></ul>" },
    ])
    for (const [bad, field] of [
      [{ minutes: -1 }, "minutes"],
      [{ minutes: 1.5 }, "minutes"],
      [{ minutes: 9999 }, "minutes"],
      [{ state: "x" }, "state"],
    ] as const)
      expect(await course.saveLesson(t.s, { ...lesson, lesson: first, title: "One", ...bad })).toMatchObject({ field })
    await saveOutline(t.s, { course: id, rows: [], known: [`lesson:${first}`] })
    expect((await course.readCourse(t.s.db, id))!.lessons).toEqual([])
    expect(await saveOutline(t.s, { course: 99_999, rows: [], known: [] })).toMatchObject({
      refused: expect.any(String),
    })
    expect(await course.readCourse(t.s.db, 99_999)).toBeUndefined()
  })
  it("takes the blocks of lessons and no others, and merges what two windows make of one", async () => {
    const [first, second] = (await course.readCourse(t.s.db, school.course))!.lessons
    const list = (await storeMedia(t.s, "file", "list.txt", Buffer.from("a list"))) as { id: number }
    const file = { id: "f", kind: "download", media: list.id, says: "" }
    expect(await saveLessonPage(t.s, first!.id, 1, page(file))).toEqual({ revision: 2 })
    const id = second!.id
    const before = lessonPage(second!)
    const text = (html: string) => ({ id: "text", kind: "text", html })
    const head = { id: "h", kind: "headline", text: "Salt" }
    expect(await saveLessonPage(t.s, id, 1, page({ id: "f", kind: "price", offer: 1 }))).toMatchObject({
      refused: expect.stringContaining("price"),
    })
    expect(await saveLessonPage(t.s, id, 1, { version: 9 })).toMatchObject({ refused: expect.any(String) })
    expect(await saveLessonPage(t.s, 99_999, 1, page())).toMatchObject({ refused: expect.any(String) })
    expect(await saveLessonPage(t.s, id, 1, page(head, text("<p>Text</p>")), before)).toEqual({ revision: 2 })
    const merged = await saveLessonPage(t.s, id, 1, page(text("<p>Other</p>")), before)
    expect(merged).toMatchObject({ revision: 3, page: { blocks: [head, text("<p>Other</p>")] } })
    expect(
      await saveLessonPage(t.s, id, 2, page(head, text("<p>Third</p>")), page(head, text("<p>Text</p>"))),
    ).toMatchObject({
      clash: ["text"],
    })
  })
  it("lists what there is, with who learns it", async () => {
    await member("learner@post.example")
    const row = (await course.listCourses(t.s.db)).find((c) => c.id === school.course)!
    expect(row).toMatchObject({ lessons: 3, live: 3, learners: 1 })
  })
})

describe("learning", () => {
  it("shows live lessons of live courses only, with the file to take away", async () => {
    const person = await member("reads@post.example")
    const mine = (await myCourse(t.s, { person: person, scope: null }, "first"))!
    expect(mine.lessons.map((l) => l.title)).toEqual(["Lesson 1", "Lesson 2", "Lesson 3"])
    const { media } = (await openLesson(t.s, { person: person, scope: null }, "first", mine.lessons[0]!.id))!
    expect([...media.values()]).toMatchObject([{ name: "list.txt", size: 6 }])
    await t.s.db.write("UPDATE lesson SET state = 'draft' WHERE id = ?", [mine.lessons[1]!.id])
    expect((await myCourse(t.s, { person: person, scope: null }, "first"))!.lessons).toHaveLength(2)
    expect(await openLesson(t.s, { person: person, scope: null }, "first", mine.lessons[1]!.id)).toBeUndefined()
    await t.s.db.write("UPDATE lesson SET state = 'live' WHERE id = ?", [mine.lessons[1]!.id])
    await t.s.db.write("UPDATE course SET state = 'draft' WHERE id = ?", [school.course])
    expect(await myCourses(t.s, { person: person, scope: null })).toEqual([])
    expect(await gateOf(t.s.db, "first")).toBeUndefined()
    await t.s.db.write("UPDATE course SET state = 'live' WHERE id = ?", [school.course])
  })
  it("marks as done once, takes it back, and never a lesson of another course", async () => {
    const person = await member("done@post.example")
    const id = (await myCourse(t.s, { person: person, scope: null }, "first"))!.lessons[0]!.id
    await Promise.all(
      Array.from({ length: 5 }, () => markDone(t.s, { person: person, scope: null }, "first", id, true)),
    )
    expect((await myCourse(t.s, { person: person, scope: null }, "first"))!.done).toEqual(new Set([id]))
    expect((await personStory(t.s.db, person))!.facts.filter((f) => f.kind === "lesson-done")).toHaveLength(1)
    await markDone(t.s, { person: person, scope: null }, "first", id, false)
    expect((await myCourse(t.s, { person: person, scope: null }, "first"))!.done.size).toBe(0)
    expect(await markDone(t.s, { person: person, scope: null }, "first", 99_999, true)).toBe(false)
    expect(await markDone(t.s, { person: person, scope: null }, "rye", id, true)).toBe(false)
    expect(await markDone(t.s, { person: 99_999, scope: null }, "first", id, true)).toBe(false)
  })
  it("opens for the person who was let in and for nobody else", async () => {
    const inside = await member("inside@post.example")
    const outside = (
      await t.s.db.write("INSERT INTO person (name, email, zone, joined_at) VALUES ('O', 'o@x.example', 'UTC', ?)", [
        new Date(t.at()),
      ])
    ).id
    const id = (await myCourse(t.s, { person: inside, scope: null }, "first"))!.lessons[0]!.id
    expect(await openLesson(t.s, { person: outside, scope: null }, "first", id)).toBeUndefined()
    await t.s.db.write("INSERT INTO admission (person_id, course_id, origin, from_at) VALUES (?, ?, 'test', ?)", [
      outside,
      school.course,
      new Date(t.at() + 60_000),
    ])
    expect(await openLesson(t.s, { person: outside, scope: null }, "first", id)).toBeUndefined() // not yet
    t.set(t.at() + 61_000)
    expect(await openLesson(t.s, { person: outside, scope: null }, "first", id)).toBeDefined()
  })
})

describe("effects", () => {
  it("put tags on and take them off, begin and end sequences, open courses: each once", async () => {
    const person = await member("effects@post.example")
    const funnel = (await loadFunnel(t.s.db, school.funnel))!
    const inbox = funnel.steps[1]!.id
    const sequence = funnel.sequences[0]!.id
    for (const e of [
      { kind: "tag-on", tag: "brave" },
      { kind: "tag-off", tag: "shy" },
      { kind: "end-sequence", sequence },
    ] as const)
      expect(await addEffect(t.s, { step: inbox, outcome: "confirmed", ...e })).toEqual({ ok: true })
    await t.s.db.write("INSERT INTO person_tag SELECT ?, id, ?, ? FROM tag WHERE name = 'shy'", [
      person,
      new Date(t.at()),
      new Date(t.at()),
    ])
    const changed = (await loadFunnel(t.s.db, school.funnel))!
    const perform = () =>
      t.s.db.transaction((tx) =>
        setOff(
          tx,
          {
            release: { id: school.release, funnel: changed, pages: [] },
            step: inbox,
            outcome: "confirmed",
            at: t.at(),
          },
          [person],
        ),
      )
    await perform()
    await perform()
    const story = (await personStory(t.s.db, person))!
    expect(story.tags).toEqual(["brave"])
    expect(story.sequences).toMatchObject([{ ended_why: "ended" }])
    expect(story.admissions).toHaveLength(1)
    expect(story.facts.filter((f) => f.kind === "tagged")).toHaveLength(1)
    expect(story.facts.filter((f) => f.kind === "untagged")).toHaveLength(1)
    for (const e of changed.effects.filter((e) => ["tag-on", "tag-off", "end-sequence"].includes(e.kind)))
      await removeEffect(t.s, e.id)
    expect(await removeEffect(t.s, 99_999)).toMatchObject({ refused: expect.any(String) })
  })
})

describe("the mails of a sequence", () => {
  it("reach those still on their way as they are published now", async () => {
    const email = "typo@post.example"
    await member(email)
    await sendDue(t.s, "w")
    const mail = (await loadFunnel(t.s.db, school.funnel))!.sequences[0]!.mails[1]!
    await saveMail(t.s, {
      mail: mail.id,
      subject: "Mended, ‹first name, else friend›",
      body: '<p>See <a href="https://salt.example/?a=1&amp;b=2">salt</a></p>',
      button: "",
      lesson: null,
      step: null,
    })
    t.set(t.at() + 2 * 86_400_000)
    await putLive(t.s, (await loadFunnel(t.s.db, school.funnel))!.sequences[0]!.id)
    await sendDue(t.s, "w")
    const got = t.sent.filter((m) => m.to.address === email).at(-1)!
    expect(got.subject).toBe("Mended, Ines")
    expect(got.html).not.toContain("salt.example") // the address stays with us, behind our signature
    expect(got.date.getTime()).toBe(t.at())
  })
  it("can be removed, and those on their way go on", async () => {
    const { id } = (await loadFunnel(t.s.db, school.funnel))!.sequences[0]!
    const email = "shorter@post.example"
    await member(email)
    await sendDue(t.s, "w")
    const { flow, mails } = (await loadSequence(t.s.db, id))!
    const second = allSteps(flow.steps).find((x) => mailOf(x) === mails[1]!.id)!
    expect(
      await saveSequence(t.s, id, { flow: { ...flow, steps: removeFlowStep(flow.steps, second.id) } }),
    ).toHaveProperty("revision")
    expect(await putLive(t.s, id)).toEqual({ ok: true })
    expect((await loadFunnel(t.s.db, school.funnel))!.sequences[0]!.mails).toHaveLength(2)
    for (let d = 0; d < 4; d++) {
      t.set(t.at() + 86_400_000)
      await doWhatIsDue(t.s, "w")
    }
    const subjects = t.sent.filter((m) => m.to.address === email && m.headers["List-Unsubscribe"]).map((m) => m.subject)
    expect(subjects[0]).toBe("1 of 3: Lesson 1")
    expect(subjects.at(-1)).toBe("3 of 3: Lesson 3")
    expect(new Set(subjects).size).toBe(subjects.length)
  })
  it("are not sent by a draft", async () => {
    const { id } = (await loadFunnel(t.s.db, school.funnel))!.sequences[0]!
    expect(await saveSequence(t.s, id, { name: "Mornings", leaveLine: "Stop" })).toHaveProperty("revision")
    expect(await saveSequence(t.s, id, { name: " " })).toMatchObject({ field: "name" })
    await t.s.db.write("UPDATE sequence SET state = 'draft' WHERE id = ?", [id])
    const released = (await publishFunnel(t.s, school.funnel, true)) as { release: number }
    const email = "draft@post.example"
    await join_(t, { ...school, release: released.release }, email)
    await sendDue(t.s, "w")
    await confirmJoin(t.s, linkId(t, lastTo(t, email), "confirm"), { ip: "" })
    await sendDue(t.s, "w")
    expect(t.sent.filter((m) => m.to.address === email)).toHaveLength(1)
  })
  it("names a funnel anew", async () => {
    expect(await changeFunnel(t.s, { funnel: school.funnel, name: " Autumn crocks " })).toEqual({ ok: true })
    expect((await loadFunnel(t.s.db, school.funnel))!.name).toBe("Autumn crocks")
    expect(await changeFunnel(t.s, { funnel: school.funnel, name: "" })).toMatchObject({ field: "name" })
  })
})

describe("health", () => {
  it("is well when worker and mail have shown themselves lately", async () => {
    await beat(t.s, "worker-1")
    await beat(t.s, "mail", "well")
    expect(await health(t.s)).toEqual({ ok: true, database: "well", worker: "well", mail: "well", due: "well" })
    await t.s.db.write("UPDATE heartbeat SET beat_at = ? WHERE name = 'worker-1'", [new Date(Date.now() - 60_000)])
    expect(await health(t.s)).toMatchObject({ ok: false, worker: "no worker is running" })
    await beat(t.s, "mail", "the mail server doesn't answer")
    expect(await health(t.s)).toMatchObject({ mail: "the mail server doesn't answer" })
  })
})
