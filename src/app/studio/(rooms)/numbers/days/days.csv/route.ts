import { studio } from "@/app/guard"
import { decimalOf } from "@/core/offer/money"
import { csv } from "@/server/csv"
import { daysOver } from "@/server/numbers/days-view"
import { csvResponse } from "../../../ledger/csv"
import { type AskedNumbers, funnelOf } from "../../query"

/** A funnel day by day; empty: nothing was forecast, or the day isn't over. */
export async function GET(request: Request): Promise<Response> {
  const s = await studio()
  const asked: AskedNumbers = Object.fromEntries(new URL(request.url).searchParams)
  const { days, currency } = await daysOver(s, funnelOf(asked) ?? 0)
  const money = (minor: number | null | undefined) =>
    minor === null || minor === undefined ? "" : decimalOf(Math.round(minor), currency)
  return csvResponse(
    "forecast-and-actual",
    (async function* () {
      yield csv([
        ["day", "currency", "forecast", "forecast_low", "forecast_high", "kept"],
        ...days.map((d) => [
          d.day,
          currency,
          money(d.band?.mean),
          money(d.band?.low),
          money(d.band?.high),
          money(d.kept),
        ]),
      ])
    })(),
  )
}
