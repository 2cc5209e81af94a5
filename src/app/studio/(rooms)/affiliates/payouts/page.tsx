import { studio } from "@/app/guard"
import { nextPayDay } from "@/core/affiliate/payout"
import { moneyText } from "@/core/offer/money"
import { dayText } from "@/core/offer/sentence"
import { locale } from "@/core/words/locale"
import { listPayouts } from "@/server/affiliate/payout-view"
import { affiliateRules } from "@/server/affiliate/rules"
import { dayKey } from "@/server/offer/shown"
import { schoolZone } from "@/server/school-view"
import { Button } from "@/ui/button"
import { Link } from "@/ui/link"
import { Table } from "@/ui/table"
import { day } from "../../words"
import { ReckonAnew } from "./reckon"

export const metadata = { title: "Payouts" }

const states = { made: "to be paid", paid: "paid", undone: "undone" } as const

export default async function PayoutsPage() {
  const s = await studio()
  const zone = await schoolZone(s.db)
  const rules = await affiliateRules(s.db)
  const now = await s.clock.now()
  const all = await listPayouts(s.db)
  return (
    <>
      <div className="mt-4 flex flex-wrap items-end justify-between gap-x-4 gap-y-2">
        <div>
          <h1>Payouts</h1>
          <p className="mt-1 text-soft">
            Commission is due {rules.dueDays} days after a payment. The next day on which you pay is{" "}
            {dayText(nextPayDay(rules.payDays, dayKey(now, zone)))}.
          </p>
        </div>
        <Button asChild look="primary">
          <Link href="/studio/affiliates/payouts/new">New payout</Link>
        </Button>
      </div>
      {all.length === 0 ? (
        <p className="mt-8 text-lg">
          Nobody was paid yet. A payout gathers everything that is due, makes the file for your bank, and sends each
          affiliate a statement once you mark it as paid.
        </p>
      ) : (
        <Table
          className="mt-4 tabular-nums"
          columns={[
            { says: "Payout", wide: "w-24" },
            { says: "Made", wide: "w-32" },
            { says: "Of what was due until", wide: "w-48" },
            { says: "Status" },
            { says: "Affiliates", right: true },
            { says: "Lines", right: true },
            { says: "Paid", right: true },
          ]}
        >
          {all.map((p) => (
            <tr key={p.id} className="border-b border-line">
              <td className="py-1.5">
                <Link className="font-semibold text-slate hover:underline" href={`/studio/affiliates/payouts/${p.id}`}>
                  P{p.id}
                </Link>
              </td>
              <td>{day(p.madeAt, zone)}</td>
              <td>{day(p.until.getTime() - 1, zone)}</td>
              <td
                className={
                  p.state === "made" ? "font-semibold text-amber-text" : p.state === "undone" ? "text-soft" : ""
                }
              >
                {states[p.state]}
                {p.paidAt ? ` on ${day(p.paidAt, zone)}` : ""}
              </td>
              <td className="text-right">{p.people.toLocaleString(locale)}</td>
              <td className="text-right">{p.lines.toLocaleString(locale)}</td>
              <td className="text-right">{moneyText(p.gross, p.currency)}</td>
            </tr>
          ))}
        </Table>
      )}
      <ReckonAnew />
    </>
  )
}
