// The plan: the exact charges that terms, a discount, the tax and a first day come to. Whatever says or charges a price
// takes it from here.
import { Temporal } from "temporal-polyfill"
import type { Minor } from "./money"
import { portion, shares } from "./money"
import { type Taxed, type TaxRule, taxed } from "./tax"
import type { Interval, Terms } from "./terms"

export type Discount = {
  readonly kind: "percent" | "amount"
  /** Basis points, or minor units off each charge it falls on. */
  readonly value: number
  readonly on: "first" | "all"
}

export type Charge = Taxed & {
  /** Place in the plan, from 0. */
  readonly n: number
  /** Day it falls on, in the school's zone: YYYY-MM-DD. */
  readonly day: string
  /** Instant it falls due, ms. */
  readonly at: number
  /** What the discount took off, before tax. */
  readonly discount: Minor
}

export type Plan = {
  readonly currency: string
  readonly tax: TaxRule
  readonly zone: string
  /** Instant it begins, ms. */
  readonly start: number
  /** What is paid on the first day, before discount and tax; null where nothing is (a free trial). */
  readonly today: Minor | null
  readonly recurring: {
    readonly amount: Minor
    readonly every: Interval
    /** From the first day to the first of these: whole months, or days, then intervals. */
    readonly after: { readonly months: number; readonly days: number; readonly intervals: number }
    /** How many there are; null: until ended. */
    readonly times: number | null
  } | null
  readonly discount: Discount | null
  /** What was paid for something that this replaces: it pays the first charges, as far as it goes. */
  readonly credit: Minor
}

export type PlanContext = {
  readonly currency: string
  readonly tax: TaxRule
  readonly zone: string
  readonly start: number
  readonly discount?: Discount | null
  readonly credit?: Minor
}

export function planOf(terms: Terms, context: PlanContext): Plan {
  const { currency, tax, zone, start, discount = null, credit = 0 } = context
  const base = { currency, tax, zone, start, discount, credit }
  const soon = { months: 0, days: 0, intervals: 1 }
  switch (terms.kind) {
    case "free":
      return { ...base, today: null, recurring: null, discount: null }
    case "full":
      return { ...base, today: terms.amount, recurring: null }
    case "instalments": {
      const { amount, every } = terms
      const times = terms.upFront > 0 ? terms.times : terms.times - 1
      return {
        ...base,
        today: terms.upFront > 0 ? terms.upFront : amount,
        recurring: times > 0 ? { amount, every, times, after: soon } : null,
      }
    }
    case "subscription": {
      const { amount, every, trial, upFront, times } = terms
      const paid = upFront + (trial?.amount ?? 0)
      if (trial) {
        const after = {
          months: trial.unit === "month" ? trial.length : 0,
          days: trial.unit === "day" ? trial.length : 0,
        }
        return { ...base, today: paid || null, recurring: { amount, every, times, after: { ...after, intervals: 0 } } }
      }
      if (upFront > 0) return { ...base, today: upFront, recurring: { amount, every, times, after: soon } }
      if (times === 1) return { ...base, today: amount, recurring: null }
      return {
        ...base,
        today: amount,
        recurring: { amount, every, times: times === null ? null : times - 1, after: soon },
      }
    }
  }
}

/** How many charges there are; null: until ended. */
export function chargeCount(plan: Plan): number | null {
  const first = plan.today === null ? 0 : 1
  if (!plan.recurring) return first
  return plan.recurring.times === null ? null : first + plan.recurring.times
}

/** Charge n of a plan, from 0; null where there is none. */
export function chargeAt(plan: Plan, n: number): Charge | null {
  const count = chargeCount(plan)
  if (n < 0 || (count !== null && n >= count)) return null
  const isToday = plan.today !== null && n === 0
  const when = isToday ? startOf(plan) : recurringAt(plan, plan.today === null ? n : n - 1)
  return { n, day: when.toPlainDate().toString(), at: when.epochMilliseconds, ...amountAt(plan, n) }
}

/** What charge n comes to, without its day; n must be one that the plan has. */
export function amountAt(plan: Plan, n: number): Taxed & { readonly discount: Minor } {
  const { price, off } = priceAt(plan, n)
  return { discount: off, ...taxed(price - off - creditAt(plan, n), plan.tax) }
}

/** The price of charge n, and what the discount takes off it. */
function priceAt(plan: Plan, n: number): { price: Minor; off: Minor } {
  const price = plan.today !== null && n === 0 ? plan.today : plan.recurring!.amount
  return { price, off: plan.discount && (plan.discount.on === "all" || n === 0) ? reduction(price, plan.discount) : 0 }
}

/** What charge n comes to before tax and credit. From the second on all are alike. */
function worth(plan: Plan, n: number): Minor {
  const { price, off } = priceAt(plan, Math.min(n, 1))
  return price - off
}

/** What of the credit pays charge n. */
function creditAt(plan: Plan, n: number): Minor {
  if (plan.credit === 0) return 0
  const before = n === 0 ? 0 : worth(plan, 0) + (n === 1 ? 0 : (n - 1) * worth(plan, 1))
  return Math.min(Math.max(0, plan.credit - before), worth(plan, n))
}

/** How many of the first charges a plan's credit reaches. */
function creditReaches(plan: Plan): number {
  if (plan.credit === 0 || chargeCount(plan) === 0) return 0
  const left = plan.credit - worth(plan, 0)
  if (left <= 0 || !plan.recurring) return 1
  const each = worth(plan, 1)
  return each === 0 ? 1 : 1 + Math.ceil(left / each)
}

/** What of a plan's credit its charges take up. */
export function creditUsed(plan: Plan): Minor {
  const count = chargeCount(plan)
  if (count === 0 || plan.credit === 0) return 0
  const all =
    count === null ? Number.POSITIVE_INFINITY : worth(plan, 0) + (count - 1) * (count > 1 ? worth(plan, 1) : 0)
  return Math.min(plan.credit, all)
}

/** The first charge from which on all are alike: past the first where its discount is its own, past what a credit pays. */
export function steadyFrom(plan: Plan): number {
  const count = chargeCount(plan) ?? Number.POSITIVE_INFINITY
  let n = plan.today === null ? 0 : 1
  if (n === 0 && plan.discount?.on === "first") n = 1
  return Math.min(count, Math.max(n, creditReaches(plan)))
}

/** What is charged before all are alike: the first, and the one that a credit pays in part. Between them nothing is. */
export function beforeSteady(plan: Plan): Charge[] {
  const steady = steadyFrom(plan)
  return [...new Set([0, steady - 1])].flatMap((n) => (n < steady ? (chargeAt(plan, n) ?? []) : []))
}

/** The first charges of a plan, at most so many. */
export function chargesOf(plan: Plan, most = 600): Charge[] {
  const count = Math.min(chargeCount(plan) ?? most, most)
  return Array.from({ length: count }, (_, n) => chargeAt(plan, n)!)
}

/** What a discount takes off an amount: never more than there is. */
function reduction(price: Minor, discount: Discount): Minor {
  return Math.min(price, discount.kind === "percent" ? portion(price, discount.value) : discount.value)
}

/**
 * One discount of a fixed amount over several plans that are paid together, in shares by what each charges first, so
 * that it is given once. A percentage falls on each alike.
 */
export function spread(discount: Discount, plans: readonly Plan[]): Plan[] {
  if (discount.kind === "percent") return plans.map((p) => ({ ...p, discount }))
  const first = plans.map((p) => p.today ?? p.recurring?.amount ?? 0)
  const whole = Math.min(
    discount.value,
    first.reduce((sum, f) => sum + f, 0),
  )
  const parts = shares(whole, first)
  return plans.map((p, i) => ({ ...p, discount: { ...discount, value: parts[i]! } }))
}

function startOf(plan: Plan): Temporal.ZonedDateTime {
  return Temporal.Instant.fromEpochMilliseconds(plan.start).toZonedDateTimeISO(plan.zone)
}

/**
 * Recurring charge k, counted from the first day and never from the one before, so that the 31st comes back after a
 * short month: 31 January, 28 February, 31 March. A clock time that a day lacks moves on by the gap.
 */
function recurringAt(plan: Plan, k: number): Temporal.ZonedDateTime {
  const { every, after } = plan.recurring!
  const steps = (after.intervals + k) * every.count
  const start = startOf(plan)
  const months = after.months + (every.unit === "month" ? steps : every.unit === "year" ? 12 * steps : 0)
  const days = every.unit === "week" ? 7 * steps : 0
  const day = start.toPlainDate().add({ days: after.days }).add({ months }).add({ days })
  return day.toZonedDateTime({ timeZone: plan.zone, plainTime: start.toPlainTime() })
}

/** Everything that will be charged, where there is an end to it; otherwise null. */
export function totalOf(plan: Plan): Minor | null {
  const count = chargeCount(plan)
  return count === null ? null : chargesOf(plan, count).reduce((sum, c) => sum + c.gross, 0)
}

/** What is charged on the first day. */
export function dueToday(plan: Plan): Taxed & { discount: Minor } {
  const none = { net: 0, tax: 0, gross: 0, discount: 0 }
  return plan.today === null ? none : amountAt(plan, 0)
}

/** Whether a card is needed: something is charged, today or later. */
export function needsCard(plan: Plan): boolean {
  return [...beforeSteady(plan), chargeAt(plan, steadyFrom(plan))].some((c) => c !== null && c.gross > 0)
}
