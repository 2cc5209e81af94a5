import { studio } from "@/app/door"
import { orderStates, stateWords } from "@/core/ledger/order"
import { moneyText } from "@/core/offer/money"
import { countOrders, listOrders, orderPage } from "@/server/ledger/orders"
import { Button } from "@/ui/button"
import { Link } from "@/ui/link"
import { Pager } from "@/ui/pager"
import { longMoment } from "../words"
import { type AskedOrders, ordersQuery } from "./query"

export const metadata = { title: "Ledger" }

export default async function OrdersPage({ searchParams }: { searchParams: Promise<AskedOrders> }) {
  const s = await studio()
  const asked = await searchParams
  const query = ordersQuery(asked)
  const [orders, total, offers, school] = await Promise.all([
    listOrders(s.db, query),
    countOrders(s.db, query),
    s.db.rows<{ id: number; name: string }>("SELECT id, public_name AS name FROM offer ORDER BY public_name LIMIT 500"),
    s.db.row<{ zone: string }>("SELECT zone FROM school WHERE id = 1"),
  ])
  const zone = school?.zone ?? "UTC"
  const address = (path: string, page?: number) => {
    const next = new URLSearchParams()
    for (const [k, v] of Object.entries({ ...asked, page: page ? String(page + 1) : undefined })) if (v) next.set(k, v)
    return `${path}?${next}`
  }
  const filtered = query.search !== "" || query.state !== null || query.offer !== null || query.post
  return (
    <>
      <div className="mt-4 flex flex-wrap items-end justify-between gap-4">
        <h1>
          Orders{" "}
          <span className="font-sans text-base font-normal text-soft tabular-nums">
            {total.toLocaleString("en-GB")}
          </span>
        </h1>
        <div className="flex items-end gap-2">
          <search>
            <form action="/studio/ledger" className="flex items-end gap-2">
              <input
                name="search"
                type="search"
                aria-label="Search by number, name or address"
                placeholder="Number, name or address"
                defaultValue={query.search}
                className="w-56 rounded-md border border-line bg-card px-2.5 py-1.5"
              />
              <select
                name="state"
                aria-label="Only in this state"
                defaultValue={query.state ?? ""}
                className="max-w-36 rounded-md border border-line bg-card px-2 py-1.5"
              >
                <option value="">any state</option>
                {Object.entries(orderStates).map(([state, says]) => (
                  <option key={state} value={state}>
                    {says}
                  </option>
                ))}
              </select>
              <select
                name="offer"
                aria-label="Only with this offer"
                defaultValue={query.offer ?? ""}
                className="max-w-36 rounded-md border border-line bg-card px-2 py-1.5"
              >
                <option value="">any offer</option>
                {offers.map((o) => (
                  <option key={o.id} value={o.id}>
                    {o.name}
                  </option>
                ))}
              </select>
              <label className="flex items-center gap-1.5 py-1.5 whitespace-nowrap">
                <input type="checkbox" name="post" value="1" defaultChecked={query.post} className="accent-slate" />
                to send
              </label>
              <Button type="submit">Look</Button>
            </form>
          </search>
          <Button asChild>
            <a href={address("/studio/ledger/orders.csv")} download>
              As CSV
            </a>
          </Button>
        </div>
      </div>
      {orders.length === 0 ? (
        <p className="mt-8 text-lg">
          {filtered ? (
            <>
              No order fits that.{" "}
              <Link className="text-slate underline" href="/studio/ledger">
                Show all
              </Link>
            </>
          ) : (
            <>
              Nobody has ordered yet. Orders come through a funnel that sells:{" "}
              <Link className="text-slate underline" href="/studio/funnels/new">
                make one
              </Link>
              .
            </>
          )}
        </p>
      ) : (
        <>
          <table className="mt-4 w-full table-fixed text-left">
            <thead className="text-[0.87rem] text-soft">
              <tr className="border-b border-line">
                <th className="w-36 py-2 font-semibold">Order</th>
                <th className="w-44 font-semibold">placed</th>
                <th className="w-60 font-semibold">by</th>
                <th className="font-semibold">bought</th>
                <th className="w-44 font-semibold">stands</th>
                <th className="w-28 text-right font-semibold">first day</th>
              </tr>
            </thead>
            <tbody>
              {orders.map((o) => (
                <tr key={o.id} className="border-b border-line">
                  <td className="py-1.5">
                    <Link
                      href={`/studio/ledger/orders/${o.first_id ?? o.id}`}
                      className="font-semibold text-slate tabular-nums hover:underline"
                    >
                      {o.id}
                    </Link>
                    {o.first_id ? <span className="text-[0.87rem] text-soft"> after {o.first_id}</span> : null}
                  </td>
                  <td>{longMoment(o.made_at, zone)}</td>
                  <td className="truncate pr-3">
                    {o.name || "no name"} <span className="text-soft">{o.email}</span>
                  </td>
                  <td className="truncate pr-3">{o.bought}</td>
                  <td
                    className={
                      o.state === "paid" && !o.refunded ? "" : o.state === "refused" ? "text-dusk" : "text-soft"
                    }
                  >
                    {stateWords(o.state, o.refunded)}
                  </td>
                  <td className="text-right">{moneyText(o.gross, o.currency)}</td>
                </tr>
              ))}
            </tbody>
          </table>
          <Pager
            page={query.page}
            size={orderPage}
            shown={orders.length}
            total={total}
            href={(page) => address("/studio/ledger", page)}
          />
        </>
      )}
    </>
  )
}
