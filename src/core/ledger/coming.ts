// What is still to come in: the charges of running plans, month by month, as their plans say, if every one goes well.
import type { Minor } from "../offer/money"
import { chargeAt, type Plan } from "../offer/plan"

export type Running = {
  readonly plan: Plan
  /** The charge that comes next. */
  readonly next: number
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
export function comingByMonth(running: readonly Running[], first: string, count = 12): ComingMonth[] {
  const months = Array.from({ length: count }, (_, i) => monthAfter(first, i))
  const sums = new Map(months.map((m) => [m, { instalments: 0, subscriptions: 0 }]))
  const last = months.at(-1)!
  for (const { plan, next } of running) {
    const kind = plan.recurring?.times === null ? "subscriptions" : "instalments"
    for (let n = next; ; n++) {
      const charge = chargeAt(plan, n)
      const month = charge?.day.slice(0, 7)
      if (!charge || !month || month > last) break
      sums.get(month < first ? first : month)![kind] += charge.gross
    }
  }
  return months.map((month) => ({ month, ...sums.get(month)! }))
}

function monthAfter(first: string, months: number): string {
  const [year, month] = first.split("-").map(Number) as [number, number]
  const at = year * 12 + (month - 1) + months
  return `${String(Math.floor(at / 12)).padStart(4, "0")}-${String((at % 12) + 1).padStart(2, "0")}`
}
