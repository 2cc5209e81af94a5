import type { Metadata } from "next"
import { affiliateHere, context } from "@/app/guard"
import { moneyText } from "@/core/offer/money"
import { dayText } from "@/core/offer/sentence"
import { statementsOf } from "@/server/affiliate/statement"
import { dayKey } from "@/server/offer/shown"
import { schoolZone } from "@/server/school-view"

export const metadata: Metadata = { title: "Paid" }

export default async function PaidPage() {
  const a = await affiliateHere()
  const { db } = context()
  const zone = await schoolZone(db)
  const all = await statementsOf(db, a.id)
  return (
    <>
      <h1>What you were paid</h1>
      {all.length === 0 ? <p className="mt-2 text-lg">Nothing yet.</p> : null}
      <ul className="mt-2">
        {all.map((p) => (
          <li
            key={p.id}
            className="flex flex-wrap items-baseline justify-between gap-x-4 border-t border-line py-2 tabular-nums"
          >
            <span>{dayText(dayKey(p.paidAt.getTime(), zone))}</span>
            <a className="text-slate underline" href={`/affiliate/paid/${p.id}`} download>
              Statement {p.number}
            </a>
            <strong>{moneyText(p.gross, p.currency)}</strong>
          </li>
        ))}
      </ul>
    </>
  )
}
