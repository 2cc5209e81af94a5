// Kept sections: written once, and shown wherever they stand, once they are published.
import { afterAll, beforeAll, describe, expect, it } from "vitest"
import { fillPage } from "@/core/page/compile"
import type { Block, Page } from "@/core/page/document"
import { type LearnCourse, type LearnLesson, lessonSeenAs } from "@/server/course/learn"
import { saveLessonPage } from "@/server/course/lesson-page"
import { savePage } from "@/server/funnel/edit"
import { loadFunnel } from "@/server/funnel/load"
import { checkFunnel, isChanged, publishFunnel, sectionEverywhere } from "@/server/funnel/release"
import {
  keepSection,
  listKept,
  publishSection,
  readSection,
  removeSection,
  renameSection,
  saveSection,
} from "@/server/page/kept"
import { lookIn } from "@/server/page/open"
import { versionsOf } from "@/server/page/version"
import { usesOf } from "@/server/reference"
import { releaseById } from "@/server/releases"
import { openSchool, type TestSchool, testSchool } from "../support/school"

let t: TestSchool
let school: Awaited<ReturnType<typeof openSchool>>
let step: number
let section: number
const text = (id: string, says: string): Block => ({ id, kind: "text", html: `<p>${says}</p>` })

beforeAll(async () => {
  t = await testSchool("kept")
  school = await openSchool(t)
  step = (await loadFunnel(t.s.db, school.funnel))!.steps.find((s) => s.kind === "optin")!.id
})
afterAll(() => t.end())

const draft = async () => (await loadFunnel(t.s.db, school.funnel))!.steps.find((s) => s.id === step)!.page!
async function put(change: (page: Page) => Page) {
  const { revision } = (await t.s.db.row<{ revision: number }>("SELECT revision FROM step WHERE id = ?", [step]))!
  expect(await savePage(t.s, step, revision, change(await draft()))).toHaveProperty("revision")
}
const live = async () => {
  const row = await t.s.db.row<{ id: number }>("SELECT live_release_id AS id FROM funnel WHERE id = ?", [school.funnel])
  const release = (await releaseById(t.s.db, row!.id))!
  return { release: row!.id, html: fillPage(release.pages.find((p) => p.step === step)!.pieces, {}) }
}
const write = async (says: string) => {
  const { page, revision } = (await readSection(t.s.db, section))!
  return saveSection(t.s, section, revision, { ...page, blocks: [text("b1", says)] }, page)
}

describe("a kept section", () => {
  it("is kept by a name that no other has, of what may stand on any page", async () => {
    const made = await keepSection(t.s, { name: " Guarantee ", blocks: [text("b1", "Thirty days")] })
    if ("refused" in made) throw new Error(made.refused)
    section = made.id
    expect(await listKept(t.s.db)).toEqual([{ id: section, name: "Guarantee", stands: 0, changed: false }])
    expect(await keepSection(t.s, { name: "guarantee", blocks: [text("b1", "x")] })).toMatchObject({ field: "name" })
    expect(await keepSection(t.s, { name: "  ", blocks: [] })).toHaveProperty("refused")
    expect(await keepSection(t.s, { name: "x", blocks: "<script>" })).toHaveProperty("refused")
  })

  it("can't hold itself, nor any other", async () => {
    const itself = { id: "b2", kind: "kept", section }
    expect(await keepSection(t.s, { name: "x", blocks: [itself] })).toEqual({
      refused: "A kept section can’t hold this: kept section.",
    })
    const { page, revision } = (await readSection(t.s.db, section))!
    expect(await saveSection(t.s, section, revision, { ...page, blocks: [itself] }, page)).toHaveProperty("refused")
  })

  it("stands on a page as what it holds, and is listed there", async () => {
    await put((p) => ({ ...p, blocks: [...p.blocks, { id: "k1", kind: "kept", section }] }))
    expect(await publishFunnel(t.s, school.funnel)).toHaveProperty("number")
    expect((await live()).html).toContain("<p>Thirty days</p>")
    expect(await listKept(t.s.db)).toMatchObject([{ stands: 1 }])
    expect(await usesOf(t.s.db, "kept_section", section)).toMatchObject([{ use: "holds it" }])
    expect(await removeSection(t.s, section)).toHaveProperty("refused")
  })

  it("is written without anybody seeing it, and shown everywhere once it is published: pages as they stood, not their drafts", async () => {
    expect(await write("Sixty days")).toHaveProperty("revision")
    await put((p) => ({ ...p, title: "A draft that nobody sees" }))
    expect(await listKept(t.s.db)).toMatchObject([{ changed: true }])
    expect((await live()).html).toContain("<p>Thirty days</p>")
    const before = (await live()).release
    expect(await publishSection(t.s, section)).toEqual({ ok: true })
    expect(await sectionEverywhere(t.s, section)).toBe(1)
    const now = await live()
    expect(now.release).toBeGreaterThan(before)
    expect(now.html).toContain("<p>Sixty days</p>")
    expect(now.html).not.toContain("A draft that nobody sees")
    expect(await isChanged(t.s.db, (await loadFunnel(t.s.db, school.funnel))!)).toBe(true)
    // Another section with a number that begins alike stands nowhere.
    expect(await sectionEverywhere(t.s, section * 10)).toBe(0)
  })

  it("has versions, windows and merging as pages have", async () => {
    const { page, revision } = (await readSection(t.s.db, section))!
    const [a, b] = [text("b1", "Ninety days"), text("b9", "And a letter")]
    expect(await saveSection(t.s, section, revision, { ...page, blocks: [a] }, page)).toEqual({
      revision: revision + 1,
    })
    const other = await saveSection(t.s, section, revision, { ...page, blocks: [...page.blocks, b] }, page)
    expect(other).toMatchObject({ revision: revision + 2, page: { blocks: [a, b] } })
    expect((await versionsOf(t.s.db, { section })).length).toBeGreaterThan(1)
    const account = await t.s.db.row<{ id: number }>("SELECT id FROM account")
    const s = { ...t.s, actor: { is: "account", id: account!.id } } as const
    const look = await lookIn(s, { section }, crypto.randomUUID(), revision)
    expect(look).toMatchObject({ others: [], now: { revision: revision + 2 } })
  })

  it("stands in lessons, but for what can't stand there", async () => {
    const { lesson, known } = (await t.s.db.row<{ lesson: number; known: number }>(
      "SELECT id AS lesson, page_revision AS known FROM lesson LIMIT 1",
    ))!
    const page = { version: 1, title: "x", blocks: [{ id: "k1", kind: "kept", section }] }
    expect(await saveLessonPage(t.s, lesson, known, page)).toHaveProperty("revision")
    const seen = await lessonSeenAs(t.s.db, {} as LearnCourse, { id: lesson, may: { open: true } } as LearnLesson)
    expect(seen!.page.blocks).toMatchObject([{ kind: "text", html: "<p>Sixty days</p>" }])
    const { page: now, revision } = (await readSection(t.s.db, section))!
    const button = { id: "b7", kind: "button", says: "Go on", leads: null }
    await saveSection(t.s, section, revision, { ...now, blocks: [button] }, now)
    expect(await publishSection(t.s, section)).toHaveProperty("refused")
    const other = await keepSection(t.s, { name: "Button", blocks: [button] })
    const blocks = [{ id: "k1", kind: "kept", section: "id" in other ? other.id : 0 }]
    expect(await saveLessonPage(t.s, lesson, known + 1, { ...page, blocks })).toHaveProperty("refused")
  })

  it("is found by preflight where something of it is wrong", async () => {
    const findings = async () =>
      (await checkFunnel(t.s, (await loadFunnel(t.s.db, school.funnel))!)).map((f) => JSON.stringify(f))
    const before = await findings()
    await put((p) => ({ ...p, blocks: [...p.blocks, { id: "k9", kind: "kept", section: null }] }))
    const now = await findings()
    expect(now.filter((f) => !before.includes(f)).join()).toContain("which kept section it is isn’t said")
  })

  it("is renamed and, where it stands nowhere, removed", async () => {
    expect(await renameSection(t.s, section, "Button")).toMatchObject({ field: "name" })
    expect(await renameSection(t.s, section, "Our promise")).toEqual({ ok: true })
    const button = (await listKept(t.s.db)).find((x) => x.name === "Button")!
    expect(await removeSection(t.s, button.id)).toEqual({ ok: true })
    expect((await listKept(t.s.db)).map((x) => x.name)).toEqual(["Our promise"])
    expect(await publishSection(t.s, button.id)).toHaveProperty("refused")
  })
})
