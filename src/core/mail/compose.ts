// An e-mail as its reader will have it: subject, HTML and the same in plain text.
import { convert } from "html-to-text"
import { escapeHtml } from "../page/html"
import { type ChipValues, fillPlain, fillRich } from "./chip"

export type Composed = { readonly subject: string; readonly html: string; readonly text: string }

export type Letter = {
  readonly subject: string
  /** Sanitised HTML with chips. */
  readonly body: string
  readonly button: { readonly says: string; readonly url: string } | null
  /** Sanitised HTML below the button. */
  readonly after?: string
  /** Under the line: who sends it, from where, and the way out. */
  readonly foot: {
    readonly school: string
    readonly postalAddress: string
    readonly leave: { readonly says: string; readonly url: string } | null
  }
}

/**
 * Composes a letter. Addresses in the body are handed to `track` with their number, counted from 1 in reading order
 * (0 is the button), and replaced by what it returns.
 */
export function compose(
  letter: Letter,
  values: ChipValues,
  track: (url: string, n: number) => string = (u) => u,
): Composed {
  let n = 0
  const body = fillRich(letter.body, values).replace(
    /(<a\b[^>]*?\bhref=")([^"]*)(")/g,
    (_, open: string, url: string, close: string) => {
      n++
      return `${open}${escapeHtml(track(unescapeAttribute(url), n))}${close}`
    },
  )
  const button = letter.button && { says: letter.button.says, url: track(letter.button.url, 0) }
  const small = "color:#5c5348;font-size:13px;line-height:1.5"
  const leave = letter.foot.leave
  const html =
    `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width,initial-scale=1"></head>` +
    `<body style="margin:0;background:#ffffff;color:#2a2019;font:16px/1.6 Georgia,'Times New Roman',serif"><div style="max-width:34em;margin:0 auto;padding:24px 20px">` +
    body +
    (button
      ? `<p style="margin:24px 0"><a href="${escapeHtml(button.url)}" style="display:inline-block;background:#a8431a;color:#ffffff;padding:12px 22px;border-radius:6px;text-decoration:none;font-weight:bold">${escapeHtml(button.says)}</a></p>`
      : "") +
    (letter.after ?? "") +
    `<hr style="border:0;border-top:1px solid #dccfb9;margin:28px 0 12px"><p style="${small}">${escapeHtml(letter.foot.school)}${letter.foot.postalAddress ? `<br>${escapeHtml(letter.foot.postalAddress)}` : ""}` +
    (leave ? `<br><a href="${escapeHtml(leave.url)}" style="color:#5c5348">${escapeHtml(leave.says)}</a>` : "") +
    `</p></div></body></html>`
  const text = convert(html, {
    wordwrap: 78,
    selectors: [
      { selector: "a", options: { hideLinkHrefIfSameAsText: true, linkBrackets: ["\n", "\n"] } },
      { selector: "hr", format: "block", options: { leadingLineBreaks: 2 } },
      ...["h1", "h2", "h3"].map((selector) => ({ selector, options: { uppercase: false } })),
    ],
  })
  const subject = fillPlain(letter.subject, values)
    .replace(/[\p{Cc}\p{Zl}\p{Zp}]+/gu, " ")
    .trim()
  return { subject, html, text }
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
