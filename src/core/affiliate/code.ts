// What stands in an affiliate's links: their code, and a name for the place where a link was given out.
import { freeSlug, slugOf } from "../funnel/slug"
import { bankText } from "./bank-letters"

/** The parameter of a link that says who recommended. */
export const viaName = "via"

export type Via = { readonly code: string; readonly sub: string }

const shape = /^([a-z0-9-]{2,40})(?:\.([a-z0-9-]{1,40}))?$/

/** What a link says: `ada`, or `ada.letter` for a place of hers; null where it is neither. Capitals don't matter. */
export function parseVia(typed: string | null): Via | null {
  const found = typed === null || typed.length > 100 ? null : shape.exec(typed.toLowerCase())
  return found ? { code: found[1]!, sub: found[2] ?? "" } : null
}

export const viaText = (v: Via) => (v.sub ? `${v.code}.${v.sub}` : v.code)

/** A code of a name that nobody has yet. */
export function codeOf(name: string, taken: ReadonlySet<string>): string {
  // Greek and Cyrillic names are read as a bank would write them.
  const slug = slugOf(bankText(name, 60).text, "friend").slice(0, 30).replace(/-+$/, "")
  return freeSlug(slug.length < 2 ? `${slug}-1` : slug, taken)
}

export const isCode = (typed: string) => /^[a-z0-9](?:[a-z0-9-]{0,38}[a-z0-9])$/.test(typed)

/** The name of a place as it stands in a link: "Garden letter" is "garden-letter". Empty where nothing is left. */
export const subOf = (typed: string) => slugOf(typed, "").slice(0, 40).replace(/-+$/, "")

/** A page's address with who recommended it. `path` has no leading slash, and may carry a query. */
export function affiliateLink(origin: string, path: string, via: Via): string {
  return `${origin}/${path}${path.includes("?") ? "&" : "?"}${viaName}=${viaText(via)}`
}

/** The short address of an affiliate: `/by/ada/letter`. */
export const shortLink = (origin: string, via: Via) => `${origin}/by/${via.code}${via.sub ? `/${via.sub}` : ""}`
