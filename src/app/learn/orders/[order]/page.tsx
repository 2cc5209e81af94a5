import type { Metadata } from "next"
import { notFound, redirect } from "next/navigation"
import { admitted, context } from "@/app/guard"
import { moneyText } from "@/core/offer/money"
import { myOrders } from "@/server/ledger/my-orders"
import { dayIn } from "@/server/offer/shown"
import { schoolHead } from "@/server/school-view"
import { TextLink } from "@/ui/link"

type Params = { params: Promise<{ order: string }> }

export async function generateMetadata({ params }: Params): Promise<Metadata> {
  return { title: `Receipt ${Number((await params).order) || ""}` }
}

export default async function ReceiptPage({ params }: Params) {
  const asked = (await params).order
  const who = await admitted()
  if (who === null) redirect(`/learn/sign-in?to=${encodeURIComponent("/learn/orders")}`)
  const s = context()
  const order = /^[1-9]\d{0,8}$/.test(asked) ? (await myOrders(s.db, who, Number(asked)))[0] : undefined
  if (!order) notFound()
  const school = await schoolHead(s.db)
  const money = (minor: number) => moneyText(minor, order.currency)
  return (
    <>
      <h1>Receipt {order.id}</h1>
      <p className="mt-2 text-soft">
        {school.name}
        {school.postalAddress ? `, ${school.postalAddress}` : ""}
      </p>
      <p className="mt-1 text-soft">{dayIn(order.at.getTime(), order.zone)}</p>
      <table className="mt-4 w-full text-left tabular-nums">
        <thead className="sr-only">
          <tr>
            <th>What</th>
            <th>Amount</th>
          </tr>
        </thead>
        <tbody>
          {order.bought.map((b) => (
            <tr key={b.name} className="border-t border-line">
              <td className="py-2 [overflow-wrap:anywhere]">{b.name}</td>
              <td className="text-right">{money(b.gross)}</td>
            </tr>
          ))}
          <tr className="border-t-2 border-line font-semibold">
            <td className="py-2">Paid</td>
            <td className="text-right">{money(order.gross)}</td>
          </tr>
          {order.tax > 0 ? (
            <tr className="text-soft">
              <td className="py-1">Of it tax{order.rate ? ` (${order.rate})` : ""}</td>
              <td className="text-right">{money(order.tax)}</td>
            </tr>
          ) : null}
          {order.refunded > 0 ? (
            <tr className="border-t border-line">
              <td className="py-2">Refunded</td>
              <td className="text-right">{money(order.refunded)}</td>
            </tr>
          ) : null}
        </tbody>
      </table>
      <p className="mt-4">{order.says}</p>
      <p className="mt-8">
        <TextLink href="/learn/orders">My orders</TextLink>
      </p>
    </>
  )
}
