// What came of those who first came in a period: people, money, and what one may pay for one more of them.
import type { BasisPoints, Minor } from "../offer/money"
import { type Proportion, proportion } from "../proportion"

/**
 * What a table of Numbers may be by: what a row is, what brings somebody into it, what they may do besides buying (null: nothing is
 * counted), and whether orders may count for the journey in which they were made or for the first of their buyer.
 */
export const broughtBys = {
  source: { row: "Source", came: "Visited", did: "Joined", journeys: true },
  funnel: { row: "Funnel", came: "Visited", did: "Joined", journeys: true },
  device: { row: "Device", came: "Visited", did: "Joined", journeys: true },
  offer: { row: "Offer", came: "Saw it", did: null, journeys: false },
  sequence: { row: "Sequence", came: "Began it", did: "Clicked", journeys: false },
  webinar: { row: "Webinar", came: "Registered", did: "Attended", journeys: false },
  coupon: { row: "Coupon", came: null, did: null, journeys: false },
  field: { row: "Answer", came: "Joined", did: null, journeys: false },
} as const
export type BroughtBy = keyof typeof broughtBys

/** Of whoever first came in a period, by now; or of whoever began, registered … in it. */
export type Brought = {
  readonly visited: number
  /** Who is known: they confirmed their address, or bought; or who clicked, attended … */
  readonly joined: number
  readonly bought: number
  readonly orders: number
  /** Paid, less tax and refunds. */
  readonly income: Minor
  /** Income less the processor's fees and commissions. */
  readonly kept: Minor
  /** The sum of squares of what was kept of each order. */
  readonly keptSquares: number
}

export const nothingBrought: Brought = {
  visited: 0,
  joined: 0,
  bought: 0,
  orders: 0,
  income: 0,
  kept: 0,
  keptSquares: 0,
}

export const addBrought = (a: Brought, b: Brought): Brought => ({
  visited: a.visited + b.visited,
  joined: a.joined + b.joined,
  bought: a.bought + b.bought,
  orders: a.orders + b.orders,
  income: a.income + b.income,
  kept: a.kept + b.kept,
  keptSquares: a.keptSquares + b.keptSquares,
})

export const joinedOf = (b: Brought): Proportion => proportion(Math.min(b.joined, b.visited), b.visited)
export const boughtOf = (b: Brought): Proportion => proportion(Math.min(b.bought, b.visited), b.visited)

/** An amount for each, with the 95 % interval of its mean; minor units. */
export type Each = { readonly each: number; readonly low: number; readonly high: number }

const z95 = 1.959963984540054

/**
 * What was kept of each visitor, those who bought nothing counted in; null where nobody came. The interval is that of a mean by the
 * central limit theorem, which is common practice; it needs some dozens of orders to be meant.
 */
export function perVisitor(b: Brought): Each | null {
  if (b.visited === 0) return null
  const each = b.kept / b.visited
  const variance = Math.max(0, b.keptSquares / b.visited - each ** 2)
  const wide = z95 * Math.sqrt(variance / b.visited)
  return { each, low: each - wide, high: each + wide }
}

/** What was kept of each who joined; null where nobody did. */
export const perJoined = (b: Brought): number | null => (b.joined > 0 ? b.kept / b.joined : null)

/**
 * The most one may pay for a visitor so that a share of what they bring is left, whole minor units rounded down; null where nobody came.
 *
 * @param margin what is to be left, basis points
 */
export function mostForClick(b: Brought, margin: BasisPoints): Minor | null {
  if (b.visited === 0) return null
  return Math.max(0, Math.floor(((b.kept / b.visited) * (10_000 - margin)) / 10_000))
}

/** Whether what a source brought covers what it cost: for certain, certainly not, or it can't be told yet. */
export type Paid = "paid" | "lost" | "open"

export type Cost = {
  readonly cost: Minor
  /** What a visitor and a buyer cost; null where there were none. */
  readonly click: number | null
  readonly buyer: number | null
  /** What was kept for each of the currency spent: 1 is even; null where it cost nothing. */
  readonly back: number | null
  readonly verdict: Paid
}

/** What a source's visitors cost, beside what they brought. */
export function costOf(b: Brought, cost: Minor): Cost {
  const value = perVisitor(b)
  return {
    cost,
    click: b.visited > 0 ? cost / b.visited : null,
    buyer: b.bought > 0 ? cost / b.bought : null,
    back: cost > 0 ? b.kept / cost : null,
    verdict:
      value === null
        ? cost > 0
          ? "lost"
          : "open"
        : value.low * b.visited >= cost
          ? "paid"
          : value.high * b.visited < cost
            ? "lost"
            : "open",
  }
}
