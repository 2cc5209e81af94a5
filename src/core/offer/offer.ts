// An offer: something that can be had, what it gives, and on which terms.
import { type Gift, giftKey, offerWithin } from "./gift/list"
import type { Currency } from "./money"
import { isPaid, type Terms } from "./terms"

export type OfferTerms = { readonly id: number; readonly name: string; readonly terms: Terms }

export type Offer = {
  readonly id: number
  readonly publicName: string
  readonly internalName: string
  readonly promise: string
  readonly pictureId: number | null
  readonly picture: {
    readonly url: string
    readonly width: number
    readonly height: number
    readonly focus?: readonly [number, number]
  } | null
  readonly currency: Currency
  readonly gifts: readonly Gift[]
  readonly terms: readonly OfferTerms[]
  /** Pieces in all; null: as many as are asked for. */
  readonly pieces: number | null
  readonly perPerson: number | null
  /** Instants, ms. */
  readonly from: number | null
  readonly until: number | null
  readonly hidden: boolean
  /** What becomes of the access when payments stop for good. */
  readonly afterFailure: "ends" | "stays"
  /** Days after the order within which the money is given back; null: nothing is promised. */
  readonly refundDays: number | null
}

export type Availability = "open" | "not-yet" | "over" | "sold-out"

export function availability(offer: Pick<Offer, "pieces" | "from" | "until">, gone: number, at: number): Availability {
  if (offer.from !== null && at < offer.from) return "not-yet"
  if (offer.until !== null && at >= offer.until) return "over"
  return offer.pieces !== null && gone >= offer.pieces ? "sold-out" : "open"
}

/** Everything an offer gives, bundles opened: each course, file and parcel once. A bundle within itself is opened once. */
export function giftsOf(offer: Offer, offers: ReadonlyMap<number, Offer>): Gift[] {
  const found = new Map<string, Gift>()
  const seen = new Set<number>()
  const open = (o: Offer) => {
    if (seen.has(o.id)) return
    seen.add(o.id)
    for (const gift of o.gifts) {
      const within = offerWithin(gift)
      if (within === null) found.set(giftKey(gift), gift)
      else if (offers.has(within)) open(offers.get(within)!)
    }
  }
  open(offer)
  return [...found.values()]
}

/** The offers within an offer, itself included. */
export function offersWithin(offer: Offer, offers: ReadonlyMap<number, Offer>): Set<number> {
  const seen = new Set<number>()
  const open = (o: Offer) => {
    if (seen.has(o.id)) return
    seen.add(o.id)
    for (const gift of o.gifts) {
      const inner = offers.get(offerWithin(gift) ?? 0)
      if (inner) open(inner)
    }
  }
  open(offer)
  return seen
}

export function isFree(offer: Pick<Offer, "terms">): boolean {
  return offer.terms.every((t) => !isPaid(t.terms))
}
