// A field of a person: something the school wants to know besides, such as a favourite vegetable. What is typed is read into one
// way of keeping it, whatever form or file it came from.

export const fieldKinds = ["text", "number", "date", "choice", "yes-no"] as const
export type FieldKind = (typeof fieldKinds)[number]

export type Field = {
  readonly id: number
  readonly label: string
  readonly kind: FieldKind
  /** What can be chosen; yes and no where it is one of yes or no. */
  readonly choices: readonly { readonly id: number; readonly says: string }[]
}

/** A field as a form asks for it. */
export type AskedField = Field & { readonly required: boolean }

export const longestValue = 500

/** Whether one is chosen from words that are given. */
export const isChosen = (f: Pick<Field, "kind">) => f.kind === "choice" || f.kind === "yes-no"

/**
 * What was typed as it is kept: text as typed, a number in digits, a date as 2026-11-26, the number of a choice. Empty: nothing was
 * typed. Null: it doesn't fit. Numbers may have a comma or a point before their decimals, and no other marks.
 */
export function readValue(f: Field, typed: string): string | null {
  // Nor does it turn the direction of what follows it.
  const text = typed.replace(/[\p{Cc}\s\u202A-\u202E\u2066-\u2069]+/gu, " ").trim()
  if (!text) return ""
  if (text.length > longestValue) return null
  return readers[f.kind](text, f)
}

const readers: Readonly<Record<FieldKind, (text: string, f: Field) => string | null>> = {
  text: (text) => text,
  number: (text) => {
    const found = /^([+-]?)(\d{1,12})(?:[.,](\d{1,6}))?$/.exec(text)
    return found ? String(Number(`${found[1]}${found[2]}.${found[3] ?? "0"}`)) : null
  },
  date: (text) => {
    // ISO 8601, or day, month and year with points between; 3/4/2026 is two different days in two countries.
    const iso = /^(\d{4})-(\d{2})-(\d{2})(?:T.*)?$/.exec(text)
    const points = /^(\d{1,2})\. ?(\d{1,2})\. ?(\d{4})$/.exec(text)
    const [y, m, d] = (iso ? iso.slice(1) : points ? points.slice(1).reverse() : []).map(Number)
    if (!y || !m || !d) return null
    const at = new Date(Date.UTC(y, m - 1, d))
    return at.getUTCMonth() === m - 1 && at.getUTCDate() === d && y >= 1000 ? at.toISOString().slice(0, 10) : null
  },
  choice: chosen,
  "yes-no": (text, f) => {
    const yes = /^(y|yes|true|1|x|on)$/i.test(text)
    const no = /^(n|no|false|0|off)$/i.test(text)
    return yes || no ? String(f.choices[yes ? 0 : 1]?.id) : chosen(text, f)
  },
}

/** By its number, as our forms send it, or by its words, as files have them. */
function chosen(text: string, f: Field): string | null {
  const found =
    f.choices.find((c) => foldValue(c.says) === foldValue(text)) ?? f.choices.find((c) => String(c.id) === text)
  return found ? String(found.id) : null
}

/** What is kept, in the words of the school; null: a choice that is no longer there. */
export function showValue(f: Field, kept: string): string | null {
  if (!isChosen(f)) return kept
  return f.choices.find((c) => String(c.id) === kept)?.says ?? null
}

/** In small letters, to be compared. */
export const foldValue = (text: string) => text.normalize("NFKC").toLowerCase()

/** What is kept as a number, where it is one; a comma is taken for a point. */
export function numberIn(kept: string): number | null {
  const n = Number(kept.trim().replace(",", "."))
  return kept.trim() !== "" && Number.isFinite(n) ? n : null
}
