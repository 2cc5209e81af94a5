import type { Metadata } from "next"
import { redirect } from "next/navigation"
import { admitted, context } from "@/app/guard"
import { moneyText } from "@/core/offer/money"
import { myOrders } from "@/server/ledger/my-orders"
import { dayIn } from "@/server/offer/shown"
import { TextLink } from "@/ui/link"

export const metadata: Metadata = { title: "My orders" }

export default async function MyOrdersPage() {
  const who = await admitted()
  if (who === null) redirect(`/learn/sign-in?to=${encodeURIComponent("/learn/orders")}`)
  const orders = await myOrders(context().db, who)
  return (
    <>
      <h1>My orders</h1>
      {orders.length === 0 ? <p className="mt-4">You have ordered nothing yet. You find your receipts here.</p> : null}
      <ul className="mt-4">
        {orders.map((o) => (
          <li key={o.id} className="border-t border-line py-3">
            <p className="flex flex-wrap justify-between gap-x-4">
              <strong className="[overflow-wrap:anywhere]">{o.bought.map((b) => b.name).join(", ")}</strong>
              <span className="tabular-nums">{moneyText(o.gross, o.currency)}</span>
            </p>
            <p className="flex flex-wrap justify-between gap-x-4 text-soft">
              <span>
                {dayIn(o.at.getTime(), o.zone)}
                {o.refunded > 0 ? `, ${moneyText(o.refunded, o.currency)} refunded` : ""}
              </span>
              <TextLink href={`/learn/orders/${o.id}`}>Receipt {o.id}</TextLink>
            </p>
          </li>
        ))}
      </ul>
      <p className="mt-8">
        <TextLink href="/learn">My courses</TextLink>
      </p>
    </>
  )
}
