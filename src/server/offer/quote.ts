// A quote: what somebody's choice at a checkout comes to right now. What is shown, agreed to and charged is this one value.
import { createHash } from "node:crypto"
import { type Coupon, type CouponRefusal, countsFor, couponRefusal } from "@/core/offer/coupon"
import { type Availability, availability, type Offer, type OfferTerms } from "@/core/offer/offer"
import { dueToday, needsCard, type Plan, planOf, spread } from "@/core/offer/plan"
import { sentence } from "@/core/offer/sentence"
import type { Taxed } from "@/core/offer/tax"
import { words } from "@/core/words/en"
import type { Db } from "../db/pool"
import { couponByCode, couponUses, seatGives, takerOf } from "./coupon"
import { loadOffers, piecesGone, type SellingRules, sellingRules } from "./offer"

export type Shelf = {
  readonly offers: ReadonlyMap<number, Offer>
  /** Pieces gone, by offer. */
  readonly gone: ReadonlyMap<number, number>
  readonly rules: SellingRules
}

export type QuotedLine = {
  readonly role: "main" | "bump" | "further"
  readonly offer: Offer
  readonly terms: OfferTerms
  readonly plan: Plan
}

export type Quote = {
  readonly lines: readonly QuotedLine[]
  readonly currency: string
  readonly sentence: string
  readonly today: Taxed
  readonly needsCard: boolean
  readonly coupon: Coupon | null
  /** What the coupon takes off today's payment, with tax; minor units. */
  readonly off: number
  /** What is wrong with the coupon. */
  readonly couponRefusal: CouponRefusal | null
  /** The same in words, which never say whether it was this address that used it. */
  readonly couponSays: string | null
  /** Why it can't be had, in words. */
  readonly refused: string | null
  /** Stands for what was read: it changes with every word and amount. */
  readonly seen: string
}

export type OfferChoice = {
  readonly main: number
  /** Terms of the main offer; the first where it is not among them. */
  readonly terms: number | null
  readonly bumps: readonly number[]
  readonly code: string
  /** Whose coupon uses are counted; null where nobody has proved to be them and nothing is bought yet. */
  readonly canonical: string | null
  /** A seat at a webinar, which this device has proved to have. */
  readonly seat?: number | null
  readonly role?: "main" | "further"
  /** Minor units already paid for what this replaces. */
  readonly credit?: number
  /** Locks the coupon: it is about to be used. */
  readonly lock?: boolean
}

/** What the choice comes to at an instant; null where the main offer is no longer there. */
export async function quote(db: Db, shelf: Shelf, choice: OfferChoice, at: number): Promise<Quote | null> {
  const main = shelf.offers.get(choice.main)
  const terms = main && (main.terms.find((t) => t.id === choice.terms) ?? main.terms[0])
  if (!main || !terms) return null
  const picked = choice.bumps.flatMap((id): { offer: Offer; terms: OfferTerms }[] => {
    const offer = shelf.offers.get(id)
    return offer?.terms[0] && offer.currency === main.currency ? [{ offer, terms: offer.terms[0] }] : []
  })
  const chosen = [{ offer: main, terms }, ...picked]
  const context = { currency: main.currency, tax: shelf.rules.tax, zone: shelf.rules.zone, start: at }
  let plans = chosen.map((c, i) => planOf(c.terms.terms, { ...context, credit: i === 0 ? (choice.credit ?? 0) : 0 }))

  const plain = plans
  let coupon: Coupon | null = null
  let refusal: CouponRefusal | null = null
  if (choice.code.trim()) {
    const found = await couponByCode(db, choice.code, choice.lock)
    const use = found ? await couponUses(db, found.id, takerOf(choice.canonical ?? "")) : { used: 0, usedByThem: 0 }
    const offers = chosen.map((c) => c.offer.id)
    const seatUntil = found?.forSeats && choice.seat ? await seatGives(db, choice.seat, found.id) : null
    refusal = found ? couponRefusal(found, use, { at, offers, currency: main.currency, seatUntil }) : "unknown"
    if (found && refusal === null) {
      coupon = found
      const on = chosen.flatMap((c, i) => (countsFor(found, c.offer.id) ? [i] : []))
      const less = spread(
        found.discount,
        on.map((i) => plans[i]!),
      )
      plans = plans.map((p, i) => (on.includes(i) ? less[on.indexOf(i)]! : p))
    }
  }
  const today: Taxed = plans
    .map((p): Taxed => dueToday(p))
    .reduce((sum, t) => ({ net: sum.net + t.net, tax: sum.tax + t.tax, gross: sum.gross + t.gross }))
  const said = sentence(plans)
  const lines = chosen.map(
    (c, i): QuotedLine => ({ role: i === 0 ? (choice.role ?? "main") : "bump", ...c, plan: plans[i]! }),
  )
  return {
    lines,
    currency: main.currency,
    sentence: said,
    today,
    needsCard: plans.some(needsCard),
    coupon,
    off: plain.reduce((sum, p, i) => sum + dueToday(p).gross - dueToday(plans[i]!).gross, 0),
    couponRefusal: refusal,
    couponSays: refusal && words.coupon[refusal],
    refused: refusalOf(lines, shelf, at),
    seen: createHash("sha256")
      .update(JSON.stringify([said, lines.map((l) => [l.offer.id, l.terms.id])]))
      .digest("base64url")
      .slice(0, 22),
  }
}

function refusalOf(lines: readonly QuotedLine[], shelf: Shelf, at: number): string | null {
  for (const { offer } of lines) {
    const state = availability(offer, shelf.gone.get(offer.id) ?? 0, at)
    if (state !== "open") return words.offer[state](offer.publicName)
  }
  return null
}

export function stateOf(shelf: Shelf, offer: number, at: number): Availability | "removed" {
  const found = shelf.offers.get(offer)
  return found ? availability(found, shelf.gone.get(offer) ?? 0, at) : "removed"
}

/** What an offer costs under its terms, today: a sentence for each. */
export function sentencesOf(shelf: Shelf, offer: Offer, at: number): { terms: OfferTerms; plan: Plan; says: string }[] {
  const { tax, zone } = shelf.rules
  return offer.terms.map((terms) => {
    const plan = planOf(terms.terms, { currency: offer.currency, tax, zone, start: at })
    return { terms, plan, says: sentence([plan]) }
  })
}

export async function shelfOf(db: Db): Promise<Shelf> {
  return { offers: await loadOffers(db), gone: await piecesGone(db), rules: await sellingRules(db) }
}
