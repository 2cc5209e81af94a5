import { studio } from "@/app/guard"
import { report } from "@/server/affiliate/report"
import { schoolZone } from "@/server/school-view"
import { Button } from "@/ui/button"
import { OnlyWith } from "@/ui/filter"
import { Pager } from "@/ui/pager"
import { Table } from "@/ui/table"
import { pageOf } from "../../asked"
import { Days } from "../days"
import { type AskedDays, between } from "../query"
import { BroughtCells, broughtColumns } from "../words"
import { keys, type ReportAsked, reportKey } from "./keys"

export const metadata = { title: "Report" }

/** Rows on a page. */
const rowsPage = 100

export default async function ReportPage({
  searchParams,
}: {
  searchParams: Promise<ReportAsked & AskedDays & { page?: string }>
}) {
  const s = await studio()
  const asked = await searchParams
  const by = reportKey(asked.by)
  const zone = await schoolZone(s.db)
  const rows = await report(s.db, by, between(asked, zone))
  const page = pageOf(asked.page)
  const shown = rows.slice(page * rowsPage, (page + 1) * rowsPage)
  const query = new URLSearchParams(Object.entries(asked).flatMap(([k, v]) => (v ? [[k, String(v)]] : [])))
  return (
    <>
      <div className="mt-4 flex flex-wrap items-end justify-between gap-x-4 gap-y-2">
        <h1>Report</h1>
        <Button asChild>
          <a href={`/studio/affiliates/report/report.csv?${query}`} download>
            As CSV
          </a>
        </Button>
      </div>
      <search>
        <form action="/studio/affiliates/report" className="mt-3 flex flex-wrap items-center gap-2">
          <OnlyWith
            name="by"
            label="By"
            any="By affiliate"
            value={by === "affiliate" ? null : by}
            options={keys.filter((k) => k.value !== "affiliate")}
          />
          <Days asked={asked} what="clicks, joins and sales" />
          <Button type="submit">Show</Button>
        </form>
      </search>
      {rows.length === 0 ? (
        <p className="mt-8 text-lg">Nobody clicked, joined or bought by a recommendation then.</p>
      ) : (
        <Table
          className="mt-4 min-w-[55rem] table-fixed tabular-nums"
          columns={[{ says: keys.find((k) => k.value === by)!.column }, ...broughtColumns(by !== "offer")]}
        >
          {shown.map((r) => (
            <tr key={r.key} className="border-b border-line">
              <td className="py-1.5 pr-3">
                <span className="block truncate">
                  <bdi>{r.name}</bdi>
                </span>
                {by === "link" ? (
                  <span className="block truncate text-label text-soft">{r.more || "without a name"}</span>
                ) : null}
              </td>
              <BroughtCells b={r} clicks={by !== "offer"} />
            </tr>
          ))}
        </Table>
      )}
      <Pager
        page={page}
        size={rowsPage}
        shown={shown.length}
        total={rows.length}
        href={(n) => {
          query.set("page", String(n + 1))
          return `/studio/affiliates/report?${query}`
        }}
      />
    </>
  )
}
