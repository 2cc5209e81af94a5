// What a document refers to under other numbers: in another school, or where something isn't there.
import type { Referred } from "../reference"
import { things } from "./linked"

/** The fields of blocks, pages and e-mails that hold the number of something, and of what. */
const refers: Readonly<Record<string, Referred>> = {
  media: "media",
  poster: "media",
  captions: "media",
  picture: "media",
  offer: "offer",
  course: "course",
  recommends: "offer",
  teacher: "teacher",
  segment: "segment",
  section: "kept_section",
  field: "field",
  step: "step",
}

/** The number of something there; null: there is none. */
export type Renumber = (to: Referred, id: number) => number | null

const named = (thing: string): Referred => (thing === "file" ? "media" : (thing as Referred))
const link = new RegExp(`^(${things.join("|")}):([1-9]\\d{0,8})$`)
const links = new RegExp(`<a\\b([^>]*?)\\bhref="(${things.join("|")}):([1-9]\\d{0,8})"([^>]*)>(.*?)</a>`, "gs")
const chips = /<span\b[^>]*\bdata-word="(field|offer|price|until|ends|deal|replay)-([1-9]\d{0,8})"[^>]*>[^<]*<\/span>/g
const pictures = /<img\b([^>]*)\bdata-media="([1-9]\d{0,8})"([^>]*)>/g

/** Lost: something that it can't be without isn't there. */
const lost = Symbol("lost")

/**
 * A page, block or e-mail as it is where its references have other numbers. A block that refers to what isn't there refers to nothing; what
 * stands in a list, a target or a condition because of it goes. In rich text a link to it becomes its words, and a personal word what stands
 * there otherwise.
 */
export function renumbered<T>(document: T, to: Renumber): T {
  const found = walked(document, to)
  return (found === lost ? null : found) as T
}

function walked(value: unknown, to: Renumber): unknown {
  if (Array.isArray(value)) return value.map((v) => walked(v, to)).filter((v) => v !== lost)
  if (typeof value === "string") return textRenumbered(value, to)
  if (typeof value !== "object" || value === null) return value
  const isBlock = "kind" in value || "version" in value
  const made: Record<string, unknown> = {}
  for (const [key, v] of Object.entries(value)) {
    const kind = refers[key]
    if (kind && typeof v === "number") {
      const id = to(kind, v)
      if (id === null && !isBlock) return lost
      made[key] = id
      continue
    }
    if (key === "href" && typeof v === "string") {
      const [, thing, id] = link.exec(v) ?? []
      const there = thing ? to(named(thing), Number(id)) : undefined
      if (there === null) return lost
      made[key] = there === undefined ? v : `${thing}:${there}`
      continue
    }
    const inner = walked(v, to)
    if (inner !== lost) made[key] = inner
    else if (key === "leads") made[key] = null
  }
  return made
}

function textRenumbered(html: string, to: Renumber): string {
  if (!html.includes("<")) return html
  return html
    .replace(links, (_, before: string, thing: string, id: string, after: string, says: string) => {
      const there = to(named(thing), Number(id))
      return there === null ? says : `<a${before}href="${thing}:${there}"${after}>${says}</a>`
    })
    .replace(chips, (chip: string, word: string, id: string) => {
      const about = word === "field" ? "field" : word === "deal" || word === "replay" ? "webinar" : "offer"
      const there = to(about, Number(id))
      if (there === null) return /\bdata-else="([^"]*)"/.exec(chip)?.[1] ?? ""
      return chip.replace(`data-word="${word}-${id}"`, `data-word="${word}-${there}"`)
    })
    .replace(pictures, (_, before: string, id: string, after: string) => {
      const there = to("media", Number(id))
      return there === null ? "" : `<img${before}data-media="${there}"${after}>`
    })
}

/** Everything that a document refers to, each once, in the order in which it is met. */
export function referredBy(document: unknown): { readonly to: Referred; readonly id: number }[] {
  const found = new Map<string, { to: Referred; id: number }>()
  renumbered(document, (to, id) => {
    found.set(`${to}:${id}`, { to, id })
    return id
  })
  return [...found.values()]
}
