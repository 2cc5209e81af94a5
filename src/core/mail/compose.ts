// An e-mail as its reader will have it: subject, HTML and the same in plain text.
import { convert } from "html-to-text"
import { escapeHtml, unescapeHtml } from "../html"
import type { Look } from "../look/look"
import { linksOf } from "./body"
import {
  type ChipValues,
  type ChipWord,
  chipLabel,
  fillPlain,
  fillRich,
  isChipWord,
  labelChip,
  plainChips,
  richChips,
} from "./chip"
import { dressed } from "./dress"
import { logoImage } from "./sheet"

export type Composed = { readonly subject: string; readonly html: string; readonly text: string }

export type Letter = {
  readonly subject: string
  /** What inboxes show after the subject, with chips; empty: the beginning of the text. */
  readonly preview?: string
  /** Sanitised HTML with chips. */
  readonly body: string
  readonly button: { readonly says: string; readonly url: string } | null
  /** Sanitised HTML below the button. */
  readonly after?: string
  /** The plain text where it is written by hand, with chips, ‹link 1› and ‹button›; empty: it is made of the rest. */
  readonly plain?: string
  /** The address of a small picture; asked for when the mail is opened. */
  readonly seen?: string
  /** Around it: above, the logo or the name of the school; under the line who sends it, from where, and the way out. */
  readonly foot: {
    readonly school: string
    /** With its whole address; null: its name stands there. */
    readonly logo?: { readonly url: string; readonly width: number; readonly height: number } | null
    readonly postalAddress: string
    readonly look: Look
    readonly leave: { readonly says: string; readonly url: string } | null
  }
}

/** Stand for an address, by its number, until the reader is known: private-use characters, which no text has. */
const marked = (n: number) => `\uE000${n}\uE001`
const marks = /\uE000(\d+)\uE001/g
const leaveMark = 9999
const seenMark = 9998

/**
 * Composes a letter. Addresses in the body are handed to `track` with their number, counted from 1 in reading order
 * (0 is the button), and replaced by what it returns.
 */
export function compose(
  letter: Letter,
  values: ChipValues,
  track: (url: string, n: number) => string = (u) => u,
): Composed {
  const { html, text, urls } = template(letter)
  const address = (n: number) =>
    n === leaveMark
      ? (letter.foot.leave?.url ?? "")
      : n === seenMark
        ? (letter.seen ?? "")
        : track(n === 0 ? (letter.button?.url ?? "") : (urls[n - 1] ?? ""), n)
  const known = new Map<number, string>()
  const url = (n: number) => {
    const found = known.get(n) ?? address(n)
    known.set(n, found)
    return found
  }
  return {
    subject: fillPlain(letter.subject, values)
      .replace(/[\p{Cc}\p{Zl}\p{Zp}]+/gu, " ")
      .trim(),
    html: withoutEmpty(fillRich(filledPreview(html, values), values)).replace(marks, (_, n: string) =>
      escapeHtml(url(Number(n))),
    ),
    text: fillPlain(text, values)
      .replace(/\n{4,}/g, "\n\n")
      .replace(marks, (_, n: string) => url(Number(n))),
  }
}

/** Without the paragraph of an end that there is none of. */
const withoutEmpty = (html: string) => html.replace(/<p class="ends"[^>]*><\/p>/g, "")

type Template = { readonly html: string; readonly text: string; readonly urls: readonly string[] }

/** What is the same for every reader of a letter, made once; the latest few hundred are kept. */
const templates = new Map<string, Template>()

function template(letter: Letter): Template {
  const { school, postalAddress, leave, look, logo } = letter.foot
  const key = JSON.stringify([
    letter.body,
    letter.preview,
    letter.seen !== undefined,
    letter.button?.says,
    letter.after,
    letter.plain,
    look,
    logo,
    school,
    postalAddress,
    leave?.says,
  ])
  const known = templates.get(key)
  if (known) return known
  const made = makeTemplate(letter)
  if (templates.size >= 300) templates.delete(templates.keys().next().value!)
  templates.set(key, made)
  return made
}

/** What a letter says, with a mark for each address. */
function withAddresses(letter: Pick<Letter, "body" | "button" | "after">) {
  let n = 0
  return {
    body: letter.body.replace(
      /(<a\b[^>]*?\bhref=")[^"]*(")/g,
      (_, open: string, close: string) => `${open}${marked(++n)}${close}`,
    ),
    button: letter.button
      ? `<table role="presentation" class="go" cellpadding="0" cellspacing="0" border="0"><tr><td><a href="${marked(0)}">${escapeHtml(letter.button.says)}</a></td></tr></table>`
      : "",
    after: letter.after ?? "",
  }
}

function makeTemplate(letter: Letter): Template {
  const urls = linksOf(letter.body)
  const { body, button, after } = withAddresses(letter)
  const { school, postalAddress, leave, look, logo } = letter.foot
  const head = logo ? logoImage(logo, school) : escapeHtml(school)
  const foot =
    `<hr><p class="foot">${escapeHtml(school)}${postalAddress ? `<br>${escapeHtml(postalAddress)}` : ""}` +
    `${leave ? `<br><a href="${marked(leaveMark)}">${escapeHtml(leave.says)}</a>` : ""}</p>`
  const seen = letter.seen === undefined ? "" : `<img src="${marked(seenMark)}" alt="" width="1" height="1">`
  const html = dressed(
    `${previewed(letter.preview)}<p class="head">${head}</p>${body}${button}${after}${foot}${seen}`,
    "en",
    look,
  )
  const text = letter.plain?.trim()
    ? withMarks(withWords(letter.plain, letter.body))
    : textOf(`${body}${button}${after}`)
  return { html, text: `${text.trim()}\n\n${textOf(foot)}`, urls }
}

/** The same in plain text; its chips become chips of plain text, so that both are filled alike: named by what they stand for. */
function textOf(html: string, name = (word: ChipWord, _label: string): string => chipLabel(word)): string {
  const plain = html.replace(richChips, (_, attributes: string, word: string, label: string) => {
    const otherwise = unescapeHtml(/\bdata-else="([^"]*)"/.exec(attributes)?.[1] ?? "")
    return isChipWord(word) ? escapeHtml(labelChip(name(word, unescapeHtml(label)), otherwise.replace(/[›]/g, ""))) : ""
  })
  return convert(plain.replace(/<img\b[^>]*\balt="([^"]+)"[^>]*>/g, "<p>[$1]</p>"), {
    wordwrap: 78,
    selectors: [
      { selector: "a", options: { hideLinkHrefIfSameAsText: true, linkBrackets: ["\n", "\n"] } },
      { selector: "hr", format: "block", options: { leadingLineBreaks: 2 } },
      { selector: "table.go", format: "dataTable" },
      ...["h1", "h2", "h3"].map((selector) => ({ selector, options: { uppercase: false } })),
    ],
  })
}

/** What a chip of a text is called where it is written by hand: as in the text, without what ends a name in plain text. */
const calledIn = (label: string) => label.replace(/[‹›,]/g, "").replace(/\s+/g, " ").trim()

/** Plain text written by hand with what the chips of the text are called there by what they stand for. */
function withWords(plain: string, body: string): string {
  const called = new Map([...body.matchAll(richChips)].map((m) => [calledIn(unescapeHtml(m[3]!)), m[2]!]))
  return plain.replace(plainChips, (whole, typed: string, otherwise: string | undefined) => {
    const word = called.get(calledIn(typed))
    return isChipWord(word) ? labelChip(chipLabel(word), otherwise ?? "") : whole
  })
}

/** In plain text that is written by hand, the button's address and those of links stand so. */
const linkWord = (n: number) => (n === 0 ? "‹button›" : `‹link ${n}›`)
const withMarks = (plain: string) =>
  plain.replace(/‹(?:button|link (\d{1,3}))›/g, (_, n: string | undefined) => marked(Number(n ?? 0)))

/** The plain text that is made of a letter, to be written on by hand: without the foot, which always follows. */
export function plainOf(letter: Pick<Letter, "body" | "button" | "after">): string {
  const { body, button, after } = withAddresses(letter)
  return textOf(`${body}${button}${after}`, (_, label) => calledIn(label))
    .replace(marks, (_, n: string) => linkWord(Number(n)))
    .trim()
}

/** The personal words of the preview line, which is plain text. */
function filledPreview(html: string, values: ChipValues): string {
  const escaped = Object.fromEntries(Object.entries(values).map(([k, v]) => [k, escapeHtml(v)])) as ChipValues
  return html.replace(
    /(<div [^>]*display:none[^>]*>)([^<]*)/,
    (_, open: string, text: string) => open + fillPlain(text, escaped),
  )
}

/** The preview line: in the mail, and not to be seen; what follows keeps the text from being shown behind it. */
function previewed(preview = ""): string {
  if (!preview.trim()) return ""
  return `<div style="display:none;max-height:0;overflow:hidden">${escapeHtml(preview)}${"&#8199;&#65279;".repeat(60)}</div>`
}
