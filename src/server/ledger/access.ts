// What was bought is open: admissions of an order line, what somebody owns by them, and their end.
import { opensOf } from "@/core/offer/gift/list"
import { giftsOf } from "@/core/offer/offer"
import { admit } from "../course/admission"
import type { Db } from "../db/pool"
import { happen } from "../happen"
import type { Shelf } from "../offer/quote"
import { origin } from "../origin"

/** Opens everything that a line's offer gives. A second time changes nothing. */
export async function openAdmissions(
  tx: Db,
  shelf: Shelf,
  a: { person: number; line: number; offer: number; story: number; at: number },
): Promise<void> {
  const offer = shelf.offers.get(a.offer)
  if (!offer) return
  for (const gift of giftsOf(offer, shelf.offers)) {
    const opens = opensOf(gift)
    if (!opens) continue
    await admit(tx, {
      person: a.person,
      opens,
      origin: origin.line(a.line),
      story: a.story,
      at: a.at,
      title: gift.title,
    })
  }
}

/** What of an order ends: everything it gave, or one of its lines. */
export type Ending = {
  readonly order: number
  /** Null: all of its lines. */
  readonly line: number | null
  readonly person: number
  readonly at: number
  /** Where what was paid for stays open a while longer. */
  readonly until?: number
}

/**
 * Ends what an order opened, by whichever hand: its lines' own gifts and what its outcomes set off. With a first order, or
 * its main line, ends what else its story gave for nothing. What another paid order gives, or a form, stays.
 */
export async function endAccess(tx: Db, e: Ending): Promise<void> {
  const order = await tx.row<{ story: number; first: number }>(
    "SELECT COALESCE(first_id, id) AS story, first_id IS NULL AS first FROM orders WHERE id = ?",
    [e.order],
  )
  if (!order) return
  const lines = await tx.rows<{ id: number; role: string; name: string }>(
    "SELECT id, role, name FROM order_line WHERE order_id = ? AND (? IS NULL OR id = ?)",
    [e.order, e.line, e.line],
  )
  const origins = lines.map((l) => origin.line(l.id))
  if (lines.some((l) => l.role !== "bump")) {
    origins.push(origin.order(e.order))
    if (order.first)
      for (const free of await freeOrders(tx, order.story)) {
        origins.push(origin.order(free.id))
        if (free.line !== null) origins.push(origin.line(free.line))
      }
  }
  const until = new Date(e.until ?? e.at)
  const ended = await tx.write(
    "UPDATE admission SET until_at = ? WHERE person_id = ? AND order_id = ? AND origin IN (?) AND (until_at IS NULL OR until_at > ?)",
    [until, e.person, order.story, ["", ...origins], until],
  )
  if (ended.affected)
    await happen(tx, [{ kind: "access-ended", at: e.at, person: e.person, words: lines.map((l) => l.name).join(", ") }])
}

/** Further orders of a story that brought no money and bring none: they end with what they came with. */
function freeOrders(tx: Db, story: number): Promise<{ id: number; line: number | null }[]> {
  return tx.rows(
    `SELECT o.id, l.id AS line FROM orders o LEFT JOIN order_line l ON l.order_id = o.id WHERE o.first_id = ?
     AND NOT EXISTS (SELECT 1 FROM charge c WHERE c.order_id = o.id AND c.state = 'succeeded' AND c.gross > c.refunded)
     AND NOT EXISTS (SELECT 1 FROM plan p WHERE p.order_id = o.id AND p.state IN ('running', 'behind'))`,
    [story],
  )
}
