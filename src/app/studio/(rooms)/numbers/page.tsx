import { studio } from "@/app/guard"
import { boughtOf, joinedOf, perJoined } from "@/core/numbers/brought"
import { moneyText } from "@/core/offer/money"
import { codeOfSource } from "@/core/source"
import { countedAs } from "@/core/words/figures"
import { locale } from "@/core/words/locale"
import { funnelNames } from "@/server/numbers/brought"
import { type BroughtRow, broughtTable } from "@/server/numbers/brought-view"
import { schoolZone } from "@/server/school-view"
import { Button } from "@/ui/button"
import { OnlyWith } from "@/ui/filter"
import { Link, TextLink } from "@/ui/link"
import { Table } from "@/ui/table"
import { FirstCame } from "./asked-fields"
import { Margin } from "./margin"
import { type AskedNumbers, byOf, funnelOf, periodOf } from "./query"
import { Change, CountCell, EachCell, verdicts } from "./words"

export const metadata = { title: "Numbers" }

/** What each source or funnel brought of those who first came in some days. */
export default async function NumbersPage({ searchParams }: { searchParams: Promise<AskedNumbers> }) {
  const s = await studio()
  const asked = await searchParams
  const period = periodOf(asked, await schoolZone(s.db), await s.clock.now())
  const by = byOf(asked)
  const funnel = funnelOf(asked)
  const [table, funnels] = [await broughtTable(s, by, period, funnel), await funnelNames(s.db)]
  const query = new URLSearchParams(Object.entries(asked).flatMap(([k, v]) => (v ? [[k, v]] : [])))
  const { all, currency, margin } = table
  const costs = table.rows.some((r) => r.cost !== null)
  return (
    <>
      <div className="mt-4 flex flex-wrap items-end justify-between gap-x-4 gap-y-2">
        <h1>Numbers</h1>
        <Button asChild>
          <a href={`/studio/numbers/brought.csv?${query}`} download>
            As CSV
          </a>
        </Button>
      </div>
      <search>
        <form action="/studio/numbers" className="mt-3 flex flex-wrap items-center gap-2">
          <OnlyWith
            name="by"
            label="By"
            any="By source"
            value={by === "source" ? null : by}
            options={[{ value: "funnel", says: "By funnel" }]}
          />
          <OnlyWith
            name="funnel"
            label="Funnel"
            any="All funnels"
            value={funnel}
            options={funnels.map((f) => ({ value: f.id, says: f.name }))}
          />
          <FirstCame period={period} />
          <Button type="submit">Show</Button>
        </form>
      </search>
      {all.click === null ? (
        <p className="mt-8 text-lg">Nobody came for the first time on these days.</p>
      ) : (
        <Worth all={all} currency={currency} margin={margin} />
      )}
      {table.rows.length > 0 ? (
        <Table
          className="mt-5 min-w-[66rem] tabular-nums"
          columns={[
            { says: by === "source" ? "Source" : "Funnel" },
            { says: "Visited", right: true, wide: "w-20" },
            { says: "Joined", right: true, wide: "w-44" },
            { says: "Bought", right: true, wide: "w-44" },
            { says: "Income", right: true, wide: "w-28" },
            { says: "Kept of a visitor", right: true, wide: "w-36" },
            { says: "Most for a click", right: true, wide: "w-36" },
            ...(costs
              ? [
                  { says: "Cost", right: true, wide: "w-36" },
                  { says: "Return", right: true, wide: "w-40" },
                ]
              : []),
          ]}
        >
          {[...table.rows.slice(0, 200), all].map((r) => (
            <Row key={r.key || "all"} row={r} by={by} currency={currency} costs={costs} whole={r === all} />
          ))}
        </Table>
      ) : null}
      {table.rows.length > 200 ? (
        <p className="mt-2 text-soft">The 200 with most visitors are shown; the CSV has all.</p>
      ) : null}
      <p className="mt-4 max-w-4xl text-note text-soft">
        All of it is of those who first came on these days, by now; below it, against as many days before. In brackets
        is where the true value lies, nineteen times out of twenty. What somebody buys in another funnel stands there.{" "}
        {countedAs(["visited", "joined", "bought", "income", "kept"])}
      </p>
    </>
  )
}

/** What one may pay for a click, and how it is reckoned. */
function Worth({ all, currency, margin }: { all: BroughtRow; currency: string; margin: number }) {
  return (
    <section aria-label="What a visitor is worth" className="mt-4 flex flex-wrap items-end gap-x-8 gap-y-3">
      <p>
        <span className="block font-display text-4xl font-semibold tabular-nums">
          {moneyText(all.click ?? 0, currency)}
        </span>
        <span className="text-soft">is the most a click may cost</span>
      </p>
      <div className="max-w-xl">
        <p>
          {all.now.visited.toLocaleString(locale)} visitors left {moneyText(all.now.kept, currency)} after tax, refunds,
          fees and commissions: {moneyText(Math.round(all.value?.each ?? 0), currency)} each, and{" "}
          {moneyText(Math.round(perJoined(all.now) ?? 0), currency)} of each who joined. Of that{" "}
          {(margin / 100).toLocaleString(locale)} % are to be left.
        </p>
        <Margin percent={margin / 100} />
      </div>
    </section>
  )
}

function Row({
  row: r,
  by,
  currency,
  costs,
  whole,
}: {
  row: BroughtRow
  by: "funnel" | "source"
  currency: string
  costs: boolean
  whole: boolean
}) {
  return (
    <tr className={`border-b border-line align-top ${whole ? "font-semibold" : ""}`}>
      <td className="max-w-56 truncate py-1.5 pr-3">
        {by === "funnel" && !whole ? (
          <Link href={`/studio/numbers/change?funnel=${r.key}`} className="text-slate hover:underline">
            <bdi>{r.name}</bdi>
          </Link>
        ) : (
          <bdi>{r.name}</bdi>
        )}
      </td>
      <td className="pl-4 text-right">
        {r.now.visited === 0 ? "–" : r.now.visited.toLocaleString(locale)}
        <Change now={r.now.visited} before={r.before.visited} />
      </td>
      <CountCell n={r.now.joined} of={joinedOf(r.now)} />
      <CountCell n={r.now.bought} of={boughtOf(r.now)} />
      <td className="pl-4 text-right">
        {r.now.income === 0 ? "–" : moneyText(r.now.income, currency)}
        <Change now={r.now.income} before={r.before.income} />
      </td>
      <EachCell value={r.value} currency={currency} />
      <td className="pl-4 text-right">
        {/* A funnel that sells nothing gives people to others. */}
        {r.click === null || (by === "funnel" && r.now.orders === 0) ? "–" : moneyText(r.click, currency)}
      </td>
      {costs ? (
        <>
          <td className="pl-4 text-right">
            {r.cost === null && codeOfSource(r.key) !== null ? (
              // Affiliates are paid by commissions, which are taken off already.
              "–"
            ) : r.cost === null ? (
              <TextLink href={`/studio/numbers/costs?source=${encodeURIComponent(r.key)}`}>Type it</TextLink>
            ) : (
              <>
                {moneyText(r.cost.cost, currency)}
                {r.cost.buyer === null ? null : (
                  <span className="block whitespace-nowrap text-note font-normal text-soft">
                    {moneyText(Math.round(r.cost.buyer), currency)} a buyer
                  </span>
                )}
              </>
            )}
          </td>
          <td className="pl-4 text-right">
            {r.cost === null ? (
              "–"
            ) : (
              <>
                {r.cost.back === null ? "–" : `${r.cost.back.toLocaleString(locale, { maximumFractionDigits: 2 })} ×`}
                <span className={`block whitespace-nowrap text-note font-semibold ${verdicts[r.cost.verdict].tone}`}>
                  {verdicts[r.cost.verdict].says}
                </span>
              </>
            )}
          </td>
        </>
      ) : null}
    </tr>
  )
}
