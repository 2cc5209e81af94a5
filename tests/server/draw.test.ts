// What is drawn away from the thread that answers: once, kept, so much of one person, and no picture too large to hold.
import { readdirSync } from "node:fs"
import { join } from "node:path"
import { PDFDict, PDFDocument, PDFName } from "pdf-lib"
import sharp from "sharp"
import { afterAll, beforeAll, expect, it } from "vitest"
import type { CertificateSheet } from "@/core/course/certificate"
import { plainly, wear } from "@/core/look/look"
import { type TypefaceName, typefaces } from "@/core/look/typeface"
import { draw, forgetSheets, keptSheet, TooBusy } from "@/server/draw/draw"
import { storeMedia } from "@/server/media/store"
import { type TestSchool, testSchool } from "../support/school"

let t: TestSchool
beforeAll(async () => {
  t = await testSchool("draw")
})
afterAll(() => t.end())

const sheet = (more: Partial<CertificateSheet> = {}): CertificateSheet => ({
  name: "Ines",
  title: "A Year",
  teacher: "Maren",
  school: "Juniper Crock",
  at: t.at(),
  zone: "Europe/Oslo",
  number: "0123456789ABCDEF",
  url: "http://localhost/learn/certificate/0123456789ABCDEF",
  look: wear(plainly("kitchen-table")),
  ...more,
})
const drawn = (who: string, number: string, more: Partial<CertificateSheet> = {}) =>
  keptSheet(t.s.config, who, "certificate", number, sheet({ number, ...more }))
const kept = (number: string) => readdirSync(join(t.s.config.dataFolder, "sheets/certificate", number))

it("a certificate that is asked for eight times at once is drawn once, kept, and drawn anew when it says something else", async () => {
  const all = await Promise.all(Array.from({ length: 8 }, () => drawn("ines", "A")))
  expect(Buffer.from(all[0]!).subarray(0, 5).toString()).toBe("%PDF-")
  for (const one of all) expect(one).toBe(all[0])
  const [first] = kept("A")
  expect(Buffer.from(await drawn("ines", "A"))).toEqual(Buffer.from(all[0]!))
  await drawn("ines", "A", { school: "Juniper & Crock" })
  expect(kept("A")).toHaveLength(1)
  expect(kept("A")).not.toEqual([first])
  await forgetSheets(t.s.config, "certificate", "A")
  expect(() => kept("A")).toThrow()
})

it("of one person so many wait at once, and another's are drawn", async () => {
  const mine = await Promise.allSettled(Array.from({ length: 8 }, (_, i) => drawn("greedy", `G${i}`)))
  const refused = mine.filter((x) => x.status === "rejected")
  expect(refused).toHaveLength(5)
  for (const r of refused) expect(r.reason).toBeInstanceOf(TooBusy)
  expect((await drawn("other", "H")).length).toBeGreaterThan(1_000)
  // A moment later there is place again.
  expect((await drawn("greedy", "G7")).length).toBeGreaterThan(1_000)
})

it("a picture of too many pixels is refused by its head, before it is decoded", async () => {
  const huge = await sharp({ create: { width: 8_000, height: 7_400, channels: 3, background: "#446655" } })
    .png()
    .toBuffer()
  expect(await storeMedia(t.s, "picture", "huge.png", huge)).toEqual({
    refused: "This picture has too many pixels: 50 million are fine. Save it smaller and try again.",
  })
  const fine = await sharp({ create: { width: 3_000, height: 2_000, channels: 3, background: "#446655" } })
    .png()
    .toBuffer()
  expect(await storeMedia(t.s, "picture", "fine.png", fine)).toHaveProperty("id")
  const row = await t.s.db.row("SELECT width, height, type FROM media WHERE name = 'fine.webp'")
  expect(row).toEqual({ width: 2400, height: 1600, type: "image/webp" })
})

it("the preview of a link is drawn in every typeface; a long title stays within it, letters nobody has are left out", async () => {
  const says = { school: "Juniper Crock", ground: "#FFFDF6", ink: "#20294A", accent: "#B5341F" } as const
  const preview = (title: string, typeface: TypefaceName) =>
    draw(null, "preview", { ...says, title, typeface }).then((jpeg) => Buffer.from(jpeg))
  const inked = async (jpeg: Buffer, left: number) => {
    const strip = await sharp(jpeg).extract({ left, top: 40, width: 60, height: 480 }).png().toBuffer()
    return (await sharp(strip).stats()).channels[0]!.min < 100
  }
  for (const typeface of Object.keys(typefaces) as TypefaceName[]) {
    const jpeg = await preview("Zwölf Monate, łódź", typeface)
    expect(await sharp(jpeg).metadata(), typeface).toMatchObject({ format: "jpeg", width: 1200, height: 630 })
    expect(await inked(jpeg, 85), typeface).toBe(true)
  }
  for (const title of ["word ".repeat(60), "W".repeat(120), "Donaudampfschifffahrt ".repeat(14)]) {
    const jpeg = await preview(title, "barlow-condensed")
    expect(await inked(jpeg, 85)).toBe(true)
    expect(await inked(jpeg, 1130)).toBe(false)
  }
  // Right to left it begins at the right; of what neither typeface has, nothing is drawn rather than boxes.
  expect(await inked(await preview("ملح", "karla"), 1050)).toBe(true)
  expect(await inked(await preview("塩", "karla"), 85)).toBe(false)
}, 120_000)

it("a certificate has the typefaces of its look where they have its letters, and one face for every letter where they haven't", async () => {
  const faces = async (more: Partial<CertificateSheet>) => {
    const pdf = await PDFDocument.load(await draw(null, "certificate", sheet(more)))
    return pdf.context
      .enumerateIndirectObjects()
      .flatMap(([, o]) => (o instanceof PDFDict ? (o.get(PDFName.of("BaseFont"))?.toString() ?? []) : []))
      .join(" ")
  }
  for (const [kind, display] of [
    ["kitchen-table", "Fraunces"],
    ["conservatory", "Outfit"],
    ["market-poster", "Barlow"],
  ] as const)
    expect(await faces({ look: wear(plainly(kind)) }), kind).toContain(display)
  expect(await faces({ name: "Łucja" })).not.toContain("Fraunces")
  expect(await faces({ name: "伊根" })).not.toContain("Fraunces")
}, 60_000)
