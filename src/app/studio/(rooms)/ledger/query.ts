// What the address of the orders asks for.
import { Temporal } from "temporal-polyfill"
import { type OrderState, orderStates } from "@/core/ledger/order"
import type { OrdersQuery } from "@/server/ledger/orders"

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
    page: Math.min(100_000, Math.max(0, (Number(asked.page) || 1) - 1)),
  }
}

function dayStart(day: string | undefined, zone: string, after: number): number | null {
  if (!day || !/^\d{4}-\d{2}-\d{2}$/.test(day)) return null
  try {
    return Temporal.PlainDate.from(day).add({ days: after }).toZonedDateTime(zone).epochMilliseconds
  } catch {
    return null
  }
}
