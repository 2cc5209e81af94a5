// Links in texts that name something of the school: each leads to where that is when the page is published, or the lesson opened.
import { afterAll, beforeAll, expect, it } from "vitest"
import { fillPage } from "@/core/page/compile"
import { type LearnCourse, type LearnLesson, lessonSeenAs } from "@/server/course/learn"
import { saveLessonPage } from "@/server/course/lesson-page"
import { savePage } from "@/server/funnel/edit"
import { loadFunnel } from "@/server/funnel/load"
import { publishFunnel } from "@/server/funnel/release"
import { linkTargets } from "@/server/page/links"
import { releaseById } from "@/server/releases"
import { openSchool, type TestSchool, testSchool } from "../support/school"

let t: TestSchool
let school: Awaited<ReturnType<typeof openSchool>>
let lesson: { id: number; revision: number }
let file: number
let html: string

beforeAll(async () => {
  t = await testSchool("links")
  school = await openSchool(t)
  lesson = (await t.s.db.row("SELECT id, page_revision AS revision FROM lesson LIMIT 1"))!
  const stored = `${"a".repeat(24)}.pdf`
  file = (
    await t.s.db.write(
      "INSERT INTO media (kind, stored, type, name, size, made_at) VALUES ('file', ?, 'application/pdf', 'Chart', 9, NOW())",
      [stored],
    )
  ).id
  html = `<p>${["course", "lesson", "file", "offer", "webinar"]
    .map((to) => `<a href="${to}:${{ course: school.course, lesson: lesson.id, file }[to] ?? 1}">x</a>`)
    .join("")}</p>`
})
afterAll(() => t.end())

it("on a page lead there, to a file that may be had from now on; what is nowhere leads to the page itself", async () => {
  const step = (await loadFunnel(t.s.db, school.funnel))!.steps.find((s) => s.kind === "optin")!
  const { revision } = (await t.s.db.row<{ revision: number }>("SELECT revision FROM step WHERE id = ?", [step.id]))!
  const page = { ...step.page!, blocks: [...step.page!.blocks, { id: "t9", kind: "text", html }] }
  expect(await savePage(t.s, step.id, revision, page)).toHaveProperty("revision")
  const done = await publishFunnel(t.s, school.funnel)
  if ("refused" in done) throw new Error(done.refused)
  const release = (await releaseById(t.s.db, done.release))!
  const shown = fillPage(release.pages.find((p) => p.step === step.id)!.pieces, {})
  const [course, of] = ["/learn/first", `/learn/first/${lesson.id}`]
  expect(shown).toContain(
    `<a href="${course}">x</a><a href="${of}">x</a><a href="/media/${"a".repeat(24)}.pdf">x</a><a href="#">x</a><a href="#">x</a>`,
  )
  expect(await t.s.db.row("SELECT public FROM media WHERE id = ?", [file])).toEqual({ public: 1 })
})

it("in a lesson lead there, too", async () => {
  const page = { version: 1, title: "x", blocks: [{ id: "t9", kind: "text", html }] }
  expect(await saveLessonPage(t.s, lesson.id, lesson.revision, page)).toHaveProperty("revision")
  const open = await lessonSeenAs(t.s.db, {} as LearnCourse, { id: lesson.id, may: { open: true } } as LearnLesson)
  expect(open!.addresses.get(`lesson:${lesson.id}`)).toBe(`/learn/first/${lesson.id}`)
  expect([...open!.media.keys()]).toEqual([file])
})

it("are offered by name: what has a page of its own", async () => {
  const targets = await linkTargets(t.s.db)
  expect(targets).toContainEqual({ group: "Course", name: "First", href: `course:${school.course}` })
  expect(targets).toContainEqual({ group: "Lesson", name: "Lesson 2", href: `lesson:${lesson.id + 1}` })
  expect(targets).toContainEqual({ group: "File", name: "Chart", href: `file:${file}` })
  expect(targets.some((x) => x.group === "Offer" || x.group === "Webinar")).toBe(false)
})
