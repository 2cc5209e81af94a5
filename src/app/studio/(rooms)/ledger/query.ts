// What the address of the orders asks for.
import { type OrderState, orderStates } from "@/core/ledger/order"
import type { OrdersQuery } from "@/server/ledger/orders"
import { dayStart, pageOf } from "../asked"

export type AskedOrders = {
  search?: string
  state?: string
  offer?: string
  post?: string
  from?: string
  to?: string
  page?: string
}

/** Days are of the school's zone; `to` is the last of them. */
export function ordersQuery(asked: AskedOrders, zone: string): OrdersQuery {
  return {
    search: (asked.search ?? "").slice(0, 200),
    state: Object.hasOwn(orderStates, asked.state ?? "") ? (asked.state as OrderState) : null,
    offer: Number(asked.offer) || null,
    post: asked.post === "1",
    from: dayStart(asked.from, zone, 0),
    to: dayStart(asked.to, zone, 1),
    page: pageOf(asked.page),
  }
}
