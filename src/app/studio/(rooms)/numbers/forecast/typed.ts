// What is typed into a forecast, and what it means.
import type { ForecastDocument } from "@/core/numbers/forecast"
import type { MeasuredStep } from "@/core/numbers/measured"
import { decimalOf, parseAmount } from "@/core/offer/money"

export type Rates = Readonly<Record<"from" | "likely" | "to", string>>
export type TypedSource = Readonly<Record<"name" | "perDay" | "click", string>>
export const moneyFields = ["later", "refunds", "fees", "commissions"] as const

export type TypedForecast = {
  readonly sources: readonly TypedSource[]
  readonly days: string
  readonly joined: boolean
  /** By `step outcome`. */
  readonly rates: Readonly<Record<string, Rates>>
  readonly brings: Readonly<Record<number, string>>
  readonly money: Readonly<Record<(typeof moneyFields)[number], string>>
  readonly without: readonly number[]
  readonly order: readonly number[]
  readonly added: ForecastDocument["added"]
}

export const percentOf = (x: number) => String(Math.round(x * 1000) / 10)
const number = (typed: string) => (typed.trim() === "" ? null : Number(typed.replace(",", ".")))
const share = (typed: string) => {
  const n = number(typed)
  return n === null ? null : n / 100
}

/** What stands in the fields of a forecast that was kept. */
export const typedOf = (doc: ForecastDocument, currency: string): TypedForecast => ({
  sources: doc.sources.map((s) => ({
    name: s.name,
    perDay: String(s.perDay),
    click: s.click ? decimalOf(s.click, currency) : "",
  })),
  days: String(doc.days),
  joined: doc.joined,
  rates: Object.fromEntries(
    doc.rates.map((r) => [
      `${r.step} ${r.outcome}`,
      { from: percentOf(r.from), likely: percentOf(r.likely), to: percentOf(r.to) },
    ]),
  ),
  brings: Object.fromEntries(doc.brings.map((b) => [b.step, decimalOf(b.amount, currency)])),
  money: Object.fromEntries(
    moneyFields.map((f) => [f, doc[f] === null ? "" : percentOf(doc[f])]),
  ) as TypedForecast["money"],
  without: doc.without,
  order: doc.order,
  added: doc.added,
})

/** A rate as it is typed: where only the most likely stands, it may be a third less or more; null: nothing is assumed. */
function assumed(typed: Rates | undefined): { from: number; likely: number; to: number } | null {
  const likely = number(typed?.likely ?? "")
  if (!typed || likely === null) return null
  const [from, to] = [number(typed.from), number(typed.to)]
  return {
    from: from === null ? (likely / 100) * 0.67 : from / 100,
    likely: likely / 100,
    to: to === null ? Math.min(1, (likely / 100) * 1.33) : to / 100,
  }
}

/** What is typed as a forecast. What is no number counts as nothing typed, or as it must be at least. */
export const documentOf = (t: TypedForecast, steps: readonly MeasuredStep[], currency: string): ForecastDocument => ({
  version: 2,
  sources: t.sources.map((s) => ({
    name: s.name.trim().slice(0, 60),
    perDay: Math.max(0, Math.min(100_000, number(s.perDay) || 0)),
    click: parseAmount(s.click || "0", currency) ?? 0,
  })),
  days: Math.max(1, Math.min(366, Math.round(number(t.days) || 28))),
  joined: t.joined,
  rates: steps.flatMap((s) =>
    s.outcomes.flatMap((o) => {
      const a = assumed(t.rates[`${s.id} ${o.name}`])
      return a ? [{ step: s.id, outcome: o.name, ...a }] : []
    }),
  ),
  brings: Object.entries(t.brings).flatMap(([step, amount]) => {
    const minor = amount.trim() ? parseAmount(amount, currency) : null
    return minor === null ? [] : [{ step: Number(step), amount: minor }]
  }),
  later: share(t.money.later),
  refunds: share(t.money.refunds),
  fees: share(t.money.fees),
  commissions: share(t.money.commissions),
  without: [...t.without],
  order: [...t.order],
  added: [...t.added],
})
