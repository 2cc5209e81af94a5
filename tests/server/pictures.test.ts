// Pictures in their widths and kinds, and drawings in lines, from the upload to what the front serves.
import { readdir } from "node:fs/promises"
import sharp from "sharp"
import { afterAll, beforeAll, expect, test } from "vitest"
import { findMedia, removeMedia, storeMedia } from "@/server/media/store"
import { type TestSchool, testSchool } from "../support/school"

let t: TestSchool
beforeAll(async () => {
  t = await testSchool("pictures")
})
afterAll(() => t.end())

const photo = (width: number, height: number) =>
  sharp({
    create: { width, height, channels: 3, background: "#7a9", noise: { type: "gaussian", mean: 120, sigma: 20 } },
  })
    .jpeg()
    .toBuffer()

async function stored(name: string, body: Buffer) {
  const made = await storeMedia(t.s, "picture", name, body)
  if ("refused" in made) throw new Error(made.refused)
  return made
}

test("a picture is served in its widths, as AVIF where that is taken, and drawn once", async () => {
  const { id, stored: name } = await stored("wide.jpg", await photo(2600, 1300))
  const stem = name.replace(".webp", "")
  const served = async (asked: string, avif: boolean) => {
    const found = await findMedia(t.s.db, t.s.config, asked, avif)
    if (!found) return undefined
    const { width, height, format } = await sharp(found.path).metadata()
    return { type: found.type, width, height, format, lasting: found.lasting }
  }
  expect(await served(name, false)).toMatchObject({ type: "image/webp", width: 2400, height: 1200, lasting: true })
  expect(await served(`${stem}-480.webp`, false)).toMatchObject({ type: "image/webp", width: 480, height: 240 })
  expect(await served(`${stem}-960.webp`, true)).toMatchObject({ type: "image/avif", width: 960, height: 480 })
  expect(await served(`${stem}-icon.png`, true)).toMatchObject({ type: "image/png", width: 96, height: 96 })
  for (const none of [
    `${stem}-481.webp`,
    `${stem}-480.png`,
    `${stem}-icon.webp`,
    `${stem}-480.webp.jpg`,
    `${stem}-1120.jpeg`,
  ])
    expect(await served(none, true), none).toBeUndefined()
  const drawn = async () => (await readdir(t.s.config.mediaFolder)).filter((f) => f.startsWith(stem)).toSorted()
  const before = await drawn()
  await Promise.all(Array.from({ length: 20 }, () => served(`${stem}-480.webp`, false)))
  expect(await drawn()).toEqual(before)
  await removeMedia(t.s, { id, stored: name })
  expect(await drawn()).toEqual([])
})

test("a drawing in lines is painted: nothing that it holds besides is kept", async () => {
  // After the OWASP cheat sheet's ways in which SVG carries more than shapes: scripts, handlers, foreign content, links, styles that fetch.
  const hostile = `<?xml version="1.0"?><!-- a sign --><svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="200" height="100" onload="alert(1)">
    <script>alert(1)</script><style>@import url(http://127.0.0.1:1/x.css)</style>
    <foreignObject width="100" height="100"><body xmlns="http://www.w3.org/1999/xhtml"><iframe src="javascript:alert(1)"/></body></foreignObject>
    <a xlink:href="javascript:alert(1)"><rect width="200" height="100" fill="#336"/></a>
    <image xlink:href="file:///etc/passwd" width="10" height="10"/><image href="http://127.0.0.1:1/x.png" width="10" height="10"/>
    <use xlink:href="http://127.0.0.1:1/x.svg#a"/><set attributeName="onmouseover" to="alert(1)"/></svg>`
  const { stored: name } = await stored("sign.svg", Buffer.from(hostile))
  expect(name).toMatch(/\.webp$/)
  const found = await findMedia(t.s.db, t.s.config, name)
  const bytes = await sharp(found!.path).toBuffer()
  expect(bytes.toString("latin1")).not.toMatch(/alert|script|passwd/)
  // However small it says it is, it is as sharp as a picture.
  expect(await sharp(found!.path).metadata()).toMatchObject({ format: "webp", width: 1200, height: 600 })
})

test.each([
  [
    "that blows itself up",
    '<!DOCTYPE svg [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;">]><svg xmlns="http://www.w3.org/2000/svg">&b;</svg>',
  ],
  ["that isn't one", "<html><svg></svg></html>"],
  ["that is broken", '<svg xmlns="http://www.w3.org/2000/svg"><rect'],
  ["of no size", '<svg xmlns="http://www.w3.org/2000/svg" width="0" height="0"></svg>'],
])("a drawing %s is refused", async (_, text) => {
  expect(await storeMedia(t.s, "picture", "x.svg", Buffer.from(text))).toHaveProperty("refused")
})

test("nobody but the school uploads one", async () => {
  const svg = Buffer.from(
    '<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><rect width="9" height="9"/></svg>',
  )
  expect(await storeMedia(t.s, "handed-in", "x.svg", svg, 1)).toHaveProperty("refused")
})

test("a picture 30,000 pixels wide is refused or made narrower, an animated one shows its first frame", async () => {
  const wide = await sharp({ create: { width: 30_000, height: 200, channels: 3, background: "#123" } })
    .png()
    .toBuffer()
  const { stored: name } = await stored("wide.png", wide)
  expect(await sharp((await findMedia(t.s.db, t.s.config, name))!.path).metadata()).toMatchObject({
    width: 2400,
    height: 16,
  })
  const frames = Buffer.concat([Buffer.alloc(40 * 30 * 3, 0x20), Buffer.alloc(40 * 30 * 3, 0xe0)])
  const gif = await sharp(frames, { raw: { width: 40, height: 60, channels: 3, pageHeight: 30 } })
    .gif({ loop: 0, delay: [100, 100] })
    .toBuffer()
  const still = await stored("two.gif", gif)
  const meta = await sharp((await findMedia(t.s.db, t.s.config, still.stored))!.path).metadata()
  expect(meta).toMatchObject({ width: 40, height: 30 })
  expect(meta.pages ?? 1).toBe(1)
})
