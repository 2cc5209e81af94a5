import { studio } from "@/app/guard"
import { payoutCsv } from "@/server/affiliate/payout-after"
import { idOf } from "../../../../asked"
import { csvResponse } from "../../../../ledger/csv"

/** Whom a payout pays, as CSV. */
export async function GET(_: Request, { params }: { params: Promise<{ payout: string }> }): Promise<Response> {
  const s = await studio()
  const id = idOf((await params).payout)
  return csvResponse(`payout-P${id}`, payoutCsv(s.db, id))
}
