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

const untilHtml = (ends: { readonly at: number; readonly says: string }): Html =>
  html`<time datetime="${new Date(ends.at).toISOString()}">${words.offer.until(ends.says)}</time>`

/** What the refund rule of an offer really is, once; nothing where it has none. */
export function guaranteeHtml(card: OfferCard | undefined): Html {
  if (!card?.refundDays) return html``
  const says = words.offer.guarantee(card.refundDays)
  return html`<div class="guarantee"><b aria-hidden="true">${card.refundDays}<small>${words.offer.days(card.refundDays)}</small></b><p>${says}</p></div>`
}
