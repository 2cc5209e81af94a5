// Orders that nobody paid are forgotten after a while: they hold what a stranger typed, and nothing was sold by them.
import type { Context } from "../context"

/** How long an order that was never paid is kept, ms of business time. */
export const unpaidFor = 60 * 86_400_000

const batch = 500

/** Forgets orders that were begun, refused or given up that long ago, with their lines and tries; gives how many. */
export async function sweepOrders(s: Context): Promise<number> {
  const before = new Date((await s.clock.now()) - unpaidFor)
  return s.db.transaction(async (tx) => {
    const old = await tx.rows<{ id: number }>(
      `SELECT o.id FROM orders o WHERE o.state IN ('begun', 'refused', 'lapsed') AND o.made_at < ?
       AND NOT EXISTS (SELECT 1 FROM charge c WHERE c.order_id = o.id AND c.state IN ('sending', 'confirming', 'succeeded'))
       AND NOT EXISTS (SELECT 1 FROM orders f WHERE f.first_id = o.id) ORDER BY o.made_at LIMIT ? FOR UPDATE SKIP LOCKED`,
      [before, batch],
    )
    if (!old.length) return 0
    const ids = [old.map((o) => o.id)]
    await tx.write("DELETE FROM charge WHERE order_id IN (?)", ids)
    await tx.write("DELETE FROM answer WHERE order_id IN (?)", ids)
    await tx.write("DELETE FROM order_line WHERE order_id IN (?)", ids)
    await tx.write("DELETE FROM orders WHERE id IN (?)", ids)
    return old.length
  })
}
