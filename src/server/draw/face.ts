// The typefaces of the looks as whole fonts of one weight, with the letters of a text: as sheets and pictures can hold them.
import { readFile } from "node:fs/promises"
import { createRequire } from "node:module"
import fontkit from "@pdf-lib/fontkit"
import subsetFont from "subset-font"
import { fontFile, type TypefaceName, typefaces } from "@/core/look/typeface"

const require = createRequire(import.meta.url)

/**
 * A TrueType font with the letters of a text that a typeface has.
 *
 * @param weight of a variable font; one of a single weight has its own
 * @returns null where it can't be taken apart
 */
export async function faceOf(
  typeface: TypefaceName,
  subset: "latin" | "latin-ext",
  text: string,
  weight: number,
): Promise<Uint8Array | null> {
  const varies = typefaces[typeface].weight.includes(" ")
  const file = await readFile(require.resolve(fontFile(`${typeface}-${subset}.woff2`)!))
  try {
    const axes = varies ? { variationAxes: { wght: weight } } : {}
    const font = await subsetFont(file, text, { targetFormat: "truetype", ...axes })
    // In memory of its own, since the reader takes no notice of where in a larger piece it begins; and with a little behind it, since it
    // reads the size of a last letter that has no outline.
    const whole = new Uint8Array(font.length + 16)
    whole.set(font)
    return whole
  } catch {
    return null
  }
}

/** The same where the typeface has every letter of the text: no word is drawn in two. */
export async function wholeFace(typeface: TypefaceName, text: string, weight: number): Promise<Uint8Array | null> {
  const face = await faceOf(typeface, "latin", text, weight)
  const has = face && new Set(fontkit.create(face).characterSet)
  return has && [...text].every((c) => c === " " || has.has(c.codePointAt(0)!)) ? face : null
}
