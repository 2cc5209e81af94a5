// What a thread of the pool does: sheets as PDF, and pictures drawn anew. Nothing here knows the database.
import { rename, writeFile } from "node:fs/promises"
import sharp from "sharp"
import { type Statement, statementPdf } from "@/core/affiliate/statement"
import { type CertificateSheet, certificatePdf } from "@/core/course/certificate"
import { luminance } from "@/core/look/colour"
import type { Colour } from "@/core/look/kind"
import { sheetFonts } from "./fonts"

// Pictures of several megapixels stand in memory as they are drawn: one at a time in each thread, and none kept.
sharp.concurrency(1)
sharp.cache(false)

/** The darkest and the lightest pixel of a picture as it is seen from afar: 32 pixels wide and high, on white where it is clear. */
async function tonesOf(picture: Buffer): Promise<{ darkest: Colour; lightest: Colour }> {
  const size = 32
  const raw = await sharp(picture)
    .resize(size, size, { fit: "fill" })
    .flatten({ background: "#fff" })
    .toColourspace("srgb")
    .raw()
    .toBuffer()
  const pixels = Array.from(
    { length: size * size },
    (_, i) => `#${raw.toString("hex", i * 3, i * 3 + 3)}`.toUpperCase() as Colour,
  ).toSorted((a, b) => luminance(a) - luminance(b))
  return { darkest: pixels[0]!, lightest: pixels.at(-1)! }
}

export const drawings = {
  certificate: async (sheet: CertificateSheet) => certificatePdf(sheet, await sheetFonts("Serif")),
  statement: async (sheet: Statement) => statementPdf(sheet, await sheetFonts("Sans")),
  /** Draws the picture at a path anew in its place; gives its size, or null where it can't be read. */
  async picture({ path, most }: { readonly path: string; readonly most: number }) {
    try {
      const { data, info } = await sharp(path, { limitInputPixels: most })
        .rotate()
        .resize({ width: 1600, withoutEnlargement: true })
        .webp({ quality: 82 })
        .toBuffer({ resolveWithObject: true })
      await writeFile(path, data)
      return { size: data.length, width: info.width, height: info.height, ...(await tonesOf(data)) }
    } catch {
      return null
    }
  },
  /** Writes a picture as JPEG beside it. */
  async jpeg({ from, part, to }: { readonly from: string; readonly part: string; readonly to: string }) {
    await sharp(from)
      .flatten({ background: "#ffffff" })
      .resize({ width: 1120, withoutEnlargement: true })
      .jpeg({ quality: 82 })
      .toFile(part)
    await rename(part, to)
  },
} as const

export type Drawings = typeof drawings
export type DrawingKind = keyof Drawings

export default function draw<K extends DrawingKind>(work: { kind: K; input: Parameters<Drawings[K]>[0] }) {
  return drawings[work.kind](work.input as never)
}
