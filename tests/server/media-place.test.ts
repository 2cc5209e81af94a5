// Everything that was uploaded: found, described, cut, put in another's stead everywhere, and taken away only where nothing uses it.
import { stat } from "node:fs/promises"
import { join } from "node:path"
import sharp from "sharp"
import { afterAll, beforeAll, expect, test } from "vitest"
import { watchLive } from "@/front/live"
import { newTeacher } from "@/server/course/teacher"
import { savePage } from "@/server/funnel/edit"
import { loadFunnel } from "@/server/funnel/load"
import { publishFunnel, showEverywhere } from "@/server/funnel/release"
import {
  cutPicture,
  describeMedia,
  focusPicture,
  listMedia,
  removeUnused,
  replaceMedia,
  usesOfMedia,
} from "@/server/media/place"
import { storeMedia } from "@/server/media/store"
import { openSchool, type TestSchool, testSchool } from "../support/school"

let t: TestSchool
let school: Awaited<ReturnType<typeof openSchool>>
const ids = { jar: 0, other: 0, alone: 0, face: 0 }

async function picture(name: string, colour: string): Promise<number> {
  const half = sharp({ create: { width: 400, height: 400, channels: 3, background: "#ffffff" } })
  const body = await half
    .composite([{ input: { create: { width: 200, height: 400, channels: 3, background: colour } }, left: 0, top: 0 }])
    .png()
    .toBuffer()
  const made = await storeMedia(t.s, "picture", name, body)
  if ("refused" in made) throw new Error(made.refused)
  return made.id
}

beforeAll(async () => {
  t = await testSchool("media_place")
  school = await openSchool(t)
  ids.jar = await picture("jar.png", "#336633")
  ids.other = await picture("other.png", "#663333")
  ids.alone = await picture("alone.png", "#333366")
  ids.face = await picture("face.png", "#555555")
  const funnel = (await loadFunnel(t.s.db, school.funnel))!
  const step = funnel.steps.find((x) => x.kind === "optin")!
  const page = {
    ...step.page!,
    blocks: [...step.page!.blocks, { id: "jar", kind: "picture", media: ids.jar, alt: "A jar" }],
  }
  expect(await savePage(t.s, step.id, 1, page)).not.toHaveProperty("refused")
  expect(await publishFunnel(t.s, school.funnel, true)).toHaveProperty("release")
  await newTeacher(t.s, { name: "Maren", about: "", media: ids.face })
})
afterAll(() => t.end())

const listed = async (more: Partial<Parameters<typeof listMedia>[1]> = {}) =>
  (await listMedia(t.s, { search: "", kind: null, unused: false, page: 0, ...more })).shown
const storedOf = async (id: number) =>
  (await t.s.db.row<{ stored: string }>("SELECT stored FROM media WHERE id = ?", [id]))!.stored

async function livePage(): Promise<string> {
  const live = watchLive(t.s)
  try {
    await live.refresh()
    return live.page(school.path)!.bodies.identity.toString()
  } finally {
    live.stop()
  }
}

test("it is found by its name, its words and its kind, and by being used nowhere", async () => {
  expect((await listed()).map((m) => [m.name, m.used])).toEqual([
    ["face.webp", true],
    ["alone.webp", false],
    ["other.webp", false],
    ["jar.webp", true],
  ])
  expect((await listed({ unused: true })).map((m) => m.id)).toEqual([ids.alone, ids.other])
  expect(await describeMedia(t.s, ids.alone, { name: "Alone", alt: "A cabbage" })).toEqual({ ok: true })
  expect((await listed({ search: "cabb" })).map((m) => m.name)).toEqual(["Alone"])
  expect(await listed({ search: "%" })).toEqual([])
  expect(await listed({ kind: "video" })).toEqual([])
  expect(await describeMedia(t.s, ids.alone, { name: " ", alt: "" })).toMatchObject({ field: "name" })
})

test("where it is used is said, teachers and logos too", async () => {
  expect((await usesOfMedia(t.s.db, ids.jar)).map((u) => u.use)).toEqual(["shows it"])
  expect((await usesOfMedia(t.s.db, ids.face)).map((u) => u.says)).toEqual(["the teacher “Maren”"])
  expect(await usesOfMedia(t.s.db, ids.alone)).toEqual([])
})

test("another in its place shows everywhere, on published pages too; what stood there is kept", async () => {
  const [before, other] = [await storedOf(ids.jar), await storedOf(ids.other)]
  expect(await livePage()).toContain(before)
  expect(await replaceMedia(t.s, ids.jar, ids.other)).toEqual({ ok: true })
  expect([await storedOf(ids.jar), await storedOf(ids.other)]).toEqual([other, before])
  expect(await livePage()).toContain(before)
  // Until it is put out again, the page shows what is kept: it isn't taken away meanwhile.
  expect(await removeUnused(t.s, ids.other)).toHaveProperty("refused")
  expect(await showEverywhere(t.s, [ids.jar, ids.other])).toBe(1)
  const page = await livePage()
  expect(page).toContain(other)
  expect(page).not.toContain(before)
  expect(await replaceMedia(t.s, ids.jar, 4711)).toHaveProperty("refused")
})

test("a part that is cut out is shown instead, and the whole is kept", async () => {
  const whole = await storedOf(ids.jar)
  const done = await cutPicture(t.s, ids.jar, { left: 0, top: 0.25, width: 0.5, height: 0.5 })
  if ("refused" in done) throw new Error(done.refused)
  expect(await storedOf(done.id)).toBe(whole)
  await showEverywhere(t.s, [ids.jar, done.id])
  const part = join(t.s.config.mediaFolder, await storedOf(ids.jar))
  const { width, height } = await sharp(part).metadata()
  expect([width, height]).toEqual([200, 200])
  // The left half is of one colour, and nothing of the right is in it.
  const { channels } = await sharp(part).stats()
  for (const c of channels.slice(0, 3)) expect(c.max - c.min).toBeLessThan(32)
  for (const none of [{ left: 0, top: 0, width: 0.01, height: 1 }, { left: -1, top: 0, width: 1, height: 1 }, null])
    expect(await cutPicture(t.s, ids.jar, none)).toHaveProperty("refused")
  expect(await cutPicture(t.s, 4711, { left: 0, top: 0, width: 1, height: 1 })).toHaveProperty("refused")
})

test("what matters in it is kept, and pages are cut around it", async () => {
  expect(await focusPicture(t.s, ids.jar, [10, 90])).toEqual({ ok: true })
  await showEverywhere(t.s, [ids.jar])
  expect(await livePage()).toContain('class="fx0 fy4"')
  for (const none of [[101, 0], [0.5, 0], [1], "x"])
    expect(await focusPicture(t.s, ids.jar, none)).toHaveProperty("refused")
})

test("only what is used nowhere goes, with all its forms", async () => {
  for (const used of [ids.jar, ids.face]) expect(await removeUnused(t.s, used)).toHaveProperty("refused")
  const path = join(t.s.config.mediaFolder, await storedOf(ids.alone))
  expect(await removeUnused(t.s, ids.alone)).toEqual({ ok: true })
  expect(await stat(path).catch(() => null)).toBeNull()
  expect(await removeUnused(t.s, ids.alone)).toHaveProperty("refused")
})
