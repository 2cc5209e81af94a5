import { studio } from "@/app/guard"
import { decimalOf } from "@/core/offer/money"
import { csv } from "@/server/csv"
import { groups } from "@/server/numbers/groups"
import { groupAges } from "@/server/numbers/roll-sold"
import { sellingRules } from "@/server/offer/offer"
import { csvResponse } from "../../../ledger/csv"

/** What those who joined in a week were worth; empty: not all of them have been here for so long. */
export async function GET(): Promise<Response> {
  const s = await studio()
  const { currency } = await sellingRules(s.db)
  const all = await groups(s.db, await s.clock.now(), currency)
  const money = (minor: number | null) => (minor === null ? "" : decimalOf(Math.round(minor), currency))
  return csvResponse(
    "groups",
    (async function* () {
      yield csv([
        ["week_from", "joined", "currency", ...groupAges.map((a) => `kept_each_after_${a}_days`), "kept_each_by_now"],
        ...all.map((g) => [g.monday, g.joined, currency, ...groupAges.map((a) => money(g.worth[a])), money(g.now)]),
      ])
    })(),
  )
}
