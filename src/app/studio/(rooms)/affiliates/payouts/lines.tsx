import { rateWords } from "@/core/affiliate/words"
import { moneyText } from "@/core/offer/money"
import { readRate } from "@/server/affiliate/affiliate"
import { type DueLine, linesPage } from "@/server/affiliate/payout-view"
import { NameLink } from "@/ui/link"
import { Pager } from "@/ui/pager"
import { Table } from "@/ui/table"
import { day } from "../../words"
import { LeaveOut } from "./leave-out"

const kinds = {
  earned: "",
  back: ", refunded",
  moved: ", counted for another",
  "written-off": ", written off",
} as const

/** Every line of somebody's commission, with its date, rate and sum; where it may still be left out, with that. */
export function Lines({
  lines,
  total,
  page,
  href,
  zone,
  open,
}: {
  lines: readonly DueLine[]
  /** How many there are on all pages. */
  total: number
  page: number
  href: (page: number) => string
  zone: string
  /** Whether they are in no payout yet. */
  open: boolean
}) {
  return (
    <>
      <Table
        className="tabular-nums"
        columns={[
          { says: "Paid on", wide: "w-32" },
          { says: "Order", wide: "w-20" },
          { says: "For" },
          { says: "From", wide: "w-28", right: true },
          { says: "Rate", wide: "w-24", right: true },
          { says: "Commission", wide: "w-28", right: true },
          ...(open ? [{ says: "In this payout", wide: "w-56", right: true }] : []),
        ]}
      >
        {lines.map((l) => {
          const rate = readRate(l.rate || null)
          return (
            <tr key={l.id} className={`border-b border-line ${l.leftOut ? "text-soft" : ""}`}>
              <td className="py-1">{day(l.at, zone)}</td>
              <td>
                <NameLink href={`/studio/ledger/orders/${l.order}#why`}>{l.order}</NameLink>
              </td>
              <td className="max-w-72 truncate">
                {l.what}
                {kinds[l.kind]}
                {l.level === 2 ? ", second level" : ""}
              </td>
              <td className="text-right">{l.base ? moneyText(l.base, l.currency) : "–"}</td>
              <td className="text-right">{rate ? rateWords(rate, l.currency) : "–"}</td>
              <td className={`text-right ${l.amount < 0 ? "text-dusk" : ""}`}>{moneyText(l.amount, l.currency)}</td>
              {open ? (
                <td className="text-right">
                  <LeaveOut line={l.id} why={l.leftOut} says={`${l.what}, ${moneyText(l.amount, l.currency)}`} />
                </td>
              ) : null}
            </tr>
          )
        })}
      </Table>
      <Pager page={page} size={linesPage} shown={lines.length} total={total} href={href} />
    </>
  )
}
