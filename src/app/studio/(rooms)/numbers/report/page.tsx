import { studio, studioSession } from "@/app/guard"
import { reportDays, storyOf } from "@/core/numbers/report"
import { moneyText } from "@/core/offer/money"
import { locale } from "@/core/words/locale"
import { funnelNames } from "@/server/numbers/brought"
import { reportOf } from "@/server/numbers/report"
import { accountOf } from "@/server/person/account"
import { schoolZone } from "@/server/school-view"
import { Button } from "@/ui/button"
import { Table } from "@/ui/table"
import { FirstCame, OneFunnel } from "../asked-fields"
import { type AskedNumbers, funnelOf, periodOf } from "../query"
import { EachMonday } from "./each-monday"

export const metadata = { title: "Report" }

/** The story of a period, to read, to print and to send. */
export default async function ReportPage({ searchParams }: { searchParams: Promise<AskedNumbers> }) {
  const s = await studio()
  const asked = await searchParams
  const period = periodOf(asked, await schoolZone(s.db), await s.clock.now())
  const funnel = funnelOf(asked)
  const [report, funnels] = [await reportOf(s, period, funnel), await funnelNames(s.db)]
  const { mailsReport } = await accountOf(s.db, (await studioSession()).account)
  const query = new URLSearchParams({ from: period.from, to: period.to, ...(funnel ? { funnel: String(funnel) } : {}) })
  return (
    <>
      <div className="mt-4 flex flex-wrap items-end justify-between gap-x-4 gap-y-2">
        <h1>Report</h1>
        <div className="flex flex-wrap items-center gap-2">
          <EachMonday on={mailsReport} />
          <Button asChild>
            <a href={`/studio/numbers/report/numbers.pdf?${query}`} download>
              As PDF
            </a>
          </Button>
          <Button asChild>
            <a href={`/studio/numbers/brought.csv?${query}`} download>
              As CSV
            </a>
          </Button>
        </div>
      </div>
      <search>
        <form action="/studio/numbers/report" className="mt-3 flex flex-wrap items-center gap-2">
          <OneFunnel funnels={funnels} value={funnel} />
          <FirstCame period={period} />
          <Button type="submit">Show</Button>
        </form>
      </search>
      <article className="mt-6 max-w-3xl">
        <h2>
          <bdi>{report.funnel ?? "All funnels"}</bdi>, {reportDays(report)}
        </h2>
        {storyOf(report).map((sentence, i) => (
          <p key={sentence} className={i === 0 ? "mt-3 font-display text-2xl leading-snug" : "mt-2 text-lg"}>
            {sentence}
          </p>
        ))}
      </article>
      {report.sources.length ? (
        <Table
          className="mt-6 max-w-4xl min-w-[44rem] tabular-nums"
          columns={[
            { says: "Source" },
            { says: "Visited", right: true, wide: "w-24" },
            { says: "Joined", right: true, wide: "w-24" },
            { says: "Bought", right: true, wide: "w-24" },
            { says: "Income", right: true, wide: "w-32" },
            { says: "Most for a click", right: true, wide: "w-36" },
            { says: "Cost", right: true, wide: "w-28" },
          ]}
        >
          {[...report.sources, report.all].map((r) => (
            <tr key={r.name} className={`border-b border-line ${r === report.all ? "font-semibold" : ""}`}>
              <td className="max-w-56 truncate py-1.5 pr-3">
                <bdi>{r.name}</bdi>
              </td>
              {[r.visited, r.joined, r.bought].map((n, i) => (
                <td key={["visited", "joined", "bought"][i]} className="text-right">
                  {n.toLocaleString(locale)}
                </td>
              ))}
              <td className="text-right">{moneyText(r.income, report.currency)}</td>
              <td className="text-right">{r.click === null ? "–" : moneyText(r.click, report.currency)}</td>
              <td className="text-right">{r.cost === null ? "–" : moneyText(r.cost, report.currency)}</td>
            </tr>
          ))}
        </Table>
      ) : null}
    </>
  )
}
