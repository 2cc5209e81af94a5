// Those who began to pay and stopped: an hour later what the checkout sets off for them begins, if they agreed to be written
// to and have not bought since.
import type { Db } from "../db/pool"
import { performEffects } from "../funnel/effect"
import { makePerson } from "../person/join"
import { releaseById } from "../releases"
import type { Surroundings } from "../surroundings"
import type { OrderRow } from "./order"

/** How long somebody may take to pay, ms of business time. */
const patience = 3_600_000

const waiting =
  "o.state IN ('begun', 'refused', 'lapsed') AND o.first_id IS NULL AND o.wording <> '' AND o.stopped_at IS NULL"

/** Takes care of those whose hour is over; gives how many. */
export async function followStopped(s: Surroundings): Promise<number> {
  const at = await s.clock.now()
  return s.db.transaction(async (tx) => {
    const orders = await tx.rows<OrderRow>(
      `SELECT o.* FROM orders o WHERE ${waiting} AND o.made_at <= ? ORDER BY o.made_at LIMIT 100 FOR UPDATE SKIP LOCKED`,
      [new Date(at - patience)],
    )
    for (const order of orders) {
      await tx.write("UPDATE orders SET stopped_at = ? WHERE id = ?", [new Date(at), order.id])
      const bought = await tx.row(
        "SELECT 1 FROM orders WHERE canonical = ? AND funnel_id = ? AND state IN ('open', 'confirming', 'paid') AND made_at >= ? LIMIT 1",
        [order.canonical, order.funnel_id, new Date(order.made_at.getTime() - 86_400_000)],
      )
      const release = order.release_id === null ? undefined : await releaseById(tx, order.release_id)
      if (bought || !release) continue
      const known = await tx.row<{ id: number; person_id: number; suppressed: string | null }>(
        "SELECT id, person_id, suppressed FROM address WHERE canonical = ? FOR UPDATE",
        [order.canonical],
      )
      if (known?.suppressed || !(await isProved(tx, order))) continue
      const who = known
        ? { person: known.person_id, address: known.id }
        : await makePerson(tx, { ...order, confirmed: false }, at)
      await tx.write(
        "INSERT INTO consent (address_id, kind, at, asked_at, wording, ip, page) VALUES (?, 'given', ?, ?, ?, ?, 'checkout')",
        [who.address, new Date(at), order.made_at, order.wording, order.ip],
      )
      const { funnel } = release
      await performEffects(tx, {
        funnel,
        release: release.id,
        step: order.step_id,
        outcome: "stopped",
        person: who.person,
        at,
      })
    }
    return orders.length
  })
}

/** Different addresses that one browser may have written to in a day. */
const mostAddresses = 3

/**
 * Anybody can type an address. It is written to only where its mailbox has proved itself, or where one has in the browser it
 * was typed in.
 */
async function isProved(tx: Db, order: OrderRow): Promise<boolean> {
  const proved = await tx.row(
    `SELECT 1 FROM address WHERE canonical = ? AND confirmed_at IS NOT NULL
     UNION SELECT 1 FROM device WHERE visitor = ? AND person_id IN (SELECT person_id FROM address WHERE confirmed_at IS NOT NULL) LIMIT 1`,
    [order.canonical, order.visitor],
  )
  if (!proved) return false
  const typed = await tx.rows(
    "SELECT DISTINCT canonical FROM orders WHERE visitor = ? AND made_at > ? AND canonical <> ? LIMIT ?",
    [order.visitor, new Date(order.made_at.getTime() - 86_400_000), order.canonical, mostAddresses],
  )
  return typed.length < mostAddresses
}

export async function nextStoppedDue(db: Db): Promise<number | null> {
  const next = await db.row<{ made_at: Date }>(
    `SELECT o.made_at FROM orders o WHERE ${waiting} ORDER BY o.made_at LIMIT 1`,
  )
  return next ? next.made_at.getTime() + patience : null
}
