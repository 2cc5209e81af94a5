// An e-mail as its reader will have it: subject, HTML and the same in plain text.
import { convert } from "html-to-text"
import { escapeHtml } from "../page/html"
import { words } from "../words/en"
import { type ChipName, type ChipValues, chipNames, fillPlain, fillRich } from "./chip"

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
  /** The address of a small picture; asked for when the mail is opened. */
  readonly seen?: string
  /** Under the line: who sends it, from where, and the way out. */
  readonly foot: {
    readonly school: string
    readonly postalAddress: string
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
    html: fillRich(filledPreview(html, values), values).replace(marks, (_, n: string) => escapeHtml(url(Number(n)))),
    text: fillPlain(text, values).replace(marks, (_, n: string) => url(Number(n))),
  }
}

type Template = { readonly html: string; readonly text: string; readonly urls: readonly string[] }

/** What is the same for every reader of a letter, made once; the latest few hundred are kept. */
const templates = new Map<string, Template>()

function template(letter: Letter): Template {
  const { school, postalAddress, leave } = letter.foot
  const key = JSON.stringify([
    letter.body,
    letter.preview,
    letter.seen !== undefined,
    letter.button?.says,
    letter.after,
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

function makeTemplate(letter: Letter): Template {
  const urls = linksOf(letter.body)
  let n = 0
  const body = letter.body.replace(
    /(<a\b[^>]*?\bhref=")[^"]*(")/g,
    (_, open: string, close: string) => `${open}${marked(++n)}${close}`,
  )
  const small = "color:#5c5348;font-size:13px;line-height:1.5"
  const { school, postalAddress, leave } = letter.foot
  const html =
    `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width,initial-scale=1"></head>` +
    `<body style="margin:0;background:#ffffff;color:#2a2019;font:16px/1.6 Georgia,'Times New Roman',serif"><div style="max-width:34em;margin:0 auto;padding:24px 20px">` +
    previewed(letter.preview) +
    body +
    (letter.button
      ? `<p style="margin:24px 0"><a href="${marked(0)}" style="display:inline-block;background:#a8431a;color:#ffffff;padding:12px 22px;border-radius:6px;text-decoration:none;font-weight:bold">${escapeHtml(letter.button.says)}</a></p>`
      : "") +
    (letter.after ?? "") +
    `<hr style="border:0;border-top:1px solid #dccfb9;margin:28px 0 12px"><p style="${small}">${escapeHtml(school)}${postalAddress ? `<br>${escapeHtml(postalAddress)}` : ""}` +
    (leave ? `<br><a href="${marked(leaveMark)}" style="color:#5c5348">${escapeHtml(leave.says)}</a>` : "") +
    `</p></div>${letter.seen === undefined ? "" : `<img src="${marked(seenMark)}" alt="" width="1" height="1">`}</body></html>`
  // The chips of the rich text become chips of plain text, so that both are filled alike.
  const plain = html
    .replace(/<div style="display:none.*?<\/div>/, "")
    .replace(/<span\b[^>]*\bdata-word="([^"]*)"[^>]*>[^<]*<\/span>/g, (chip, name: string) => {
      const otherwise = /\bdata-else="([^"]*)"/.exec(chip)?.[1] ?? ""
      return chipNames.includes(name as ChipName) ? `‹${words.chip[name as ChipName]}, else ${otherwise}›` : ""
    })
  const text = convert(plain, {
    wordwrap: 78,
    selectors: [
      { selector: "a", options: { hideLinkHrefIfSameAsText: true, linkBrackets: ["\n", "\n"] } },
      { selector: "hr", format: "block", options: { leadingLineBreaks: 2 } },
      ...["h1", "h2", "h3"].map((selector) => ({ selector, options: { uppercase: false } })),
    ],
  })
  return { html, text, urls }
}

/** The personal words of the preview line, which is plain text. */
function filledPreview(html: string, values: ChipValues): string {
  const escaped = Object.fromEntries(Object.entries(values).map(([k, v]) => [k, escapeHtml(v)])) as ChipValues
  return html.replace(
    /(<div style="display:none[^>]*>)([^<]*)/,
    (_, open: string, text: string) => open + fillPlain(text, escaped),
  )
}

/** The preview line: in the mail, and not to be seen; what follows keeps the text from being shown behind it. */
function previewed(preview = ""): string {
  if (!preview.trim()) return ""
  return `<div style="display:none;max-height:0;overflow:hidden">${escapeHtml(preview)}${"&#8199;&#65279;".repeat(60)}</div>`
}

/** The addresses in a body, in reading order: link n of a mail is the n-th of these, from 1. */
export function linksOf(body: string): string[] {
  return [...body.matchAll(/<a\b[^>]*?\bhref="([^"]*)"/g)].map((m) => unescapeAttribute(m[1]!))
}

function unescapeAttribute(attribute: string): string {
  return attribute.replace(
    /&(amp|quot|#39|lt|gt);/g,
    (_, e: string) => ({ amp: "&", quot: '"', "#39": "'", lt: "<", gt: ">" })[e]!,
  )
}
