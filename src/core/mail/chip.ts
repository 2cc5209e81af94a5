// Personal words. In rich text a chip is a marked span; in a subject it stands in single guillemets. Both read as what
// will stand there, with the words for those of whom it is not known.

import { escapeHtml } from "../html"
import { words } from "../words/en"

const chipNames = Object.keys(words.chip) as ChipName[]
export type ChipName = keyof typeof words.chip

/**
 * What a chip stands for: a name of ours; `field-3`, what is known of the reader by a field; `offer-7`, `price-7`, `until-7`, `ends-7`, an
 * offer's name, what it costs, its last day where the reader is, and the same as a sentence, nothing where it has none; `deal-5`, `replay-5`, until when the price of their seat at a webinar
 * and its replay are there; `moment-2026-12-24T19:00`, that time at the school, where the
 * reader is.
 */
export type ChipWord =
  | ChipName
  | `field-${number}`
  | `${"offer" | "price" | "until" | "ends" | "deal" | "replay"}-${number}`
  | `moment-${string}`

const numbered = /^(field|offer|price|until|ends|deal|replay)-([1-9]\d{0,8})$/
const moment = /^moment-(\d{4}-\d\d-\d\dT\d\d:\d\d)$/

export function isChipWord(word: string | undefined): word is ChipWord {
  return word !== undefined && (chipNames.includes(word as ChipName) || numbered.test(word) || moment.test(word))
}

/** What a chip is about, by its number; null where it has none. */
export function chipAbout(word: string): { readonly kind: "field" | "offer" | "webinar"; readonly id: number } | null {
  const found = numbered.exec(word)
  const of = { field: "field", deal: "webinar", replay: "webinar" } as const
  return found && { kind: of[found[1] as keyof typeof of] ?? "offer", id: Number(found[2]) }
}

/** The wall-clock time of the school that a chip stands for; null where it stands for none. */
export const momentOf = (word: string): string | null => moment.exec(word)?.[1] ?? null

/** What chips say, by their word and, for those in plain text, by what it is called. */
export type ChipValues = Readonly<Record<string, string>>

/** What a chip is called in plain text that only the machine reads: a name of ours, or its word. */
export const chipLabel = (word: ChipWord): string => words.chip[word as ChipName] ?? word

/** A chip for plain text: ‹first name, else friend›. */
export const plainChip = (word: ChipWord, otherwise: string) => labelChip(chipLabel(word), otherwise)

/** The same by what it is called. */
export const labelChip = (label: string, otherwise: string) => `‹${label}, else ${otherwise}›`

/** A chip for rich text. */
export function richChip(word: ChipWord, otherwise: string, label: string = chipLabel(word)): string {
  return `<span data-word="${word}" data-else="${escapeHtml(otherwise)}">${escapeHtml(label)}</span>`
}

/** Chips in plain text: what each is called, and what stands there where it isn't known. */
export const plainChips = /‹([^›,]{1,80})(?:,\s+else\s*([^›]{0,200}))?›/g
/** Chips in rich text: attributes, word, label. */
export const richChips = /<span\b([^>]*\bdata-word="([^"]*)"[^>]*)>([^<]*)<\/span>/g

/** Plain text with its chips replaced; what is no chip stays as typed. Line breaks in a value become spaces. */
export function fillPlain(text: string, values: ChipValues): string {
  return text.replace(plainChips, (whole, typed: string, otherwise: string | undefined) => {
    const label = typed.trim().replace(/\s+/g, " ")
    const name = chipNames.find((n) => words.chip[n] === label) ?? label
    // Of something that is no longer there, what was to stand otherwise.
    if (!Object.hasOwn(values, name) && otherwise === undefined) return whole
    return ((Object.hasOwn(values, name) && values[name]) || otherwise || "").replace(/\s+/g, " ")
  })
}

/** Rich text with its chips replaced by escaped values. */
export function fillRich(html: string, values: ChipValues): string {
  return html.replace(richChips, (whole, attributes: string, word: string) => {
    if (!isChipWord(word)) return whole
    const otherwise = /\bdata-else="([^"]*)"/.exec(attributes)?.[1] ?? ""
    return values[word] ? escapeHtml(values[word]) : otherwise
  })
}

/** The words of the chips in some rich texts, each once. */
export function chipsIn(...rich: readonly string[]): ChipWord[] {
  return [...new Set(rich.flatMap((html) => [...html.matchAll(richChips)].map((m) => m[2]!)))].filter(isChipWord)
}
