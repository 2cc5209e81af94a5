// What a school has, as cards: on its front page, and in a catalogue.
import { type Html, html } from "../html"
import { words } from "../words/en"
import { type Picture, pictureTag } from "./picture"

export const cardsCss =
  ".cards{list-style:none;padding:0;max-width:none!important;display:grid;gap:1.5rem;grid-template-columns:repeat(auto-fill,minmax(min(20rem,100%),1fr))}.cards>li{margin:0;background:var(--c);border-radius:var(--r);padding:0 1.4rem 1.4rem;display:flex;flex-direction:column;overflow:hidden}.cards>li:not(:has(>img)){padding-top:1.4rem}.cards>li>img{width:calc(100% + 2.8rem);max-width:none;margin:0 -1.4rem 1.25rem;aspect-ratio:16/10;object-fit:cover;border-radius:0}.cards .amount{font-size:2rem;margin:0 0 .75rem}.cards .small{margin:0 0 .75rem}.cards>li>.go{margin-top:auto;text-align:center}@media(min-width:44rem){.cards:has(>:only-child){grid-template-columns:1fr}.cards>:only-child{padding:clamp(1.5rem,3vw,2.5rem);align-items:start}.cards>:only-child h3{font-size:1.6rem}.cards>:only-child:has(>img){display:grid;grid-template:repeat(6,auto)/minmax(0,1fr) minmax(0,1.2fr);gap:0 clamp(1.5rem,4vw,3.5rem);padding:0 clamp(1.5rem,3vw,2.5rem) 0 0;align-content:center}.cards>:only-child>img{grid-row:1/7;width:100%;height:100%;margin:0}.cards>:only-child>:not(img){grid-column:2}.cards>:only-child h3{margin-top:clamp(1.5rem,3vw,2.5rem)}.cards>:only-child:has(>img)>.go{justify-self:start;margin:.5rem 0 clamp(1.5rem,3vw,2.5rem)}.cards>:not(:has(>img)):only-child h3{margin-top:0}}.wait{margin-top:auto;border-top:1px solid var(--l)}.wait>summary{cursor:pointer;font-weight:600;color:var(--e);padding:.8rem 0 0}.wait form{margin:1rem 0 0;max-width:none}.cards .wait .small{margin:.75rem 0 0}"

/** One of them: what it is, what is to be known of it, and what leads on. */
export const cardHtml = (
  of: { readonly title: string; readonly about: string; readonly picture: Picture | null },
  within: Html | "",
  leads: Html | "",
): Html =>
  html`<li>${of.picture && pictureTag(of.picture, { as: "third" })}<h3 dir="auto">${of.title}</h3>${of.about && html`<p dir="auto">${of.about}</p>`}${within}${leads}</li>`

/** The button of a card, which says aloud what it is of. */
export const cardButton = (path: string, says: string, title: string): Html =>
  html`<a class="go" href="/${path}" aria-label="${says}: ${title}">${says}</a>`

/** What it costs at a glance, and what is to be known of that. */
export const cardPrice = (amount: string, note: string): Html =>
  html`${amount && html`<b class="amount">${amount}</b>`}${note && html`<p class="small">${note}</p>`}`

/** A course as it is listed. `takes`: newcomers are let in by a form. */
export type ListedCourse = {
  readonly title: string
  readonly about: string
  readonly picture: Picture | null
  readonly takes: boolean
}

/** One thing of a catalogue: where it leads, that it is waited for, or neither. */
export type CatalogueCard = {
  readonly title: string
  readonly about: string
  readonly picture: Picture | null
  /** What it costs at a glance; empty: nothing, or it can't be had. */
  readonly amount: string
  readonly note: string
  readonly leads: { readonly path: string } | { readonly wait: number } | null
}

/** A catalogue on a page. `at`: where its forms go, the release that they carry, and what is agreed to by sending one. */
export function catalogueHtml(
  cards: readonly CatalogueCard[],
  at: { readonly path: string; readonly release: number; readonly consent: string },
): Html {
  const w = words.catalogue
  const wait = (course: number, title: string) =>
    html`<details class="wait"><summary aria-label="${w.tell}: ${title}">${w.tell}</summary><form method="post" action="/${at.path}"><label>${words.page.email}<input name="email" type="email" required autocomplete="email" inputmode="email" maxlength="254"></label><div class="hp" aria-hidden="true"><label>${words.page.honeypot}<input name="website" tabindex="-1" autocomplete="off"></label></div><input type="hidden" name="release" value="${at.release}"><input type="hidden" name="wait" value="${course}"><button class="go">${w.send}</button><p class="small" dir="auto">${at.consent}</p></form></details>`
  return html`<ul class="cards">${cards.map((c) =>
    cardHtml(
      c,
      cardPrice(c.amount, c.note),
      c.leads === null
        ? c.note
          ? ""
          : html`<p class="small">${w.soon}</p>`
        : "wait" in c.leads
          ? html`<p class="small">${w.soon}</p>${wait(c.leads.wait, c.title)}`
          : cardButton(c.leads.path, c.amount ? words.home.look : words.home.get, c.title),
    ),
  )}</ul>`
}
