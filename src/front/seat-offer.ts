// What a webinar leads to, for whoever has a seat: with what it costs for them, and until when.
import type { Html } from "@/core/html"
import { amountText } from "@/core/offer/amount"
import { seatOfferHtml } from "@/core/page/room"
import { untilWords } from "@/core/webinar/until"
import { quote, shelfOf } from "@/server/offer/quote"
import { dealOf } from "@/server/webinar/until"
import type { Front } from "./reply"

/** @param href where it is pressed */
export async function seatOffer(front: Front, registration: number, offer: number, href: string): Promise<Html> {
  const { db, clock } = front.s
  const now = await clock.now()
  const card = front.live.offers()[offer]
  const deal = await dealOf(db, registration, offer, now)
  if (!card || !deal?.open) return seatOfferHtml(card, null, href)
  const shelf = await shelfOf(db)
  const ways: (typeof card.ways)[number][] = []
  let less = false
  for (const way of card.ways) {
    const choice = { main: offer, terms: way.id, bumps: [], code: deal.code, canonical: null, seat: registration }
    const q = await quote(db, shelf, choice, now)
    less ||= q?.coupon != null
    ways.push(q?.coupon ? { ...way, says: q.sentence, amount: amountText(q.lines[0]!.plan) } : way)
  }
  return seatOfferHtml({ ...card, ways }, less ? untilWords(deal.until, deal.zone) : null, href)
}
