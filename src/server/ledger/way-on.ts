// Where a buyer goes on to: what comes next past what can't be offered to them.

import { addressOf } from "@/core/funnel/address"
import type { Step } from "@/core/funnel/draft"
import { type FunnelStanding, nextStep } from "@/core/funnel/next-step"
import type { Db } from "../db/pool"
import { leave } from "../funnel/leave"
import { ownedOffers } from "../offer/owned"
import { type Shelf, shelfOf, stateOf } from "../offer/quote"
import { type Release, releaseById } from "../releases"
import { firstOrderOf, type OrderRow } from "./order"

/** Takes the journey to what comes next, past what can't be offered to this buyer. `from`: the step they leave. */
export async function goOn(
  tx: Db,
  shelf: Shelf,
  release: Release,
  order: OrderRow,
  outcome: "bought" | "accepted" | "declined",
  at: number,
  by: { readonly order: number; readonly paid?: number; readonly from?: number },
): Promise<Step | null> {
  const step = by.from ?? order.step_id
  return leave(tx, {
    release,
    step,
    outcome,
    at,
    person: order.person_id,
    visitor: order.visitor,
    order: { id: by.order, story: firstOrderOf(order) },
    paid: by.paid,
    next: async () => nextStep(release.funnel, step, outcome, await buyerStanding(tx, shelf, order, at)).step,
  })
}
/**
 * What a buyer has and has said. Ownership counts in full once a card was charged in this story; before that only what
 * the story itself gave, so that a stranger who types an address into a free form learns nothing about it.
 */
export async function buyerStanding(db: Db, shelf: Shelf, order: OrderRow, at: number): Promise<FunnelStanding> {
  const story = firstOrderOf(order)
  const said = await db.rows<{ step_id: number; said: "accepted" | "declined" }>(
    "SELECT step_id, said FROM answer WHERE order_id = ?",
    [story],
  )
  const charged = await db.row(
    "SELECT 1 FROM charge c JOIN orders o ON o.id = c.order_id WHERE (o.id = ? OR o.first_id = ?) AND c.state = 'succeeded' LIMIT 1",
    [story, story],
  )
  const owned =
    order.person_id === null
      ? new Set<number>()
      : await ownedOffers(db, shelf, order.person_id, charged ? null : story, at)
  return {
    has: (offer) => owned.has(offer),
    availability: (offer) => stateOf(shelf, offer, at),
    said: new Map(said.map((a) => [a.step_id, a.said])),
  }
}
/** Where a buyer stands now: the address of the page that comes next in their story. */
export async function wayOn(db: Db, order: OrderRow, at: number): Promise<string> {
  // What was given back leads past no more offers.
  if (order.state === "refunded") return "/learn"
  const release = order.release_id === null ? undefined : await releaseById(db, order.release_id)
  const next = await nextFor(db, order, at)
  return release && next ? addressOf(release.funnel, next) : "/learn"
}
/** The step that comes next for a buyer, of those that are still to be answered. */
export async function nextFor(db: Db, order: OrderRow, at: number): Promise<Step | null> {
  const release = order.release_id === null ? undefined : await releaseById(db, order.release_id)
  if (!release) return null
  const outcome = order.first_id === null ? "bought" : "accepted"
  return (
    nextStep(release.funnel, order.step_id, outcome, await buyerStanding(db, await shelfOf(db), order, at)).step ?? null
  )
}
