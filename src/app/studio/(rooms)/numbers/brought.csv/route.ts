import { studio } from "@/app/guard"
import { boughtOf, broughtBys, joinedOf, perJoined } from "@/core/numbers/brought"
import { decimalOf } from "@/core/offer/money"
import type { Proportion } from "@/core/proportion"
import { csv } from "@/server/csv"
import { broughtTable } from "@/server/numbers/brought-view"
import { schoolZone } from "@/server/school-view"
import { csvResponse } from "../../ledger/csv"
import { type AskedNumbers, byOf, periodOf, tableOf } from "../query"

/** The table of Numbers with every row, shares as numbers from 0 to 1. */
export async function GET(request: Request): Promise<Response> {
  const s = await studio()
  const asked: AskedNumbers = Object.fromEntries(new URL(request.url).searchParams)
  const period = periodOf(asked, await schoolZone(s.db), await s.clock.now())
  const { by } = byOf(asked)
  const { rows, currency } = await broughtTable(s, by, period, tableOf(asked))
  const { came, did } = broughtBys[by]
  const column = (words: string) => words.toLowerCase().replaceAll(" ", "_")
  const money = (minor: number | null | undefined) =>
    minor === null || minor === undefined ? "" : decimalOf(Math.round(minor), currency)
  const rate = (p: Proportion) => (p.of === 0 ? ["", "", ""] : [p.hits / p.of, p.low, p.high].map((x) => x.toFixed(6)))
  const head = [
    by,
    "first_day",
    "last_day",
    column(came ?? "Visited"),
    ...[column(did ?? "Joined"), "bought"].flatMap((n) => [n, `${n}_rate`, `${n}_rate_low`, `${n}_rate_high`]),
    "orders",
    "currency",
    "income",
    "kept",
    "kept_each",
    "kept_each_low",
    "kept_each_high",
    `kept_per_${column(did ?? "Joined")}`,
    "most_for_a_click",
    "cost",
    "cost_of_a_buyer",
    "return",
    `${column(came ?? "Visited")}_before`,
    "income_before",
    "other_currencies",
  ]
  return csvResponse(
    `numbers-by-${by}`,
    (async function* () {
      yield csv([
        head,
        ...rows.map((r) => [
          r.name,
          period.from,
          period.to,
          r.now.visited,
          r.now.joined,
          ...rate(joinedOf(r.now)),
          r.now.bought,
          ...rate(boughtOf(r.now)),
          r.now.orders,
          currency,
          money(r.now.income),
          money(r.now.kept),
          money(r.value?.each),
          money(r.value?.low),
          money(r.value?.high),
          money(perJoined(r.now)),
          money(r.click),
          money(r.cost?.cost),
          money(r.cost?.buyer),
          r.cost?.back?.toFixed(4) ?? "",
          r.before.visited,
          money(r.before.income),
          r.others.map((o) => `${o.currency} ${decimalOf(o.income, o.currency)}`).join("; "),
        ]),
      ])
    })(),
  )
}
