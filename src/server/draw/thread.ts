// What a thread of the pool does: sheets as PDF, and pictures drawn anew. Nothing here knows the database.
import { rename, writeFile } from "node:fs/promises"
import sharp from "sharp"
import { type Statement, statementPdf } from "@/core/affiliate/statement"
import { type CertificateSheet, certificatePdf, certificateSays } from "@/core/course/certificate"
import { luminance } from "@/core/look/colour"
import type { Colour } from "@/core/look/kind"
import { type Pair, pairs } from "@/core/look/typeface"
import { type Report, reportPdf } from "@/core/numbers/report"
import { widest } from "@/core/page/picture"
import type { SheetFonts } from "@/core/sheet"
import { wholeFace } from "./face"
import { sheetFonts } from "./fonts"
import { previewJpeg } from "./preview"

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

/** The typefaces of the school's look where they have the letters of the sheet; otherwise those of any sheet. */
async function certificateFonts(sheet: CertificateSheet): Promise<SheetFonts> {
  const { bold, plain } = certificateSays(sheet)
  const pair: Pair = pairs[sheet.look.pair]
  const [display, text] = [await wholeFace(pair.display, bold, 600), await wholeFace(pair.text, plain, 400)]
  const fonts = await sheetFonts("Serif")
  return display && text ? { ...fonts, bold: display, plain: text } : fonts
}

/** Which part of a picture, pixels. */
export type Cut = { readonly left: number; readonly top: number; readonly width: number; readonly height: number }

export type Beside = { readonly kind: "jpeg" | "webp" | "avif" | "icon" | "logo"; readonly width?: number }

/** How large a drawing in lines (SVG) is painted: as wide as a picture of the first screen, however small it says it is. */
async function asDrawing(path: string, most: number): Promise<{ density?: number }> {
  const { format, width, height, density = 72 } = await sharp(path, { limitInputPixels: most }).metadata()
  if (format !== "svg") return {}
  return { density: Math.max(1, Math.min(2400, (density * 1200) / Math.max(width, height))) }
}

export const drawings = {
  certificate: async (sheet: CertificateSheet) => certificatePdf(sheet, await certificateFonts(sheet)),
  statement: async (sheet: Statement) => statementPdf(sheet, await sheetFonts("Sans")),
  report: async (sheet: Report) => reportPdf(sheet, await sheetFonts("Sans")),
  preview: previewJpeg,
  /** Draws the picture at a path anew in its place; gives its size, or null where it can't be read. */
  async picture({ path, most, cut }: { readonly path: string; readonly most: number; readonly cut?: Cut }) {
    try {
      const { data, info } = await (cut
        ? sharp(path).extract(cut)
        : sharp(path, { limitInputPixels: most, ...(await asDrawing(path, most)) })
      )
        .rotate()
        .resize({ width: widest, withoutEnlargement: true })
        .webp({ quality: 82 })
        .toBuffer({ resolveWithObject: true })
      await writeFile(path, data)
      return { size: data.length, width: info.width, height: info.height, ...(await tonesOf(data)) }
    } catch {
      return null
    }
  },
  /** Writes a picture beside itself, as somebody else wants it: narrower, of another kind, or as a sign in a tab. */
  async beside({
    from,
    part,
    to,
    as,
  }: {
    readonly from: string
    readonly part: string
    readonly to: string
    readonly as: Beside
  }) {
    const narrow = sharp(from).resize({ width: as.width ?? widest, withoutEnlargement: true })
    const drawn = {
      jpeg: () => narrow.flatten({ background: "#ffffff" }).jpeg({ quality: 82 }),
      webp: () => narrow.webp({ quality: 80 }),
      avif: () => narrow.avif({ quality: 50, effort: 2 }),
      icon: () => sharp(from).resize(96, 96, { fit: "contain", background: "#0000" }).png(),
      logo: () => sharp(from).resize({ height: 108, width: 900, fit: "inside", withoutEnlargement: true }).png(),
    }
    await drawn[as.kind]().toFile(part)
    await rename(part, to)
  },
} as const

export type Drawings = typeof drawings
export type DrawingKind = keyof Drawings

export default function draw<K extends DrawingKind>(work: { kind: K; input: Parameters<Drawings[K]>[0] }) {
  return drawings[work.kind](work.input as never)
}
