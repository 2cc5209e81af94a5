// A line of text in the order in which it is drawn, whatever ways its scripts run.
import bidiFactory from "bidi-js"

const bidi = bidiFactory()

/** Whether a text has letters that run from right to left. */
const hasLetters = (text: string) => [...text].some((c) => ["R", "AL"].includes(bidi.getBidiCharTypeName(c)))

/**
 * Cuts a line into pieces of one direction and one `kind`, from left to right as they stand on the sheet; within a piece
 * letters are in the order of reading. Levels are those of UAX 9, pieces are put in order by its rule L2.
 */
export function bidiRunsOf<K>(
  text: string,
  kindOf: (letter: string) => K,
): { readonly text: string; readonly kind: K }[] {
  const { levels } = bidi.getEmbeddingLevels(text)
  const runs: { text: string; kind: K; level: number }[] = []
  let at = 0
  for (const letter of text) {
    const level = levels[at] ?? 0
    const last = runs.at(-1)
    // A space goes with what stands before it: no font changes for it alone.
    const kind = letter === " " && last ? last.kind : kindOf(letter)
    if (last && last.level === level && last.kind === kind) last.text += letter
    else runs.push({ text: letter, kind, level })
    at += letter.length
  }
  // Whoever draws a piece turns it round by its letters; one of commas and spaces alone has none.
  for (const r of runs) if (r.level % 2 && !hasLetters(r.text)) r.text = [...r.text].reverse().join("")
  const highest = Math.max(0, ...runs.map((r) => r.level))
  for (let level = highest; level > 0; level--)
    for (let i = 0; i < runs.length; i++) {
      if (runs[i]!.level < level) continue
      let end = i
      while (end < runs.length && runs[end]!.level >= level) end++
      runs.splice(i, end - i, ...runs.slice(i, end).reverse())
      i = end
    }
  return runs.map(({ text: t, kind }) => ({ text: t, kind }))
}
