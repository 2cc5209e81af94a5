// What of an offer stands on a page by itself: its amount in a bar, its end, the pieces that are left.
import { type Html, html } from "../html"
import { words } from "../words/en"
import type { OfferCard } from "./selling"

/** The amount of its first way to pay; nothing where it can't be had. */
export const amountHtml = (card: OfferCard | undefined): Html =>
  card?.open && card.ways[0] ? html`<b>${card.ways[0].amount}</b>` : html``

/** A line across the page; nothing once the offer that it is about can't be had any more. */
export function announcementHtml(says: string, card: OfferCard | undefined): Html {
  if (card && !card.open) return html``
  return html`<p class="announced" dir="auto">${says}${card?.ends ? html` ${untilHtml(card.ends)}` : ""}</p>`
}

/** Its end as a moment and, where a program runs, counted down; how many are left. Nothing for an offer without either, or over. */
export function countdownHtml(card: OfferCard | undefined, pieces: boolean): Html {
  if (!card?.open) return html``
  const left = pieces && card.left !== null ? html`<p class="ends">${words.offer.left(card.left)}</p>` : ""
  if (!card.ends) return html`${left}`
  return html`<p class="ends" data-ends="${card.ends.at}"><b hidden></b>${untilHtml(card.ends)}</p>${left}`
}

/** Until when a visitor's lower price is theirs. */
export const priceEndHtml = (ends: { readonly at: number; readonly says: string }): Html =>
  html`<p class="ends" data-ends="${ends.at}"><b hidden></b><time datetime="${new Date(ends.at).toISOString()}">${words.offer.priceUntil(ends.says)}</time></p>`

export const comparisonCss =
  ".ways-to-pay{overflow-x:auto;margin-block:1.5rem}.ways-to-pay table{border-collapse:collapse;width:100%;font-variant-numeric:tabular-nums}.ways-to-pay :is(th,td){text-align:start;padding:.8rem 1rem .8rem 0;border-bottom:1px solid var(--l);vertical-align:baseline}.ways-to-pay tbody th{font-weight:400;color:var(--s)}.ways-to-pay thead th{font:var(--wd) 1.25rem/1.25 var(--fd)}.ways-to-pay tr:first-child td{font-weight:600}"

/** Its ways to pay beside each other; nothing where there is one alone, or it can't be had. */
export function comparisonHtml(card: OfferCard | undefined): Html {
  if (!card?.open || card.ways.length < 2) return html``
  const w = words.offer.compare
  const row = (says: string, of: (way: OfferCard["ways"][number]) => string) =>
    html`<tr><th scope="row">${says}</th>${card.ways.map((way) => html`<td>${of(way)}</td>`)}</tr>`
  return html`<div class="ways-to-pay" tabindex="0" role="group" aria-label="${w.title(card.name)}"><table><thead><tr><td></td>${card.ways.map((way) => html`<th scope="col" dir="auto">${way.name || way.amount}</th>`)}</tr></thead><tbody>${row(w.amount, (x) => x.amount)}${row(w.today, (x) => x.today)}${row(w.payments, (x) => (x.payments === null ? w.open : String(x.payments)))}${row(w.total, (x) => x.total ?? w.open)}</tbody></table></div>`
}

const untilHtml = (ends: { readonly at: number; readonly says: string }): Html =>
  html`<time datetime="${new Date(ends.at).toISOString()}">${words.offer.until(ends.says)}</time>`

/** What the refund rule of an offer really is, once; nothing where it has none. */
export function guaranteeHtml(card: OfferCard | undefined): Html {
  if (!card?.refundDays) return html``
  const says = words.offer.guarantee(card.refundDays)
  return html`<div class="guarantee"><b aria-hidden="true">${card.refundDays}<small>${words.offer.days(card.refundDays)}</small></b><p>${says}</p></div>`
}
