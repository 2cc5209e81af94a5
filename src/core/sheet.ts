// Lines of text on the pages of a PDF, in a plain and a bold face, with another for letters those two don't have, and whatever
// ways its scripts run.
import fontkit from "@pdf-lib/fontkit"
import { PDFDocument, type PDFFont, type PDFPage, rgb } from "pdf-lib"
import { bidiRunsOf } from "./runs"

/** TrueType files; `other` is for letters that the two don't have. */
export type SheetFonts = { readonly plain: Uint8Array; readonly bold: Uint8Array; readonly other: Uint8Array }

export type LineLook = {
  /** Points. */
  readonly size: number
  /** A colour as #RRGGBB. */
  readonly ink: string
  readonly bold?: boolean
  /** The line becomes smaller where it would be wider, points. */
  readonly within?: number
  readonly align?: "left" | "right" | "centre"
}

export type Sheets = {
  readonly doc: PDFDocument
  /** Draws a line whose beginning, end or middle stands at x. Points from the lower left corner. */
  line(page: PDFPage, text: string, x: number, y: number, look: LineLook): void
  width(text: string, look: Pick<LineLook, "size" | "bold">): number
}

export async function openSheets(fonts: SheetFonts): Promise<Sheets> {
  const doc = await PDFDocument.create()
  doc.registerFontkit(fontkit)
  const embed = (file: Uint8Array) => doc.embedFont(file, { subset: true })
  const plain = await embed(fonts.plain)
  const bold = await embed(fonts.bold)
  const sets = new Map([plain, bold].map((f) => [f, new Set(f.getCharacterSet())]))
  const other = await embed(fonts.other)
  const runs = (text: string, isBold: boolean | undefined) => {
    const font = isBold ? bold : plain
    return bidiRunsOf(text, (letter): PDFFont => (sets.get(font)?.has(letter.codePointAt(0) ?? 0) ? font : other))
  }
  // Much is said on every line: its width is measured once, at a size of 1.
  const measured = new Map<PDFFont, Map<string, number>>([plain, bold, other].map((f) => [f, new Map()]))
  const runWidth = (r: ReturnType<typeof runs>[number]) => {
    const known = measured.get(r.kind)!
    const width = known.get(r.text) ?? r.kind.widthOfTextAtSize(r.text, 1)
    known.set(r.text, width)
    return width
  }
  const widthOf = (pieces: ReturnType<typeof runs>, size: number) =>
    pieces.reduce((sum, r) => sum + runWidth(r) * size, 0)
  return {
    doc,
    width: (text, look) => widthOf(runs(text, look.bold), look.size),
    line(page, text, x, y, look) {
      const pieces = runs(text, look.bold)
      const wide = widthOf(pieces, look.size)
      const size = look.within && wide > look.within ? (look.size * look.within) / wide : look.size
      const real = (wide * size) / look.size
      let at = x - (look.align === "right" ? real : look.align === "centre" ? real / 2 : 0)
      for (const r of pieces) {
        page.drawText(r.text, { x: at, y, font: r.kind, size, color: colour(look.ink) })
        at += runWidth(r) * size
      }
    },
  }
}

/** A colour as #RRGGBB, for pdf-lib. */
export function colour(hex: string) {
  const part = (at: number) => Number.parseInt(hex.slice(at, at + 2), 16) / 255
  return rgb(part(1), part(3), part(5))
}
