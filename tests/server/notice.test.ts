// Notices: who is shown which, how often, what is counted, and where the button leads.
import { afterAll, beforeAll, describe, expect, it } from "vitest"
import { letPeopleIn } from "@/server/course/let-in"
import { unpublishFunnel } from "@/server/funnel/release"
import { newNotice, readNotice, removeNotice, saveNotice } from "@/server/notice/notice"
import { noticesWithWhy } from "@/server/notice/notice-view"
import { markSeen, noticeFor, pressNotice } from "@/server/notice/show"
import { usesOf } from "@/server/reference"
import { readToday } from "@/server/today"
import { openSchool, type TestSchool, testSchool, thatTuesday } from "../support/school"

let t: TestSchool
let school: Awaited<ReturnType<typeof openSchool>>
let person: number
let step: number
beforeAll(async () => {
  t = await testSchool("notice", { start: thatTuesday })
  school = await openSchool(t)
  const done = await letPeopleIn(t.s, {
    course: school.course,
    module: null,
    people: "a@x.example",
    until: null,
    tells: false,
  })
  if ("refused" in done) throw new Error(done.refused)
  person = done.results[0]!.person!
  step = (await t.s.db.row<{ id: number }>("SELECT step_id AS id FROM live_page WHERE path = ?", [school.path]))!.id
})
afterAll(() => t.end())

const all = (...parts: object[]) => ({ match: "all", parts })
const me = () => ({ person, scope: null })
async function made(title: string, more: object): Promise<number> {
  const id = await newNotice(t.s, title)
  if ("refused" in id) throw new Error(id.refused)
  const saved = await saveNotice(t.s, id.id, { live: true, ...more })
  if ("refused" in saved) throw new Error(saved.refused)
  return id.id
}
const titleFor = async (...asked: Parameters<typeof noticeFor> extends [unknown, ...infer R] ? R : never) =>
  (await noticeFor(t.s, ...asked))?.title ?? null

describe("a notice", () => {
  it("is shown to those it is for, the latest first, and nobody sees one that is off", async () => {
    const every = await made("For all", { place: "shelf" })
    const has = await made("Has it", {
      place: "shelf",
      segment: all({ kind: "course", course: school.course, has: true }),
    })
    expect(await titleFor(me(), "shelf")).toBe("Has it")
    expect(await titleFor(null, "shelf")).toBe("For all")
    expect(await titleFor(me(), "lesson", school.course)).toBeNull()
    await saveNotice(t.s, has, {
      segment: all({ kind: "progress", course: school.course, from: 1, to: 100 }),
    })
    expect(await titleFor(me(), "shelf")).toBe("For all")
    await t.s.db.write("INSERT INTO lesson_done (person_id, lesson_id, at) SELECT ?, MIN(id), ? FROM lesson", [
      person,
      new Date(t.at()),
    ])
    expect(await titleFor(me(), "shelf")).toBe("Has it")
    await saveNotice(t.s, has, { segment: all({ kind: "bought", offer: 99, has: true, days: null }) })
    expect(await titleFor(me(), "shelf")).toBe("For all")
    await saveNotice(t.s, every, { live: false })
    expect(await titleFor(me(), "shelf")).toBeNull()
    await removeNotice(t.s, has)
  })

  it("is shown so often and no more, from a day to a day, and counts", async () => {
    const id = await made("Twice", { place: "shelf", most: 2, from: "2026-11-24", until: "2026-11-24" })
    expect(await titleFor(me(), "shelf")).toBe("Twice")
    await markSeen(t.s, me(), id, "192.0.2.1")
    expect(await titleFor(me(), "shelf")).toBe("Twice")
    await markSeen(t.s, me(), id, "192.0.2.1")
    await markSeen(t.s, null, id, "192.0.2.1")
    expect(await titleFor(me(), "shelf")).toBeNull()
    expect((await noticesWithWhy(t.s)).find((n) => n.id === id)).toMatchObject({ seen: 3, people: 1, pressed: 0 })
    await saveNotice(t.s, id, { most: null })
    t.set("2026-11-25T00:30:00Z")
    expect(await titleFor(me(), "shelf")).toBeNull()
    expect((await noticesWithWhy(t.s)).find((n) => n.id === id)!.hidden).toBe("over")
    await removeNotice(t.s, id)
  })

  it("leads to what is live, and is neither shown nor pressed once that is gone: Today says so", async () => {
    const id = await made("See it", { place: "sign-in", button: "See", leads: { to: "step", id: step } })
    expect(await titleFor(null, "sign-in")).toBe("See it")
    expect(await pressNotice(t.s, me(), id, "192.0.2.1")).toBe(`/${school.path}`)
    expect(await pressNotice(t.s, null, id, "192.0.2.1")).toBe(`/${school.path}`)
    expect((await noticesWithWhy(t.s)).find((n) => n.id === id)).toMatchObject({
      pressed: 2,
      peoplePressed: 1,
      hidden: null,
    })
    expect(await usesOf(t.s.db, "step", step)).toContainEqual({
      says: "the notice “See it”",
      use: "leads there",
      href: `/studio/courses/notices/${id}`,
    })
    await unpublishFunnel(t.s, school.funnel)
    expect(await titleFor(null, "sign-in")).toBeNull()
    expect(await pressNotice(t.s, me(), id, "192.0.2.1")).toBeNull()
    expect((await readToday(t.s)).broken.map((b) => b.words).join()).toContain("Nobody sees the notice “See it”")
  })

  it("is refused what it can't be, and merged where two windows save it", async () => {
    expect(await newNotice(t.s, " ")).toMatchObject({ refused: expect.any(String) })
    const id = await made("Two windows", { place: "lesson" })
    const before = (await readNotice(t.s.db, id))!
    expect(await saveNotice(t.s, id, { ...before.value, course: 999 }, before)).toMatchObject({ field: "course" })
    await saveNotice(t.s, id, { ...before.value, body: "Mine" }, before)
    const both = await saveNotice(t.s, id, { ...before.value, button: "Theirs" }, before)
    expect(both).toMatchObject({ value: { body: "Mine", button: "Theirs" } })
    expect(await saveNotice(t.s, id, { ...before.value, body: "Other" }, before)).toMatchObject({ clash: ["body"] })
    expect(await saveNotice(t.s, id, { leads: { to: "https://evil.example", id: 1 } })).toMatchObject({
      refused: expect.any(String),
    })
    expect(await saveNotice(t.s, id, { most: 0 })).toMatchObject({ field: "most" })
    expect(await saveNotice(t.s, 999, { body: "x" })).toMatchObject({ refused: expect.any(String) })
  })
})
