// An order: written with its lines and its first charge, and completed on the processor's word: admissions, what goes on
// being charged, the receipt and the way on, in one transaction.

import { randomBytes } from "node:crypto"
import { chargeAt, creditUsed } from "@/core/offer/plan"
import { keepPlan } from "@/core/offer/plan-document"
import type { Db } from "../db/pool"
import type { Row } from "../db/row"
import { type OfferChoice, type Quote, type Shelf, shelfOf } from "../offer/quote"
import { schoolRow } from "../school-view"
import { watchStopping } from "./stopped"

export type OrderRow = Row<"orders">

/** How long a seat is held without asking the processor, ms of real time. */
export const holdFor = 15 * 60_000

/** The shelf as it stands while the limited offers of a choice are locked, so that the last piece goes to one buyer. */
export async function lockedShelf(tx: Db, choice: OfferChoice): Promise<Shelf> {
  await tx.rows("SELECT id FROM offer WHERE id IN (?) AND pieces IS NOT NULL ORDER BY id FOR UPDATE", [
    [choice.main, ...choice.bumps],
  ])
  return shelfOf(tx)
}

export type NewOrder = {
  readonly id: number | null
  readonly once: string
  readonly first: number | null
  readonly funnel: number | null
  readonly release: number | null
  readonly step: number
  readonly visitor: Buffer
  readonly source: string
  readonly canonical: string
  readonly email: string
  readonly name: string
  readonly postal: string
  readonly zone: string
  readonly wording: string
  readonly ip: string
  readonly person: number | null
  readonly card: number | null
  readonly at: number
}

/** Writes an order with its lines; one that was begun or refused before is placed anew. */
export async function putOrder(tx: Db, q: Quote, o: NewOrder): Promise<{ id: number; code: string }> {
  const typed = {
    state: "open",
    canonical: o.canonical,
    email: o.email,
    name: o.name,
    postal: o.postal,
    zone: o.zone,
    wording: o.wording,
    ip: o.ip,
    coupon_id: q.coupon?.id ?? null,
    currency: q.currency,
    net: q.today.net,
    tax: q.today.tax,
    gross: q.today.gross,
    sentence: q.sentence.slice(0, 1000),
    made_at: new Date(o.at),
    hold_until: new Date(Date.now() + holdFor),
  } as const
  let id = o.id
  if (id !== null) {
    await tx.update("orders", id, { ...typed, stopped_at: null })
    await tx.write("DELETE FROM order_line WHERE order_id = ?", [id])
  } else {
    const school = await schoolRow(tx)
    const made = await tx.insert("orders", {
      ...typed,
      code: randomBytes(16).toString("base64url"),
      once: o.once,
      first_id: o.first,
      funnel_id: o.funnel,
      release_id: o.release,
      step_id: o.step,
      visitor: o.visitor,
      source: o.source,
      person_id: o.person,
      card_id: o.card,
      test: school!.testing,
    })
    id = made.id
  }
  if (o.first === null && o.wording) await watchStopping(tx, id, o.at)
  for (const l of q.lines)
    await tx.insert("order_line", {
      order_id: id,
      offer_id: l.offer.id,
      role: l.role,
      name: l.offer.publicName,
      plan: keepPlan(l.plan),
      gross: l.plan.today === null ? 0 : chargeAt(l.plan, 0)!.gross,
      credit: creditUsed(l.plan),
    })
  const { code } = (await tx.row<{ code: string }>("SELECT code FROM orders WHERE id = ?", [id]))!
  return { id, code }
}

export async function orderByCode(db: Db, code: string): Promise<OrderRow | undefined> {
  return /^[\w-]{22}$/.test(code) ? db.row<OrderRow>("SELECT * FROM orders WHERE code = ?", [code]) : undefined
}

/** The first order of a story: the order itself, or the one that a further offer followed. */
export const firstOrderOf = (order: Pick<OrderRow, "id" | "first_id">) => order.first_id ?? order.id
