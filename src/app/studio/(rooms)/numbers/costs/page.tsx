import { studio } from "@/app/guard"
import { moneyText } from "@/core/offer/money"
import { codeOfSource } from "@/core/source"
import { broughtTable } from "@/server/numbers/brought-view"
import { calledSources } from "@/server/numbers/called"
import { exportCosts } from "@/server/numbers/cost"
import { sellingRules } from "@/server/offer/offer"
import { Button } from "@/ui/button"
import { Table } from "@/ui/table"
import { periodOf } from "../query"
import { CallSource, CostFile, SayCost } from "./say-cost"

export const metadata = { title: "Costs" }

/** What sources cost: typed, or read from a file. */
export default async function CostsPage({ searchParams }: { searchParams: Promise<{ source?: string }> }) {
  const s = await studio()
  const { source = "" } = await searchParams
  const { currency, zone } = await sellingRules(s.db)
  const period = periodOf({}, zone, await s.clock.now())
  const [costs, { rows }] = [await exportCosts(s.db), await broughtTable(s, "source", period)]
  const sources = rows.flatMap((r) => (codeOfSource(r.key) === null ? [r.key] : []))
  const called = await calledSources(s.db)
  return (
    <>
      <div className="mt-4 flex flex-wrap items-end justify-between gap-x-4 gap-y-2">
        <h1>Costs</h1>
        {costs.length ? (
          <Button asChild>
            <a href="/studio/numbers/costs/costs.csv" download>
              As CSV
            </a>
          </Button>
        ) : null}
      </div>
      <p className="mt-1 max-w-2xl text-soft">
        What a source cost stands in Numbers beside what it brought. What is said of a day again takes the place of what
        stood there.
      </p>
      <div className="mt-4 grid grid-cols-1 gap-x-10 gap-y-6 lg:grid-cols-2">
        <SayCost source={source} sources={sources} from={period.from} to={period.to} currency={currency} />
        <div className="space-y-8">
          <CostFile />
          <CallSource sources={sources} called={[...called]} />
        </div>
      </div>
      {costs.length ? (
        <Table
          className="mt-6 max-w-2xl tabular-nums"
          columns={[{ says: "Day", wide: "w-32" }, { says: "Source" }, { says: "Cost", right: true, wide: "w-32" }]}
        >
          {costs.slice(0, 100).map((c) => (
            <tr key={`${c.day} ${c.source}`} className="border-b border-line">
              <td className="py-1.5">{c.day}</td>
              <td className="truncate">
                <bdi>{c.source}</bdi>
              </td>
              <td className="text-right">{moneyText(c.amount, currency)}</td>
            </tr>
          ))}
        </Table>
      ) : (
        <p className="mt-6">No cost is known yet.</p>
      )}
      {costs.length > 100 ? <p className="mt-2 text-soft">The latest 100 are shown; the CSV has all.</p> : null}
    </>
  )
}
