import { Temporal } from "temporal-polyfill"
import { studio } from "@/app/guard"
import { accounts } from "@/core/ledger/journal"
import { moneyText } from "@/core/offer/money"
import { dayText } from "@/core/offer/sentence"
import { balanceAt } from "@/server/ledger/balance"
import { dayKey } from "@/server/offer/shown"
import { schoolZone } from "@/server/school-view"
import { Button } from "@/ui/button"
import { TextField } from "@/ui/field"
import { Table } from "@/ui/table"

export const metadata = { title: "Books" }

export default async function BooksPage({ searchParams }: { searchParams: Promise<{ day?: string }> }) {
  const s = await studio()
  const zone = await schoolZone(s.db)
  const today = dayKey(await s.clock.now(), zone)
  const day = readDay((await searchParams).day) ?? today
  const end = Temporal.PlainDate.from(day).add({ days: 1 }).toZonedDateTime(zone).epochMilliseconds
  const balance = await balanceAt(s.db, end)
  const currencies = [...new Set(balance.map((b) => b.currency))].sort()
  return (
    <>
      <div className="mt-4 flex items-end justify-between gap-4">
        <h1>The books at the end of {dayText(day)}</h1>
        <form className="flex flex-wrap items-end gap-2">
          <TextField label="Day" type="date" name="day" defaultValue={day} max={today} />
          <Button type="submit">Show</Button>
        </form>
      </div>
      <p className="mt-1 text-soft">
        Double entry: what came in stands against what it was for, and each currency comes to nothing. Nothing in it is
        ever changed.
      </p>
      {balance.length === 0 ? <p className="mt-6 text-lg">Nothing had been paid by then.</p> : null}
      {currencies.map((currency) => {
        const rows = balance.filter((b) => b.currency === currency)
        return (
          <Table
            key={currency}
            className="mt-4 max-w-xl"
            columns={[
              { says: `Account, ${currency}` },
              { says: "Debit", right: true },
              { says: "Credit", right: true },
            ]}
          >
            {rows.map((b) => (
              <tr key={b.account} className="border-b border-line">
                <td className="py-1.5">{accounts[b.account]}</td>
                <td className="text-right">{b.amount > 0 ? moneyText(b.amount, currency) : ""}</td>
                <td className="text-right">{b.amount < 0 ? moneyText(-b.amount, currency) : ""}</td>
              </tr>
            ))}
            <tr className="border-b-2 border-line font-semibold">
              <td className="py-1.5">Together</td>
              <td className="text-right">
                {moneyText(
                  rows.reduce((sum, b) => sum + Math.max(0, b.amount), 0),
                  currency,
                )}
              </td>
              <td className="text-right">
                {moneyText(
                  rows.reduce((sum, b) => sum + Math.max(0, -b.amount), 0),
                  currency,
                )}
              </td>
            </tr>
          </Table>
        )
      })}
    </>
  )
}

function readDay(asked: string | undefined): string | null {
  try {
    return asked && /^\d{4}-\d\d-\d\d$/.test(asked) ? Temporal.PlainDate.from(asked).toString() : null
  } catch {
    return null
  }
}
