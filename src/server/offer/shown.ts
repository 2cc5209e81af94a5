// Offers as pages show them: name, ways to pay in sentences, what is left of them.
import { amountText } from "@/core/offer/amount"
import { courseGiven, giftShown } from "@/core/offer/gift/list"
import { decimalOf, moneyText } from "@/core/offer/money"
import { availability, giftsOf, type Offer } from "@/core/offer/offer"
import { chargeCount, chargesOf, dueToday, needsCard, type Plan, totalOf } from "@/core/offer/plan"
import { dayText } from "@/core/offer/sentence"
import type { OfferCard } from "@/core/page/selling"
import { words } from "@/core/words/en"
import type { Context } from "../context"
import { type Shelf, sentencesOf, shelfOf } from "./quote"

export function cardOf(shelf: Shelf, offer: Offer, at: number): OfferCard {
  const gone = shelf.gone.get(offer.id) ?? 0
  const gifts = giftsOf(offer, shelf.offers)
  const state = availability(offer, gone, at)
  const notes = [
    offer.pieces === null ? "" : words.offer.left(Math.max(0, offer.pieces - gone)),
    offer.until === null ? "" : words.offer.until(dayIn(offer.until, shelf.rules.zone)),
  ]
  return {
    id: offer.id,
    name: offer.publicName,
    promise: offer.promise,
    picture: offer.picture,
    gives: gifts.map(giftShown),
    courses: gifts.flatMap((g) => courseGiven(g) ?? []),
    ways: sentencesOf(shelf, offer, at).map((w) => ({
      id: w.terms.id,
      name: w.terms.name,
      says: w.says,
      amount: amountText(w.plan),
      accept: costWords(dueToday(w.plan).gross, offer.currency, needsCard(w.plan)),
      today: moneyText(dueToday(w.plan).gross, offer.currency),
      payments: chargeCount(w.plan) === null ? null : chargesOf(w.plan).filter((c) => c.gross > 0).length,
      total: totalText(w.plan, offer.currency),
    })),
    left: offer.pieces === null ? null : Math.max(0, offer.pieces - gone),
    ends: offer.until === null ? null : { at: offer.until, says: dayIn(offer.until, shelf.rules.zone) },
    refundDays: offer.refundDays,
    note: state === "open" ? notes.filter(Boolean).join(" ") : words.offer[state](offer.publicName),
    open: state === "open",
    once: atOnce(sentencesOf(shelf, offer, at), offer.currency),
  }
}

function atOnce(ways: ReturnType<typeof sentencesOf>, currency: string): OfferCard["once"] {
  const way = ways.find((w) => chargeCount(w.plan) === 1 && dueToday(w.plan).gross > 0)
  return way ? { price: decimalOf(dueToday(way.plan).gross, currency), currency } : null
}

function totalText(plan: Plan, currency: string): string | null {
  const total = totalOf(plan)
  return total === null ? null : moneyText(total, currency)
}

/** What a button that accepts adds to its words; empty where nothing is ever paid. */
export function costWords(today: number, currency: string, needsCard: boolean): string {
  if (today > 0) return words.further.cost(moneyText(today, currency))
  return needsCard ? words.further.costLater : ""
}

/** The day of an instant in a zone, in words. */
export function dayIn(at: number, zone: string): string {
  return dayText(dayKey(at, zone))
}

const days = new Map<string, Intl.DateTimeFormat>()

/** The day of an instant in a zone: YYYY-MM-DD. */
export function dayKey(at: number, zone: string): string {
  let format = days.get(zone)
  if (!format) {
    format = new Intl.DateTimeFormat("en-CA", { timeZone: zone })
    days.set(zone, format)
  }
  return format.format(at)
}

export async function offerCards(s: Context): Promise<Record<number, OfferCard>> {
  return cardsOf(await shelfOf(s.db), await s.clock.now())
}

export function cardsOf(shelf: Shelf, at: number): Record<number, OfferCard> {
  return Object.fromEntries([...shelf.offers.values()].map((o) => [o.id, cardOf(shelf, o, at)]))
}
