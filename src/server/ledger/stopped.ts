// Those who began to pay and stopped: an hour later what the checkout sets off for them begins, if they agreed to be written
// to and have not bought since.
import { holdsPiece } from "@/core/ledger/order"
import { consentOf } from "../consent"
import type { Db } from "../db/pool"
import { leave } from "../funnel/leave"
import { makePerson } from "../person/person"
import { releaseById } from "../releases"
import { setTimer, type TimerWork } from "../timer"
import type { OrderRow } from "./order"

/** How long somebody may take to pay, ms of business time. */
const patience = 3_600_000

/** To be called whenever somebody has filled in their address and may stop: their hour begins. */
export async function watchStopping(tx: Db, order: number, at: number): Promise<void> {
  await setTimer(tx, { kind: "stopped", about: order, dueAt: at + patience })
}

/** Their hour is over. */
export const stopped: TimerWork = async (tx, id, at) => {
  const order = await tx.row<OrderRow & { stopped_at: Date | null }>("SELECT * FROM orders WHERE id = ? FOR UPDATE", [
    id,
  ])
  if (!order || order.first_id !== null || order.wording === "" || order.stopped_at !== null) return
  // Still with the bank: looked at again later.
  if (order.state === "open" || order.state === "confirming") return watchStopping(tx, id, at)
  if (order.state === "paid" || order.state === "refunded") return
  await tx.update("orders", id, { stopped_at: new Date(at) })
  const bought = await tx.row(
    `SELECT 1 FROM orders WHERE canonical = ? AND funnel_id = ? AND ${holdsPiece} AND made_at >= ? LIMIT 1`,
    [order.canonical, order.funnel_id, new Date(order.made_at.getTime() - 86_400_000)],
  )
  const release = order.release_id === null ? undefined : await releaseById(tx, order.release_id)
  if (bought || !release) return
  const known = await tx.row<{ id: number; person_id: number; suppressed: string | null }>(
    "SELECT id, person_id, suppressed FROM address WHERE canonical = ? FOR UPDATE",
    [order.canonical],
  )
  if (known?.suppressed || !(await isProved(tx, order))) return
  const who = known
    ? { person: known.person_id, address: known.id }
    : await makePerson(tx, { ...order, confirmed: false }, at)
  await consentOf(tx, who.address, {
    kind: "given",
    at: new Date(at),
    askedAt: order.made_at,
    wording: order.wording,
    ip: order.ip,
    page: "checkout",
  })
  await leave(tx, { release, step: order.step_id, outcome: "stopped", at, person: who.person, visitor: null })
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
