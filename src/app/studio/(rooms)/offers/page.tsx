import { studio } from "@/app/guard"
import { countedAs, figures } from "@/core/words/figures"
import { locale } from "@/core/words/locale"
import { courseNames } from "@/server/course/course-view"
import { listOffers } from "@/server/offer/list"
import { Link } from "@/ui/link"
import { Table } from "@/ui/table"
import { NewOffer } from "./new-offer"

export const metadata = { title: "Offers" }

export default async function OffersPage({ searchParams }: { searchParams: Promise<{ new?: string }> }) {
  const s = await studio()
  const offers = await listOffers(s)
  return (
    <>
      <h1 className="mt-4">Offers</h1>
      <NewOffer
        courses={await courseNames(s.db)}
        open={offers.length === 0 || (await searchParams).new !== undefined}
      />
      {offers.length === 0 ? (
        <p className="mt-6 text-lg">
          An offer is something you sell or give away: what it gives, and how it is paid. Make the first one above.
        </p>
      ) : (
        <Table
          className="mt-5 table-fixed min-w-[60rem]"
          columns={[
            { says: "Name", wide: "w-56" },
            { says: "Gives", wide: "w-52" },
            { says: "How it is paid" },
            { says: "Sold in", wide: "w-40" },
            { says: figures.sold.name, wide: "w-24", right: true },
            { says: "Left", wide: "w-28", right: true },
          ]}
        >
          {offers.map((o) => (
            <tr key={o.id} className="border-b border-line align-top">
              <td className="py-2.5 pr-3">
                <Link
                  href={`/studio/offers/${o.id}`}
                  className="font-semibold text-slate [overflow-wrap:anywhere] hover:underline"
                >
                  {o.internalName || o.publicName}
                </Link>
              </td>
              <td className="py-2.5 pr-3 [overflow-wrap:anywhere]">
                {o.gives.length ? o.gives.join(", ") : <span className="text-amber-text">Nothing yet</span>}
              </td>
              <td className="py-2.5 pr-3 text-body">
                {o.ways.map((w) => (
                  <p key={w}>{w}</p>
                ))}
              </td>
              <td className="py-2.5 pr-3 text-body text-soft">{o.funnels.join(", ") || "no funnel yet"}</td>
              <td className="py-2.5 text-right">{o.sold.toLocaleString(locale)}</td>
              <td className="py-2.5 text-right">{o.note}</td>
            </tr>
          ))}
        </Table>
      )}
      {offers.length ? <p className="mt-3 text-note text-soft">Since the beginning. {countedAs(["sold"])}</p> : null}
    </>
  )
}
