// What is looked for in an e-mail before it goes: what its readers would miss, and what mail programs do to it.
import { linksOf, picturesOf } from "./body"
import { isChipWord, plainChips, richChips } from "./chip"

export type LetterToCheck = {
  readonly subject: string
  readonly preview: string
  /** Sanitised HTML with chips. */
  readonly body: string
  /** The plain text where it is written by hand; empty: it is made. */
  readonly plain: string
  readonly button: string
  /** Where the button leads: nowhere, to what isn't live, or to what is. */
  readonly leads: "nowhere" | "not-live" | "live"
  /** Links in it to what is no longer there. */
  readonly dead?: number
  /** What its blocks still leave to be said, in words. */
  readonly gaps?: readonly string[]
  /** Of the mail as it goes, in bytes of UTF-8. */
  readonly bytes: number
  readonly sender: boolean
  readonly postalAddress: boolean
}

export type LetterRule =
  | "no-subject"
  | "long-subject"
  | "no-preview"
  | "no-text"
  | "no-sender"
  | "no-address"
  | "many-links"
  | "leads-nowhere"
  | "leads-not-live"
  | "dead-links"
  | "gap"
  | "no-words"
  | "too-big"
  | "all-capitals"
  | "picture-only"
  | "no-alt"

/** `stops`: it can't be sent so. */
export type LetterFinding = {
  readonly rule: LetterRule
  readonly stops: boolean
  readonly data: number | string | null
}

/** What a phone shows of a subject in upright position before it cuts it (common practice: 35 to 45 characters). */
export const phoneSubject = 41
/** And of the line below it. */
export const phonePreview = 60
/** From here on some mail programs cut a mail and hide the rest, with the link to unsubscribe (common practice: 102 KB). */
const mostBytes = 100 * 1024
/** A picture with less text than this beside it says nothing where pictures aren't shown (common practice). */
const littleText = 60
/** More links than these read as a list of advertisements (common practice). */
const mostLinks = 10

export const textOf = (html: string) =>
  html
    .replace(/<[^>]*>/g, " ")
    .replace(/&nbsp;/g, " ")
    .replace(/\s+/g, " ")
    .trim()

export function checkLetter(m: LetterToCheck): LetterFinding[] {
  const list: LetterFinding[] = []
  const found = (rule: LetterRule, stops: boolean, data: LetterFinding["data"] = null) =>
    list.push({ rule, stops, data })
  const subject = m.subject.trim()
  const text = textOf(m.body)
  if (!subject) found("no-subject", true)
  // A chip stands for a name of about seven letters.
  const length = [...subject.replace(/‹[^›]*›/g, "1234567")].length
  if (length > phoneSubject) found("long-subject", false, length)
  if (/\p{Lu}{3}/u.test(subject) && subject === subject.toUpperCase() && /\p{Lu}/u.test(subject))
    found("all-capitals", false)
  const pictures = picturesOf(m.body)
  if (!text) found("no-text", true)
  else if (pictures.length && [...text].length < littleText) found("picture-only", false)
  for (const [i, p] of pictures.entries()) if (!p.alt) found("no-alt", false, i + 1)
  if (text && !m.preview.trim()) found("no-preview", false)
  if (!m.sender) found("no-sender", true)
  if (!m.postalAddress) found("no-address", false)
  const links = linksOf(m.body).length + (m.button && m.leads !== "nowhere" ? 1 : 0)
  if (links > mostLinks) found("many-links", false, links)
  if (m.button && m.leads === "nowhere") found("leads-nowhere", true, m.button)
  if (m.button && m.leads === "not-live") found("leads-not-live", true, m.button)
  if (m.dead) found("dead-links", true, m.dead)
  for (const gap of m.gaps ?? []) found("gap", false, gap)
  for (const word of wordsWithoutElse(m)) found("no-words", false, word)
  if (m.bytes > mostBytes) found("too-big", false, m.bytes)
  return list
}

/** The personal words that have nothing to stand for them where they aren't known. The school's name is always known. */
function wordsWithoutElse(m: Pick<LetterToCheck, "subject" | "preview" | "body" | "plain">): string[] {
  const rich = [...m.body.matchAll(richChips)].flatMap(([, attributes, word, label]) =>
    isChipWord(word) && word !== "school" && !/^(moment|ends)-/.test(word) && !/\bdata-else="[^"]+"/.test(attributes!)
      ? [label!]
      : [],
  )
  const plain = [m.subject, m.preview, m.plain].flatMap((line) =>
    [...line.matchAll(plainChips)].flatMap(([, label, otherwise]) =>
      otherwise?.trim() || label!.trim() === "school" ? [] : [label!.trim()],
    ),
  )
  return [...new Set([...rich, ...plain])]
}
