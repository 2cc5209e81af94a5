import { studio } from "@/app/door"
import { exportOrders } from "@/server/ledger/orders"
import { ordersQuery } from "../query"

/** The orders that fit, as CSV, a thousand at a time. */
export async function GET(request: Request): Promise<Response> {
  const s = await studio()
  const asked = Object.fromEntries(new URL(request.url).searchParams)
  const pieces = exportOrders(s.db, ordersQuery(asked))
  const encoder = new TextEncoder()
  const body = new ReadableStream<Uint8Array>({
    async pull(controller) {
      const { value, done } = await pieces.next()
      if (done) controller.close()
      else controller.enqueue(encoder.encode(value))
    },
  })
  return new Response(body, {
    headers: {
      "content-type": "text/csv; charset=utf-8; header=present",
      "content-disposition": 'attachment; filename="orders.csv"',
      "cache-control": "no-store",
    },
  })
}
