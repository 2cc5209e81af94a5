// How easily a text is read: Flesch's reading ease (A new readability yardstick, 1948), for German by Amstad (Wie verständlich sind unsere
// Zeitungen?, 1978).
import { syllable } from "syllable"

/** 0 and less: very hard; 60 to 70: plain; 100: very easy. */
export type Reading = {
  readonly ease: number
  readonly by: "Flesch" | "Amstad"
  readonly words: number
  readonly sentences: number
}

/** Of a text without marks; null where it has no words. German is told by its commonest words. */
export function readingOf(text: string): Reading | null {
  const sentences = text.split(/[.!?…]+(?=\s|$)|\n+/).filter((s) => /\p{L}/u.test(s))
  const words = sentences.flatMap((s) => s.match(/[\p{L}\p{M}'’-]*\p{L}[\p{L}\p{M}'’-]*/gu) ?? [])
  if (!words.length) return null
  const long = words.length / sentences.length
  const german = isGerman(words)
  const each = words.reduce((n, w) => n + (german ? germanSyllables(w) : Math.max(1, syllable(w))), 0) / words.length
  return {
    ease: german ? 180 - long - 58.5 * each : 206.835 - 1.015 * long - 84.6 * each,
    by: german ? "Amstad" : "Flesch",
    words: words.length,
    sentences: sentences.length,
  }
}

const common = new Set(
  "der die das und ist nicht ein eine den dem des mit für auf sie wir du ich es zu im von sich auch wie oder".split(
    " ",
  ),
)
const isGerman = (words: readonly string[]) =>
  words.filter((w) => common.has(w.toLowerCase())).length / words.length > 0.12

/** Vowels that stand together are one, as they are spoken but for a few (common practice). */
const germanSyllables = (word: string) =>
  Math.max(1, (word.toLowerCase().match(/aa|ee|oo|ai|au|äu|ei|eu|ie|oi|ui|[aeiouyäöüéèàô]/g) ?? []).length)
