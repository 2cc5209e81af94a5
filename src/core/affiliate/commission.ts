// Commission: what somebody who recommended gets of one charge, and what of it goes back with a refund. From what was really
// paid, less tax and, by choice, the processor's fee; rounded half up once; whole minor units of the currency of the sale.
import { type Minor, shares } from "../offer/money"
import { type LineTerms, type Rate, rateOn } from "./programme"

/** What was paid for one line of an order by one charge. */
export type Paid = {
  /** After the discount, without tax. */
  readonly net: Minor
  readonly gross: Minor
  /** What the processor kept of it; 0 where it doesn't say. */
  readonly fee: Minor
  /** The how manieth charge for this line, from 1. */
  readonly n: number
}

export type Earned = {
  readonly base: Minor
  /** The rate that brought most; null where nothing is paid. */
  readonly rate: Rate | null
  readonly first: Minor
  /** For whoever brought the affiliate: never more than is left of the base. */
  readonly second: Minor
}

export function commissionOn(terms: LineTerms, paid: Paid): Earned {
  const base = Math.max(0, paid.net - (terms.lessFees ? paid.fee : 0))
  if (terms.charges !== null && paid.n > terms.charges) return { base, rate: null, first: 0, second: 0 }
  let rate: Rate | null = null
  let first = 0
  for (const r of terms.rates) {
    const comes = rateOn(r, base)
    if (rate === null || comes > first) [rate, first] = [r, comes]
  }
  const second = Math.min(rateOn({ kind: "percent", value: terms.second }, base), base - first)
  return { base, rate, first, second }
}

/**
 * How much of a commission has gone back once so much of its charge has (both gross, minor units). It rises with what
 * was given back and is the whole commission where everything was, so refunds in any parts and any order take back exactly it.
 */
export function takenBack(commission: Minor, gross: Minor, refunded: Minor): Minor {
  if (gross <= 0 || refunded <= 0) return 0
  if (refunded >= gross) return commission
  return Number((BigInt(commission) * BigInt(refunded) * 2n + BigInt(gross)) / (2n * BigInt(gross)))
}

/** The fee of a charge, shared among its lines by what each cost; they add up to it exactly. */
export function feeShares(fee: Minor, gross: readonly Minor[]): Minor[] {
  return shares(fee, gross)
}

export type CommissionLine = {
  readonly affiliate: number
  readonly currency: string
  /** Below zero: taken back. */
  readonly amount: Minor
  /** Instant from which it is due, ms. */
  readonly due: number
  readonly payout: { readonly paid: boolean } | null
}

export type AffiliateStanding = {
  readonly pending: Minor
  readonly due: Minor
  readonly inPayout: Minor
  readonly paid: Minor
}

/** What lines of one currency come to at an instant: pending until the time for refunds is over, then due, then paid. */
export function standing(lines: Iterable<CommissionLine>, at: number): AffiliateStanding {
  const sum = { pending: 0, due: 0, inPayout: 0, paid: 0 }
  for (const l of lines) {
    if (l.payout) sum[l.payout.paid ? "paid" : "inPayout"] += l.amount
    else sum[l.due > at ? "pending" : "due"] += l.amount
  }
  return sum
}
