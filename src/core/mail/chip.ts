// Personal words. In rich text a chip is a marked span; in a subject it stands in single guillemets. Both read as what
// will stand there, with the words for those of whom it is not known.

import { escapeHtml } from "../page/html"
import { words } from "../words/en"

export const chipNames = Object.keys(words.chip) as ChipName[]
export type ChipName = keyof typeof words.chip
export type ChipValues = Readonly<Record<ChipName, string>>

/** A chip for plain text: ‹first name, else friend›. */
export function plainChip(name: ChipName, otherwise: string): string {
  return `‹${words.chip[name]}, else ${otherwise}›`
}

/** A chip for rich text. */
export function richChip(name: ChipName, otherwise: string): string {
  return `<span data-word="${name}" data-else="${escapeHtml(otherwise)}">${escapeHtml(words.chip[name])}</span>`
}

/** Plain text with its chips replaced; what is no chip stays as typed. Line breaks in a value become spaces. */
export function fillPlain(text: string, values: ChipValues): string {
  return text.replace(
    /‹([^›,]{1,40})(?:,\s+else\s+([^›]{0,80}))?›/g,
    (whole, label: string, otherwise: string | undefined) => {
      const name = chipNames.find((n) => words.chip[n] === label.trim().replace(/\s+/g, " "))
      if (!name) return whole
      return (values[name] || otherwise || "").replace(/\s+/g, " ")
    },
  )
}

/** Rich text with its chips replaced by escaped values. */
export function fillRich(html: string, values: ChipValues): string {
  return html.replace(/<span\b([^>]*\bdata-word="[^"]*"[^>]*)>[^<]*<\/span>/g, (whole, attributes: string) => {
    const name = /\bdata-word="([^"]*)"/.exec(attributes)?.[1] as ChipName | undefined
    if (!name || !chipNames.includes(name)) return whole
    const otherwise = /\bdata-else="([^"]*)"/.exec(attributes)?.[1] ?? ""
    return values[name] ? escapeHtml(values[name]) : otherwise
  })
}
