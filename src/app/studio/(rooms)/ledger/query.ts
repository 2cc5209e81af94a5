// What the address of the orders asks for.
import { type OrderState, orderStates } from "@/core/ledger/order"
import type { OrdersQuery } from "@/server/ledger/orders"

export type AskedOrders = { search?: string; state?: string; offer?: string; post?: string; page?: string }

export function ordersQuery(asked: AskedOrders): OrdersQuery {
  return {
    search: (asked.search ?? "").slice(0, 200),
    state: Object.hasOwn(orderStates, asked.state ?? "") ? (asked.state as OrderState) : null,
    offer: Number(asked.offer) || null,
    post: asked.post === "1",
    page: Math.min(100_000, Math.max(0, (Number(asked.page) || 1) - 1)),
  }
}
