import { refusals } from "../words/refusals"

// What a card statement shows of a charge. Rules of the card trade: common practice, from memory.

/** 5 to 22 characters, Latin letters, digits and a few marks, at least one letter. */
export const statementLengths = { least: 5, most: 22 } as const

/** What is wrong with a statement text, in words, or null. */
export function statementProblem(text: string): string | null {
  if (text.length > statementLengths.most) return refusals.offer.statementMost(statementLengths.most)
  const odd = /[^A-Za-z0-9 .,&/+-]/.exec(text)?.[0]
  if (odd) return refusals.offer.statementOdd(odd)
  if (text.trim().length < statementLengths.least) return refusals.offer.statementLeast(statementLengths.least)
  if (!/[A-Za-z]/.test(text)) return refusals.offer.statementLetter
  return null
}

/** A text that stands, from a school's name. */
export function statementFrom(name: string): string {
  return name
    .normalize("NFKD")
    .replace(/[^A-Za-z0-9 .,&/+-]/g, "")
    .replace(/\s+/g, " ")
    .trim()
    .slice(0, statementLengths.most)
    .trim()
    .toUpperCase()
}
