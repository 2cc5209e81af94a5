// A file of people: how it is written, what its columns are, and what each line says. Nothing of it is trusted.
import Papa from "papaparse"
import * as v from "valibot"
import { knownZone } from "../calendar/zone"
import { type Address, parseAddress } from "./address"
import { type Field, foldValue, readValue } from "./field"
import { nameInMail } from "./name"

export type Encoding = "utf-8" | "utf-16le" | "utf-16be" | "windows-1252"

/** How a file is written, told from its beginning: by its byte order mark, by zeros between letters, or by being UTF-8 or not. */
export function encodingOf(bytes: Uint8Array): Encoding {
  const [a, b, c] = bytes
  if (a === 0xef && b === 0xbb && c === 0xbf) return "utf-8"
  if (a === 0xff && b === 0xfe) return "utf-16le"
  if (a === 0xfe && b === 0xff) return "utf-16be"
  const part = bytes.subarray(0, 4096)
  const zeros = (odd: number) => part.reduce((n, x, i) => n + (x === 0 && i % 2 === odd ? 1 : 0), 0)
  if (zeros(1) > part.length / 5) return "utf-16le"
  if (zeros(0) > part.length / 5) return "utf-16be"
  try {
    // What is read on may end in the middle of a letter.
    new TextDecoder("utf-8", { fatal: true }).decode(bytes, { stream: true })
    return "utf-8"
  } catch {}
  return "windows-1252"
}

export const roles = ["email", "name", "first-name", "last-name", "tags", "zone", "skip"] as const
/** What a column is: one of these, or one of the school's fields, by its number. */
export type Role = (typeof roles)[number] | `field:${number}`

const fieldRole = /^field:[1-9]\d{0,8}$/

export type Reading = {
  readonly encoding: Encoding
  readonly delimiter: string
  /** Whether the first line names the columns. */
  readonly head: boolean
}

/** The most columns that a file of people may have. */
export const mostColumns = 200

/** How many columns the first lines of a file have, at most. */
export const columnsOf = (text: string): number =>
  Papa.parse<string[]>(text.slice(0, 100_000), { preview: 20 }).data.reduce((n, line) => Math.max(n, line.length), 0)

/** How the text of a file is to be read, told from its first lines. */
export function readingOf(text: string, encoding: Encoding): Reading {
  const { data, meta } = Papa.parse<string[]>(text.slice(0, 100_000), { preview: 20, skipEmptyLines: "greedy" })
  const first = data[0] ?? []
  const head = data.length > 0 && !first.some((c) => parseAddress(c) !== null)
  return { encoding, delimiter: meta.delimiter || ",", head }
}

const named: readonly (readonly [Role, RegExp])[] = [
  ["email", /e-?mail|^mail$|mail ?adress|courriel|correo/i],
  ["first-name", /^(first|given|fore)|vorname|prénom|nombre$/i],
  ["last-name", /^(last|family|sur)|nachname|familienname|apellido/i],
  ["tags", /tags?$|labels?$|groups?$|schlagw/i],
  ["zone", /time ?zone|^zone$|zeitzone/i],
  ["name", /name/i],
]

/** What each column is, as far as can be told from what it is called and what stands in it; the marketer corrects it. */
export function guessRoles(
  head: readonly string[] | null,
  lines: readonly (readonly string[])[],
  fields: readonly Field[] = [],
): Role[] {
  const width = Math.max(head?.length ?? 0, ...lines.map((l) => l.length), 0)
  const guessed: Role[] = []
  for (let i = 0; i < width; i++) {
    const cells = lines.map((l) => l[i]?.trim() ?? "").filter(Boolean)
    const title = head?.[i]?.trim() ?? ""
    const field = fields.find((f) => foldValue(f.label) === foldValue(title))
    const byName = field ? (`field:${field.id}` as const) : named.find(([, pattern]) => pattern.test(title))?.[0]
    const addresses = cells.filter((c) => parseAddress(c) !== null).length
    const role: Role = secretIn(title, cells)
      ? "skip"
      : addresses > cells.length / 2 && cells.length
        ? "email"
        : byName === "email" && !addresses && cells.length
          ? "skip"
          : (byName ?? "skip")
    // A role is had once; a second address is another's business.
    guessed.push(role !== "skip" && guessed.includes(role) ? "skip" : role)
  }
  return guessed
}

/** Why a column must not be taken in: it holds what was somebody's secret. */
export type Secret = "password" | "card" | "bank" | "hash"

export function secretIn(title: string, cells: readonly string[]): Secret | null {
  if (/pass(word|wort|code)?$|kennwort|\bpin\b|\bcvc\b|secret|token/i.test(title)) return "password"
  const most = (is: (c: string) => boolean) => cells.length > 0 && cells.filter(is).length > cells.length / 2
  if (most((c) => /^[\d -]{13,23}$/.test(c) && isCardNumber(c.replace(/\D/g, "")))) return "card"
  if (/iban/i.test(title) || most((c) => /^[A-Z]{2}\d{2}[A-Z0-9 ]{11,34}$/.test(c))) return "bank"
  return most((c) => /^\$(2[aby]|argon2id?|[156])\$/.test(c) || /^[0-9a-f]{32,128}$/i.test(c)) ? "hash" : null
}

/** ISO/IEC 7812-1, annex B: the check digit of Luhn. */
function isCardNumber(digits: string): boolean {
  if (digits.length < 13 || digits.length > 19) return false
  const sum = [...digits].reverse().reduce((n, d, i) => {
    const x = Number(d) * (i % 2 ? 2 : 1)
    return n + (x > 9 ? x - 9 : x)
  }, 0)
  return sum % 10 === 0
}

export type ImportLine = {
  readonly address: Address
  readonly name: string
  readonly zone: string | null
  readonly tags: readonly string[]
  /** What is known of them by the school's fields, as it is kept. */
  readonly fields: readonly { readonly field: number; readonly value: string }[]
}

export type LineRefusal = "no-address" | "not-an-address" | "twice" | "erased" | "too-long" | "bad-answer"

/** A line by what its columns are. */
export function readLine(
  cells: readonly string[],
  as: readonly Role[],
  fields: readonly Field[] = [],
): ImportLine | LineRefusal {
  const of = (role: Role) => cells[as.indexOf(role)]?.trim() ?? ""
  if (cells.some((c) => c.length > 10_000)) return "too-long"
  const typed = of("email")
  if (!typed) return "no-address"
  const address = parseAddress(typed)
  if (!address) return "not-an-address"
  const known: { field: number; value: string }[] = []
  for (const field of fields) {
    const i = as.indexOf(`field:${field.id}`)
    const value = i < 0 ? "" : readValue(field, cells[i] ?? "")
    if (value === null) return "bad-answer"
    if (value) known.push({ field: field.id, value })
  }
  const whole = of("name") || [of("first-name"), of("last-name")].filter(Boolean).join(" ")
  const zone = of("zone") ? knownZone(of("zone"), "") : ""
  return {
    address,
    name: nameInMail(whole.replace(/[\p{Cc}\s]+/gu, " ").trim()).slice(0, 120),
    fields: known,
    zone: zone || null,
    tags: [
      ...new Set(
        of("tags")
          .split(/[;,|]/)
          .map((t) => t.replace(/[\p{Cc}\s]+/gu, " ").trim())
          .filter((t) => t !== "" && t.length <= 60),
      ),
    ].slice(0, 20),
  }
}

export const planSchema = v.object({
  roles: v.pipe(
    v.array(
      v.union([v.picklist(roles), v.custom<`field:${number}`>((x) => typeof x === "string" && fieldRole.test(x))]),
    ),
    v.maxLength(500),
    v.check((all) => all.includes("email"), "Say which column holds the e-mail addresses."),
  ),
  /** Put on everybody of the file, too. */
  tags: v.pipe(v.array(v.pipe(v.string(), v.trim(), v.nonEmpty(), v.maxLength(60))), v.maxLength(10)),
  /** The words that they agreed to, as the importer states them; empty: they did not agree to be written to. */
  consent: v.pipe(v.string(), v.trim(), v.maxLength(1000)),
})
export type ImportPlan = v.InferOutput<typeof planSchema>
