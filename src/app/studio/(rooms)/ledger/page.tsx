import { studio } from "@/app/guard"
import { orderStates, orderStateWords } from "@/core/ledger/order"
import { moneyText } from "@/core/offer/money"
import { locale } from "@/core/words/locale"
import { countOrders, listOrders, pageOfOrders } from "@/server/ledger/orders"
import { sellingRules } from "@/server/offer/offer"
import { offerNames } from "@/server/offer/offer-view"
import { Button } from "@/ui/button"
import { OnlyWith, SearchBox } from "@/ui/filter"
import { Link, TextLink } from "@/ui/link"
import { Pager } from "@/ui/pager"
import { Table } from "@/ui/table"
import { studioMoment } from "../words"
import { type AskedOrders, ordersQuery } from "./query"

export const metadata = { title: "Ledger" }

export default async function OrdersPage({ searchParams }: { searchParams: Promise<AskedOrders> }) {
  const s = await studio()
  const asked = await searchParams
  const { zone } = await sellingRules(s.db)
  const query = ordersQuery(asked, zone)
  const [orders, total, offers] = await Promise.all([
    listOrders(s.db, query),
    countOrders(s.db, query),
    offerNames(s.db),
  ])
  const address = (path: string, page?: number) => {
    const next = new URLSearchParams()
    for (const [k, v] of Object.entries({ ...asked, page: page ? String(page + 1) : undefined })) if (v) next.set(k, v)
    return `${path}?${next}`
  }
  const filtered =
    query.search !== "" ||
    query.state !== null ||
    query.offer !== null ||
    query.post ||
    query.from !== null ||
    query.to !== null
  return (
    <>
      <div className="mt-4 flex flex-wrap items-end justify-between gap-x-4 gap-y-2">
        <h1>
          Orders{" "}
          <span className="font-sans text-base font-normal text-soft tabular-nums">{total.toLocaleString(locale)}</span>
        </h1>
        <div className="flex gap-2">
          <Button asChild>
            <a href={address("/studio/ledger/orders.csv")} download>
              Orders as CSV
            </a>
          </Button>
          <Button asChild>
            <a href={address("/studio/ledger/charges.csv")} download>
              Charges as CSV
            </a>
          </Button>
        </div>
      </div>
      <div className="mt-3">
        <search>
          <form action="/studio/ledger" className="flex flex-wrap items-center gap-2">
            <SearchBox
              label="Search by number, name or address"
              placeholder="Number, name or address"
              value={query.search}
            />
            <OnlyWith
              name="state"
              label="Status"
              any="Any status"
              value={query.state}
              options={Object.entries(orderStates).map(([value, says]) => ({ value, says }))}
            />
            <OnlyWith
              name="offer"
              label="Only with this offer"
              any="Any offer"
              value={query.offer}
              options={offers.map((o) => ({ value: o.id, says: o.name }))}
            />
            {(["from", "to"] as const).map((name) => (
              <label key={name} className="flex items-center gap-1.5 whitespace-nowrap">
                {name === "from" ? "From" : "until"}
                <input
                  type="date"
                  name={name}
                  aria-label={name === "from" ? "From: placed on or after" : "Placed until"}
                  defaultValue={asked[name] ?? ""}
                  className="w-36 rounded-md border border-line bg-card px-2 py-1.5"
                />
              </label>
            ))}
            <label className="flex items-center gap-1.5 py-1.5 whitespace-nowrap">
              <input type="checkbox" name="post" value="1" defaultChecked={query.post} className="accent-slate" />
              To be posted
            </label>
            <Button type="submit">Search</Button>
          </form>
        </search>
      </div>
      {orders.length === 0 ? (
        <p className="mt-8 text-lg">
          {filtered ? (
            <>
              No order fits that. <TextLink href="/studio/ledger">Show all</TextLink>
            </>
          ) : (
            <>
              Nobody has ordered yet. Orders come through a funnel that sells:{" "}
              <TextLink href="/studio/funnels/new">make one</TextLink>.
            </>
          )}
        </p>
      ) : (
        <>
          <Table
            className="mt-4 table-fixed min-w-[61rem]"
            columns={[
              { says: "Order", wide: "w-36" },
              { says: "Date", wide: "w-44" },
              { says: "Buyer", wide: "w-60" },
              { says: "Bought" },
              { says: "Status", wide: "w-44" },
              { says: "First payment", wide: "w-28", right: true },
            ]}
          >
            {orders.map((o) => (
              <tr key={o.id} className="border-b border-line">
                <td className="py-1.5">
                  <Link
                    href={`/studio/ledger/orders/${o.first_id ?? o.id}`}
                    className="font-semibold text-slate tabular-nums hover:underline"
                  >
                    {o.id}
                  </Link>
                  {o.first_id ? <span className="text-label text-soft"> after {o.first_id}</span> : null}
                </td>
                <td>{studioMoment(o.made_at, zone)}</td>
                <td className="truncate pr-3">
                  <bdi>{o.name || "No name"}</bdi> <span className="text-soft">{o.email}</span>
                </td>
                <td className="truncate pr-3">{o.bought}</td>
                <td
                  className={o.state === "paid" && !o.refunded ? "" : o.state === "refused" ? "text-dusk" : "text-soft"}
                >
                  {orderStateWords(o.state, o.refunded)}
                </td>
                <td className="text-right">{moneyText(o.gross, o.currency)}</td>
              </tr>
            ))}
          </Table>
          <Pager
            page={query.page}
            size={pageOfOrders}
            shown={orders.length}
            total={total}
            href={(page) => address("/studio/ledger", page)}
          />
        </>
      )}
    </>
  )
}
