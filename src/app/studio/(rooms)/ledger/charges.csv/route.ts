import { studio } from "@/app/guard"
import { exportCharges } from "@/server/ledger/orders"
import { sellingRules } from "@/server/offer/offer"
import { csvResponse } from "../csv"
import { ordersQuery } from "../query"

/** The charges of the orders that fit, as CSV, a thousand at a time. */
export async function GET(request: Request): Promise<Response> {
  const s = await studio()
  const asked = Object.fromEntries(new URL(request.url).searchParams)
  const { zone } = await sellingRules(s.db)
  return csvResponse("charges", exportCharges(s.db, ordersQuery(asked, zone)))
}
