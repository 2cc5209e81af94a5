import { studio } from "@/app/guard"
import { countedAs, figures } from "@/core/words/figures"
import { locale } from "@/core/words/locale"
import { listFunnels } from "@/server/funnel/funnel-view"
import { cameBetween, wentBy } from "@/server/funnel/rollup"
import { schoolZone } from "@/server/school-view"
import { Button } from "@/ui/button"
import { Link } from "@/ui/link"
import { Table } from "@/ui/table"
import { PlaceTabs } from "../place-tabs"
import { day } from "../words"
import { rangeOf } from "./[id]/range"

export const metadata = { title: "Funnels" }

export default async function FunnelsPage() {
  const s = await studio()
  const zone = await schoolZone(s.db)
  const funnels = await listFunnels(s.db)
  // The days that a funnel opens with, so that the list and the river say the same.
  const range = rangeOf({}, zone, await s.clock.now(), 0)
  const [visited, signedUp, confirmed, bought] = await Promise.all([
    cameBetween(s.db, range),
    wentBy(s.db, range, ["joined", "registered", "applied"]),
    wentBy(s.db, range, ["confirmed"]),
    wentBy(s.db, range, ["bought"]),
  ])
  const count = (of: ReadonlyMap<number, number>, funnel: number) => of.get(funnel)?.toLocaleString(locale) ?? "–"
  return (
    <div className="mx-auto max-w-4xl pt-4">
      <div className="flex items-center justify-between">
        <h1>Funnels</h1>
        <Button asChild look="primary">
          <Link href="/studio/funnels/new">New funnel</Link>
        </Button>
      </div>
      <PlaceTabs of="funnels" className="mt-2" />
      {funnels.length === 0 ? (
        <p className="mt-8 text-lg">There is no funnel yet. Make the first: it takes a course and a minute.</p>
      ) : (
        <Table
          className="mt-5"
          columns={[
            { says: "Name" },
            { says: "Status" },
            { says: figures.visited.name, right: true },
            { says: figures.signedUp.name, right: true },
            { says: figures.confirmed.name, right: true },
            { says: figures.bought.name, right: true },
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
                  <span className="rounded-full bg-reed-wash px-2 py-0.5 text-label text-reed">
                    Live since {day(f.at, zone)}
                  </span>
                ) : (
                  <span className="text-soft">Draft</span>
                )}
              </td>
              <td className="text-right tabular-nums">{count(visited, f.id)}</td>
              <td className="text-right tabular-nums">{count(signedUp, f.id)}</td>
              <td className="text-right tabular-nums">{count(confirmed, f.id)}</td>
              <td className="text-right tabular-nums">{count(bought, f.id)}</td>
              <td className="text-right text-soft">{day(f.changed_at, zone)}</td>
            </tr>
          ))}
        </Table>
      )}
      {funnels.length ? (
        <p className="mt-3 text-note text-soft">
          Of those who first came in the last 21 days. {countedAs(["visited", "signedUp", "confirmed", "bought"])}
        </p>
      ) : null}
    </div>
  )
}
