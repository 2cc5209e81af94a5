// An order is completed on the processor's word: admissions, what goes on being charged, the receipt and the way on, in one transaction.

import { type Funnel, stepById } from "@/core/funnel/draft"
import { soldAt } from "@/core/funnel/step/list"
import { afterEvent } from "@/core/ledger/order"
import { chargeAt } from "@/core/offer/plan"
import { readPlan } from "@/core/offer/plan-document"
import { connectionOf } from "@/core/person/connection"
import { mayTry } from "../attempt"
import { consentOf } from "../consent"
import type { Db } from "../db/pool"
import { happen } from "../happen"
import { shelfOf } from "../offer/quote"
import { makePerson } from "../person/person"
import { mayMailAddress } from "../person/way-in"
import { queueMail } from "../queue-mail"
import { releaseById } from "../releases"
import { openAdmissions } from "./access"
import { firstOrderOf, type OrderRow } from "./order"
import { goOn } from "./way-on"

/**
 * An order is paid: the person, what they may open, what goes on being charged, the receipt, what the outcome sets off and
 * the way on, all in the caller's transaction. A second time changes nothing.
 */
export async function completeOrder(tx: Db, id: number, at: number, card: number | null = null): Promise<void> {
  const order = await tx.row<OrderRow>("SELECT * FROM orders WHERE id = ? FOR UPDATE", [id])
  if (!order || order.state === "paid" || order.state === "refunded") return
  if (afterEvent(order.state, "succeeded") !== "paid") return
  const now = new Date(at)
  const { person, address } = await buyerOf(tx, order, at)
  await tx.write(
    "UPDATE orders SET state = 'paid', paid_at = ?, person_id = ?, card_id = COALESCE(?, card_id) WHERE id = ?",
    [now, person, card, id],
  )
  if (order.wording)
    await consentOf(tx, address, {
      kind: "given",
      at: now,
      askedAt: order.made_at,
      wording: order.wording,
      ip: order.ip,
      page: "checkout",
    })
  const lines = await tx.rows<{ id: number; offer_id: number; name: string; plan: string }>(
    "SELECT id, offer_id, name, plan FROM order_line WHERE order_id = ? ORDER BY id",
    [id],
  )
  const shelf = await shelfOf(tx)
  for (const line of lines) {
    await openAdmissions(tx, shelf, { person, line: line.id, offer: line.offer_id, story: firstOrderOf(order), at })
    const plan = readPlan(line.plan)
    const n = plan.today === null ? 0 : 1
    const next = chargeAt(plan, n)
    if (!next) continue
    const due = new Date(next.at)
    const row = { order_line_id: line.id, order_id: id, person_id: person, card_id: card ?? order.card_id }
    await tx.insert("plan", { ...row, state: "running", next_n: n, next_due: due, try_at: due }, "ignore")
  }
  await happen(tx, [
    {
      kind: "bought",
      at,
      once: `bought:${id}`,
      person,
      funnel: order.funnel_id,
      step: order.step_id,
      subject: id,
      words: lines.map((l) => l.name).join(", "),
      money: order.gross,
      data: { offers: lines.map((l) => l.offer_id) },
    },
    ...(await couponOf(tx, order.coupon_id)).map((coupon) => ({
      kind: "coupon-used" as const,
      at,
      once: `coupon-used:${id}`,
      person,
      subject: coupon.id,
      words: coupon.code,
    })),
  ])
  if (await mayMailReceipt(tx, order)) await queueReceipt(tx, order, person, at)
  const release = order.release_id === null ? undefined : await releaseById(tx, order.release_id)
  if (!release) return
  const outcome = order.first_id === null ? "bought" : "accepted"
  if (order.first_id !== null)
    await tx.insert("answer", { order_id: order.first_id, step_id: order.step_id, said: "accepted", at: now }, "ignore")
  await tx.write("UPDATE journey SET person_id = ? WHERE funnel_id = ? AND visitor = ?", [
    person,
    release.funnel.id,
    order.visitor,
  ])
  await takeReplaced(tx, release.funnel, order, at)
  await goOn(tx, shelf, release, { ...order, person_id: person }, outcome, at, { order: id, paid: order.gross })
}
export async function buyerOf(tx: Db, order: OrderRow, at: number): Promise<{ person: number; address: number }> {
  const known = await tx.row<{ id: number; person_id: number }>(
    "SELECT id, person_id FROM address WHERE canonical = ? FOR UPDATE",
    [order.canonical],
  )
  if (known) return { person: known.person_id, address: known.id }
  return makePerson(tx, { ...order, confirmed: false }, at)
}
/** The coupon of an order, as a list of one or none. */
export const couponOf = (tx: Db, coupon: number | null) =>
  tx.rows<{ id: number; code: string }>("SELECT id, code FROM coupon WHERE id = ?", [coupon ?? 0])
/** A receipt for money always comes. Anybody can type an address into a free form: it is written to once in ten minutes. */
export async function mayMailReceipt(tx: Db, order: OrderRow): Promise<boolean> {
  const card = await tx.row("SELECT card_id FROM orders WHERE id = ? AND card_id IS NOT NULL", [order.id])
  if (card || order.gross > 0) return true
  return (
    (await mayMailAddress(tx, order.canonical, "free-receipt")) &&
    (await mayTry(tx, `join-mail:${connectionOf(order.ip)}`, { most: 40, windowMs: 3600000 }))
  )
}
export async function queueReceipt(tx: Db, order: OrderRow, person: number, at: number): Promise<void> {
  const way = await tx.insert("way_in", {
    person_id: person,
    leads_to: "/learn",
    expires_at: new Date(at + 3 * 86400000),
  })
  await queueMail(tx, {
    once: `receipt:${order.id}`,
    kind: "receipt",
    person_id: person,
    to_email: order.email,
    to_name: order.name,
    funnel_id: order.funnel_id,
    way_in_id: way.id,
    order_id: order.id,
    due_at: new Date(at),
  })
}
/** A further offer that replaces ends what goes on being charged for what was bought first. */
export async function takeReplaced(tx: Db, funnel: Funnel, order: OrderRow, at: number): Promise<void> {
  const step = stepById(funnel, order.step_id)
  if (order.first_id === null || !step || !soldAt(step)?.replaces) return
  await tx.write(
    "UPDATE plan p JOIN order_line l ON l.id = p.order_line_id SET p.state = 'ended', p.ended_at = ?, p.ended_why = 'replaced' WHERE p.order_id = ? AND l.role = 'main' AND p.state IN ('running', 'behind')",
    [new Date(at), order.first_id],
  )
}
