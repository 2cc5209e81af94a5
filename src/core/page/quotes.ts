// What learners say, as pages show it.
import { type Html, html } from "../html"
import { words } from "../words/en"
import { type Picture, pictureTag } from "./picture"
import { titled } from "./writer"

/** `name` empty: they don't want to be named. */
export type QuoteCard = { readonly words: string; readonly name: string; readonly portrait: Picture | null }

/** The first of them, at most so many; nothing where there is none. */
export function quotesHtml(quotes: readonly QuoteCard[], most: number, title = "", says?: Html): Html {
  if (!quotes.length) return html``
  return html`${titled(title, says)}<ul class="quotes">${quotes
    .slice(0, most)
    .map(
      (q) =>
        html`<li><figure><blockquote dir="auto">“${q.words}”</blockquote><figcaption dir="auto">${q.portrait ? pictureTag(q.portrait, { as: "small" }) : ""}${q.name || words.page.aLearner}</figcaption></figure></li>`,
    )}</ul>`
}
