// What a plan costs, at a glance: the largest thing in its card. The sentence says the rest exactly.
import { words } from "../words/en"
import { moneyShort } from "./money"
import { chargeAt, chargeCount, chargesOf, type Plan, steadyFrom } from "./plan"

/**
 * "€290", "4 × €79", "€100 + 3 × €79", "€19 a month", "€5, then €19 a month"; "free" where nothing is ever paid. What is never
 * charged (a first month for nothing) is left to the sentence; charges of more than two amounts are told as their sum.
 */
export function amountText(plan: Plan): string {
  const money = (minor: number) => moneyShort(minor, plan.currency)
  const count = chargeCount(plan)
  if (count === null) {
    const steady = steadyFrom(plan)
    const { unit, count: every } = plan.recurring!.every
    const before = chargesOf(plan, steady).filter((c) => c.gross > 0)
    const each = words.price.per(money(chargeAt(plan, steady)!.gross), unit, every)
    const [first] = before
    return first && before.length === 1 && first.gross !== chargeAt(plan, steady)!.gross
      ? words.price.firstThen(money(first.gross), each)
      : each
  }
  const runs: { gross: number; n: number }[] = []
  for (const { gross } of chargesOf(plan, count)) {
    const last = runs.at(-1)
    if (gross === 0) continue
    if (last?.gross === gross) last.n++
    else runs.push({ gross, n: 1 })
  }
  if (!runs.length) return words.price.free
  const shown = runs.length > 2 ? [{ gross: runs.reduce((sum, r) => sum + r.n * r.gross, 0), n: 1 }] : runs
  return shown.map((r) => (r.n === 1 ? money(r.gross) : `${r.n} × ${money(r.gross)}`)).join(" + ")
}
