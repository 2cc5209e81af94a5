import { studio } from "@/app/guard"
import { decimalOf } from "@/core/offer/money"
import { csv } from "@/server/csv"
import { exportCosts } from "@/server/numbers/cost"
import { sellingRules } from "@/server/offer/offer"
import { csvResponse } from "../../../ledger/csv"

/** Every cost, as it is read back. */
export async function GET(): Promise<Response> {
  const s = await studio()
  const { currency } = await sellingRules(s.db)
  const costs = await exportCosts(s.db)
  return csvResponse(
    "costs",
    (async function* () {
      yield csv([
        ["date", "source", "amount", "currency"],
        ...costs.map((c) => [c.day, c.source, decimalOf(c.amount, currency), currency]),
      ])
    })(),
  )
}
