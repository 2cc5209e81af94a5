import { studio } from "@/app/door"
import { locale } from "@/core/words/locale"
import { listFunnels } from "@/server/funnel/funnel-view"
import { cameBetween, wentBy } from "@/server/funnel/rollup"
import { schoolZone } from "@/server/school-view"
import { Button } from "@/ui/button"
import { Link } from "@/ui/link"
import { Table } from "@/ui/table"
import { day } from "../words"

export const metadata = { title: "Funnels" }

export default async function FunnelsPage() {
  const s = await studio()
  const zone = await schoolZone(s.db)
  const funnels = await listFunnels(s.db)
  const ever = { from: 0, to: Math.ceil((await s.clock.now()) / 900_000 + 1) * 900_000 }
  const came = await cameBetween(s.db, ever)
  const joined = await wentBy(s.db, ever, ["confirmed", "bought"])
  return (
    <div className="mx-auto max-w-4xl pt-4">
      <div className="flex items-center justify-between">
        <h1>Funnels</h1>
        <Button asChild look="primary">
          <Link href="/studio/funnels/new">New funnel</Link>
        </Button>
      </div>
      {funnels.length === 0 ? (
        <p className="mt-8 text-lg">There is no funnel yet. Make the first: it takes a course and a minute.</p>
      ) : (
        <Table
          className="mt-5"
          columns={[
            { says: "Name" },
            { says: "Status" },
            { says: "Came", right: true },
            { says: "Joined or bought", right: true },
            { says: "Last changed", right: true },
          ]}
        >
          {funnels.map((f) => (
            <tr key={f.id} className="border-b border-line">
              <td className="max-w-72 truncate py-2.5">
                <Link href={`/studio/funnels/${f.id}`} className="font-semibold text-slate hover:underline">
                  {f.name}
                </Link>
              </td>
              <td>
                {f.live && f.at ? (
                  <span className="rounded-full bg-reed-wash px-2 py-0.5 text-[0.87rem] text-reed">
                    Live since {day(f.at, zone)}
                  </span>
                ) : (
                  <span className="text-soft">Draft</span>
                )}
              </td>
              <td className="text-right">{(came.get(f.id) ?? 0).toLocaleString(locale)}</td>
              <td className="text-right">{(joined.get(f.id) ?? 0).toLocaleString(locale)}</td>
              <td className="text-right text-soft">{day(f.changed_at, zone)}</td>
            </tr>
          ))}
        </Table>
      )}
    </div>
  )
}
