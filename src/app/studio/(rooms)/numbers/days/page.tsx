import { studio } from "@/app/guard"
import { moneyRound } from "@/core/offer/money"
import { funnelNames, likelyFunnel } from "@/server/numbers/brought"
import { daysOver } from "@/server/numbers/days-view"
import { countedRange } from "@/server/numbers/forecast"
import { sellingRules } from "@/server/offer/offer"
import { Button } from "@/ui/button"
import { TextLink } from "@/ui/link"
import { Table } from "@/ui/table"
import { ChooseFunnel, TitleWithCsv } from "../asked-fields"
import { type AskedNumbers, funnelOf } from "../query"
import { isOutside, nameOfDay } from "./day"
import { DaysChart } from "./days-chart"

export const metadata = { title: "Forecast and actual" }

/** A funnel day by day: what was forecast, what came, and how good earlier forecasts were. */
export default async function DaysPage({ searchParams }: { searchParams: Promise<AskedNumbers> }) {
  const s = await studio()
  const asked = await searchParams
  const { currency } = await sellingRules(s.db)
  const funnels = await funnelNames(s.db)
  const range = countedRange(await s.clock.now())
  const id = funnelOf(asked) ?? (await likelyFunnel(s.db, range, currency))
  const over = await daysOver(s, id)
  return (
    <>
      <TitleWithCsv title="Forecast and actual" href={`/studio/numbers/days/days.csv?funnel=${id}`} />
      <search>
        <form action="/studio/numbers/days" className="mt-3 flex flex-wrap items-center gap-2">
          <ChooseFunnel funnels={funnels} value={id} />
          <Button type="submit">Show</Button>
        </form>
      </search>
      {over.latest === null ? (
        <p className="mt-8 max-w-2xl text-lg">
          Nothing was forecast of this funnel yet. That is done each Monday, and whenever you{" "}
          <TextLink href={`/studio/numbers/forecast?funnel=${id}`}>keep a forecast</TextLink>.
        </p>
      ) : (
        <>
          <p className="mt-4 max-w-3xl font-display text-2xl leading-snug">
            {over.of === 0 ? (
              "No day of a forecast is over yet."
            ) : (
              <>
                <strong>
                  {over.within} of {over.of} days
                </strong>{" "}
                lay within what was forecast of them. Four of five are meant to.
              </>
            )}
          </p>
          <section aria-label="By day" className="mt-4">
            <DaysChart days={over.days} currency={currency} />
            <p className="mt-1 text-note text-soft">
              Line: what was kept on each day, from whoever it came. Dashed, with its band: what the latest forecast
              before that day said. Ringed: outside the band.
            </p>
            <details className="mt-2 max-w-2xl">
              <summary className="cursor-pointer text-slate">As a table</summary>
              <Table
                className="tabular-nums"
                columns={[
                  { says: "Day" },
                  { says: "Forecast", right: true, wide: "w-28" },
                  { says: "Between", right: true, wide: "w-44" },
                  { says: "Came", right: true, wide: "w-28" },
                  { says: <span className="pl-3">Band</span>, key: "outside", wide: "w-24" },
                ]}
              >
                {over.days.map((d) => (
                  <tr key={d.day} className="border-b border-line">
                    <td className="py-1">{nameOfDay(d.day)}</td>
                    <td className="text-right">{d.band ? moneyRound(d.band.mean, currency) : "–"}</td>
                    <td className="text-right">
                      {d.band ? `${moneyRound(d.band.low, currency)} to ${moneyRound(d.band.high, currency)}` : "–"}
                    </td>
                    <td className="text-right">{d.kept === null ? "–" : moneyRound(d.kept, currency)}</td>
                    <td className="pl-3 font-semibold">{isOutside(d) ? "Outside" : ""}</td>
                  </tr>
                ))}
              </Table>
            </details>
          </section>
          {over.earlier.length ? (
            <section aria-label="Earlier forecasts" className="mt-8">
              <h2>Earlier forecasts</h2>
              <Table
                className="mt-2 max-w-3xl tabular-nums"
                columns={[
                  { says: "Days that are over" },
                  { says: "Forecast", right: true, wide: "w-32" },
                  { says: "Came", right: true, wide: "w-32" },
                  { says: "Days within", right: true, wide: "w-32" },
                ]}
              >
                {over.earlier.map((e) => (
                  <tr key={e.firstDay} className="border-b border-line">
                    <td className="py-1.5">
                      {nameOfDay(e.firstDay)} to {nameOfDay(e.lastDay)}
                    </td>
                    <td className="text-right">{moneyRound(e.said, currency)}</td>
                    <td className="text-right">{moneyRound(e.came, currency)}</td>
                    <td className="text-right">
                      {e.within} of {e.of}
                    </td>
                  </tr>
                ))}
              </Table>
            </section>
          ) : null}
        </>
      )}
    </>
  )
}
