// A coupon: what it takes off, on what, when, and how often.
import type { Discount } from "./plan"

export type Coupon = {
  readonly id: number
  readonly code: string
  readonly discount: Discount
  /** Currency of an amount off; a percentage has none. */
  readonly currency: string | null
  /** Offers it counts for; null: all. */
  readonly offers: readonly number[] | null
  /** Instants, ms. */
  readonly from: number | null
  readonly until: number | null
  readonly usesInAll: number | null
  readonly usesPerPerson: number | null
  /** Whether it is what a seat at a webinar gives: it counts for nobody without one, and until the end that was told for the seat. */
  readonly forSeats: boolean
}

export type CouponUse = { readonly used: number; readonly usedByThem: number }

export type CouponRefusal =
  | "unknown"
  | "not-yet"
  | "over"
  | "used-up"
  | "used-by-them"
  | "not-for-this"
  | "other-currency"
  | "for-seats"

/** Typed or linked: case, spaces and hyphens don't matter. */
export function couponKey(typed: string): string {
  return typed
    .normalize("NFKC")
    .toUpperCase()
    .replace(/[^\p{L}\p{N}]/gu, "")
    .slice(0, 40)
}

/** Why a coupon doesn't count here, or null where it does. */
export function couponRefusal(
  coupon: Coupon,
  use: CouponUse,
  buying: {
    readonly at: number
    readonly offers: readonly number[]
    readonly currency: string
    /** Until when the buyer's seat gives it, ms; null: they have none that gives it. */
    readonly seatUntil: number | null
  },
): CouponRefusal | null {
  if (coupon.forSeats && buying.seatUntil === null) return "for-seats"
  if (coupon.forSeats && buying.at >= buying.seatUntil!) return "over"
  if (coupon.from !== null && buying.at < coupon.from) return "not-yet"
  if (coupon.until !== null && buying.at >= coupon.until) return "over"
  if (coupon.usesInAll !== null && use.used >= coupon.usesInAll) return "used-up"
  if (coupon.usesPerPerson !== null && use.usedByThem >= coupon.usesPerPerson) return "used-by-them"
  if (!buying.offers.some((o) => countsFor(coupon, o))) return "not-for-this"
  if (coupon.discount.kind === "amount" && coupon.currency !== buying.currency) return "other-currency"
  return null
}

export function countsFor(coupon: Coupon, offer: number): boolean {
  return coupon.offers === null || coupon.offers.includes(offer)
}
