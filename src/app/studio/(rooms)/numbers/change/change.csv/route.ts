import { studio } from "@/app/guard"
import { whatFirst } from "@/core/numbers/measured"
import { quantile } from "@/core/numbers/rate"
import { decimalOf } from "@/core/offer/money"
import { csv } from "@/server/csv"
import { measuredFunnel } from "@/server/numbers/change-view"
import { schoolZone } from "@/server/school-view"
import { csvResponse } from "../../../ledger/csv"
import { type AskedNumbers, funnelOf, periodOf } from "../../query"

/** What one more of a hundred at each step would have brought; rates from 0 to 1. */
export async function GET(request: Request): Promise<Response> {
  const s = await studio()
  const asked: AskedNumbers = Object.fromEntries(new URL(request.url).searchParams)
  const period = periodOf(asked, await schoolZone(s.db), await s.clock.now())
  const found = await measuredFunnel(s, funnelOf(asked) ?? 0, period.range)
  const currency = found?.currency ?? ""
  const money = (minor: number) => decimalOf(Math.round(minor), currency)
  return csvResponse(
    "what-to-change-first",
    (async function* () {
      yield csv([
        [
          "step",
          "outcome",
          "came",
          "took_it",
          "rate_low",
          "rate_high",
          "currency",
          "one_more_of_a_hundred",
          "better_quarter",
          "at_rate",
        ],
        ...whatFirst(found?.steps ?? []).first.map((f) => [
          f.name,
          f.outcomeOf.done,
          f.outcomeOf.rate.of,
          f.outcomeOf.rate.hits,
          quantile(f.outcomeOf.belief, 0.025).toFixed(6),
          quantile(f.outcomeOf.belief, 0.975).toFixed(6),
          currency,
          money(f.perPoint),
          money(f.better.brings),
          f.better.rate.toFixed(6),
        ]),
      ])
    })(),
  )
}
