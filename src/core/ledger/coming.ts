// What is still to come in: the charges of running plans, month by month, as their plans say, if every one goes well.
import type { Minor } from "../offer/money"
import { amountAt, chargeAt, chargeCount, type Plan } from "../offer/plan"

export type RunningPlan = {
  readonly plan: Plan
  /** The charge that comes next. */
  readonly next: number
  /** The month in which that one falls due in the school's zone, YYYY-MM. */
  readonly month: string
  /** How many plans are alike in all of this; 1 where it isn't said. */
  readonly count?: number
}

export type ComingMonth = {
  /** YYYY-MM, by the day of each charge in the school's zone. */
  readonly month: string
  /** Owed: what was bought and is paid in parts. */
  readonly instalments: Minor
  /** Until somebody ends it. */
  readonly subscriptions: Minor
}

/**
 * Charges of the given months and the ones that follow, `count` of them from `first` (YYYY-MM) on. A charge that was due
 * before counts in the first month. All plans have one currency.
 */
export function comingByMonth(running: readonly RunningPlan[], first: string, count = 12): ComingMonth[] {
  const months = Array.from({ length: count }, (_, i) => monthAfter(first, i))
  const sums = new Map(months.map((m) => [m, { instalments: 0, subscriptions: 0 }]))
  const last = months.at(-1)!
  for (const r of running) {
    const kind = r.plan.recurring?.times === null ? "subscriptions" : "instalments"
    for (const { month, n } of monthsOf(r)) {
      if (month > last) break
      sums.get(month < first ? first : month)![kind] += amountAt(r.plan, n).gross * (r.count ?? 1)
    }
  }
  return months.map((month) => ({ month, ...sums.get(month)! }))
}

/** The charges from the next on, each with its month. By months and years the anchor day moves within its month, never out. */
function* monthsOf({ plan, next, month }: RunningPlan): Generator<{ month: string; n: number }> {
  const count = chargeCount(plan) ?? Number.POSITIVE_INFINITY
  const { unit, count: every } = plan.recurring!.every
  for (let n = next; n < count; n++)
    yield unit === "week"
      ? { n, month: chargeAt(plan, n)!.day.slice(0, 7) }
      : { n, month: monthAfter(month, (n - next) * every * (unit === "year" ? 12 : 1)) }
}

function monthAfter(first: string, months: number): string {
  const [year, month] = first.split("-").map(Number) as [number, number]
  const at = year * 12 + (month - 1) + months
  return `${String(Math.floor(at / 12)).padStart(4, "0")}-${String((at % 12) + 1).padStart(2, "0")}`
}
