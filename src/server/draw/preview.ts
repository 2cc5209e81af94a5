// The picture that a link is shown by where its page has none: its title in the school's own typeface and colours, as letters' outlines,
// so that no typeface has to be installed.
import { readFile } from "node:fs/promises"
import { join } from "node:path"
import fontkit from "@pdf-lib/fontkit"
import sharp from "sharp"
import type { Colour } from "@/core/look/kind"
import type { TypefaceName } from "@/core/look/typeface"
import { bidiRunsOf } from "@/core/runs"
import { faceOf } from "./face"

export type Preview = {
  readonly title: string
  readonly school: string
  readonly typeface: TypefaceName
  readonly ground: Colour
  readonly ink: Colour
  readonly accent: Colour
}

/** What previews of links are shown at, pixels. */
export const previewSize = { width: 1200, height: 630 }

type Outlines = {
  readonly unitsPerEm: number
  hasGlyphForCodePoint(point: number): boolean
  layout(text: string): {
    readonly glyphs: readonly { readonly path: { toSVG(): string } }[]
    readonly positions: readonly { readonly xAdvance: number; readonly xOffset: number; readonly yOffset: number }[]
    readonly advanceWidth: number
  }
}

const dejaVu = readFile(join(process.cwd(), "node_modules/dejavu-fonts-ttf/ttf/DejaVuSans-Bold.ttf"))

/** Fonts in the order in which they are asked for a letter: the school's, its further Latin letters, and one for other scripts. */
async function fontsOf(typeface: TypefaceName, text: string): Promise<Outlines[]> {
  const own = [await faceOf(typeface, "latin", text, 600), await faceOf(typeface, "latin-ext", text, 600)]
  return [...own, await dejaVu].flatMap((font) => (font ? [fontkit.create(font) as unknown as Outlines] : []))
}

type Line = { readonly svg: string; readonly width: number }

/** One line at a size of 1, its baseline at 0. */
function lineOf(text: string, fonts: readonly Outlines[]): Line {
  let x = 0
  let svg = ""
  for (const run of bidiRunsOf(text, (letter) => fontFor(letter, fonts))) {
    const { glyphs, positions } = run.kind.layout(run.text)
    const scale = 1 / run.kind.unitsPerEm
    for (const [i, glyph] of glyphs.entries()) {
      const p = positions[i]!
      svg += `<path transform="translate(${x + p.xOffset * scale} ${-p.yOffset * scale}) scale(${scale} ${-scale})" d="${glyph.path.toSVG()}"/>`
      x += p.xAdvance * scale
    }
  }
  return { svg, width: x }
}

const fontFor = (letter: string, fonts: readonly Outlines[]) =>
  fonts.find((f) => f.hasGlyphForCodePoint(letter.codePointAt(0)!)) ?? fonts.at(-1)!

/** Words in lines no wider than `within`, at a size of 1; a word that is wider alone stands alone. */
function wrapped(text: string, within: number, fonts: readonly Outlines[]): Line[] {
  const lines: string[] = []
  for (const word of text.split(/\s+/).filter(Boolean)) {
    const longer = lines.length ? `${lines.at(-1)} ${word}` : word
    if (lines.length && lineOf(longer, fonts).width <= within) lines[lines.length - 1] = longer
    else lines.push(word)
  }
  return lines.map((line) => lineOf(line, fonts))
}

/** A letter that no font has would be a box: a title of such letters is left out. */
const isWritable = (text: string, fonts: readonly Outlines[]) =>
  [...text].every((c) => /\s/.test(c) || fonts.some((f) => f.hasGlyphForCodePoint(c.codePointAt(0)!)))

/** Whether the first letter of a text runs from right to left. */
const rightToLeft = /^\P{L}*[\p{Script=Arabic}\p{Script=Hebrew}]/u

const margin = 80
/** Sizes that the title is tried at, the largest first, pixels; with how many lines it may have. */
const sizes = [104, 88, 72, 60, 48]

/** A JPEG of 1,200 × 630 pixels. */
export async function previewJpeg(p: Preview): Promise<Uint8Array> {
  const { width, height } = previewSize
  const fonts = await fontsOf(p.typeface, p.title + p.school)
  const within = width - 2 * margin
  const title = isWritable(p.title, fonts) ? p.title : ""
  const fits = (size: number) => {
    const lines = wrapped(title, within / size, fonts)
    return lines.length * size * 1.12 <= height - 2 * margin - 90 && lines.every((l) => l.width * size <= within)
      ? lines
      : null
  }
  const size = sizes.find(fits) ?? sizes.at(-1)!
  // Even at the smallest it is too long: what there is no place for is left out.
  const lines = fits(size) ?? wrapped(title, within / size, fonts).slice(0, 7)
  const school = isWritable(p.school, fonts) ? lineOf(p.school, fonts) : null
  const drawn = [
    `<rect width="${width}" height="${height}" fill="${p.ground}"/><rect width="${width}" height="14" fill="${p.accent}"/>`,
    `<g fill="${p.ink}">`,
    ...lines.map(
      (l, i) =>
        `<g transform="translate(${rightToLeft.test(title) ? width - margin - Math.min(l.width * size, within) : margin} ${margin + size * (0.95 + i * 1.12)}) scale(${Math.min(size, within / l.width)})">${l.svg}</g>`,
    ),
    "</g>",
    school
      ? `<g fill="${p.accent}" transform="translate(${margin} ${height - margin + 12}) scale(${Math.min(36, within / school.width)})">${school.svg}</g>`
      : "",
  ]
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}">${drawn.join("")}</svg>`
  return sharp(Buffer.from(svg)).jpeg({ quality: 86 }).toBuffer()
}
