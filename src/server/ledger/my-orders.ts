// Orders as their buyer sees them: what, when, how much, and the receipt.

import { type OrderState, orderStateWords } from "@/core/ledger/order"
import { readPlan } from "@/core/offer/plan-document"
import { pastSentence } from "@/core/offer/sentence"
import { rateText } from "@/core/offer/tax"
import type { Db } from "../db/pool"
import type { Row } from "../db/row"
import { dayKey } from "../offer/shown"
import { type Admitted, admittedAs } from "../person/session"

export type MyOrder = {
  readonly id: number
  readonly at: Date
  readonly zone: string
  readonly bought: readonly { readonly name: string; readonly gross: number }[]
  readonly currency: string
  readonly net: number
  readonly tax: number
  readonly gross: number
  readonly rate: string | null
  readonly refunded: number
  readonly status: string
  readonly says: string
}

/** The orders of a person, the newest first: all, or those by which a device was let in; one of them where its number is given. */
export async function myOrders(db: Db, who: Admitted, one: number | null = null): Promise<MyOrder[]> {
  const orders = await db.rows<
    Pick<Row<"orders">, "id" | "zone" | "currency" | "net" | "tax" | "gross"> & {
      paid_at: Date
      state: OrderState
      refunded: number
    }
  >(
    `SELECT o.id, o.paid_at, o.zone, o.currency, o.net, o.tax, o.gross, o.state, (SELECT COALESCE(SUM(c.refunded), 0) FROM charge c WHERE c.order_id = o.id) AS refunded
     FROM orders o WHERE o.person_id = ? AND o.state IN ('paid', 'refunded') AND (? IS NULL OR FIND_IN_SET(COALESCE(o.first_id, o.id), ?)) AND (? IS NULL OR o.id = ?)
     ORDER BY o.id DESC LIMIT 200`,
    [admittedAs(who), who.scope, who.scope, one, one],
  )
  const lines = await db.rows<{ order_id: number; name: string; gross: number; plan: string }>(
    "SELECT order_id, name, gross, plan FROM order_line WHERE order_id IN (?) ORDER BY id",
    [[0, ...orders.map((o) => o.id)]],
  )
  return orders.map((o) => {
    const of = lines.filter((l) => l.order_id === o.id)
    const plans = of.map((l) => readPlan(l.plan))
    const rate = plans[0]?.tax.rate ?? 0
    return {
      id: o.id,
      at: o.paid_at,
      zone: o.zone,
      bought: of.map((l) => ({ name: l.name, gross: l.gross })),
      currency: o.currency,
      net: o.net,
      tax: o.tax,
      gross: o.gross,
      rate: rate > 0 ? rateText(rate) : null,
      refunded: o.refunded,
      status: orderStateWords(o.state, o.refunded),
      says: pastSentence(plans, dayKey(o.paid_at.getTime(), o.zone)),
    }
  })
}
