// An order: written with its lines and its first charge, and completed on the processor's word: admissions, what goes on
// being charged, the receipt and the way on, in one transaction.

import { randomBytes } from "node:crypto"
import { addressOf } from "@/core/funnel/address"
import { type Funnel, type Step, stepById } from "@/core/funnel/draft"
import { nextStep, type Standing } from "@/core/funnel/next-step"
import { soldAt } from "@/core/funnel/step/list"
import { afterEvent } from "@/core/ledger/order"
import { chargeAt, creditUsed } from "@/core/offer/plan"
import { keepPlan, readPlan } from "@/core/offer/plan-document"
import { connectionOf } from "@/core/person/connection"
import { mayTry } from "../attempt"
import { consentOf } from "../consent"
import type { Db } from "../db/pool"
import type { Row } from "../db/row"
import { leave } from "../funnel/leave"
import { happen } from "../happen"
import { ownedOffers } from "../offer/owned"
import { type Choice, type Quote, type Shelf, shelfOf, stateOf } from "../offer/quote"
import { makePerson } from "../person/person"
import { mayMailAddress } from "../person/way-in"
import { queueMail } from "../queue-mail"
import { type Release, releaseById } from "../releases"
import { openAdmissions } from "./access"
import { watchStopping } from "./stopped"

export type OrderRow = Row<"orders">

/** How long a seat is held without asking the processor, ms of real time. */
export const holdFor = 15 * 60_000

/** The shelf as it stands while the limited offers of a choice are locked, so that the last piece goes to one buyer. */
export async function lockedShelf(tx: Db, choice: Choice): Promise<Shelf> {
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
    const school = await tx.row<Pick<Row<"school">, "testing">>("SELECT testing FROM school WHERE id = 1")
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

/** What happens next with an order that was placed: a charge, a card to keep, or, free, the open door at once. */
export async function firstCharge(
  tx: Db,
  q: Quote,
  order: number,
  at: number,
): Promise<{ charge?: number; keep?: number }> {
  if (q.today.gross === 0 && !q.needsCard) {
    await completeOrder(tx, order, at)
    return {}
  }
  if (q.today.gross === 0) return { keep: order }
  const tries = await tx.rows("SELECT id FROM charge WHERE order_id = ? AND plan_id IS NULL", [order])
  const made = await tx.insert("charge", {
    once: `order-${order}-${tries.length + 1}`,
    order_id: order,
    state: "sending",
    net: q.today.net,
    tax: q.today.tax,
    gross: q.today.gross,
    currency: q.currency,
    at: new Date(at),
    ask_at: new Date(Date.now() + 20_000),
  })
  return { charge: made.id }
}

export async function orderByCode(db: Db, code: string): Promise<OrderRow | undefined> {
  return /^[\w-]{22}$/.test(code) ? db.row<OrderRow>("SELECT * FROM orders WHERE code = ?", [code]) : undefined
}

/** The first order of a story: the order itself, or the one that a further offer followed. */
export const firstOrderOf = (order: Pick<OrderRow, "id" | "first_id">) => order.first_id ?? order.id

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

async function buyerOf(tx: Db, order: OrderRow, at: number): Promise<{ person: number; address: number }> {
  const known = await tx.row<{ id: number; person_id: number }>(
    "SELECT id, person_id FROM address WHERE canonical = ? FOR UPDATE",
    [order.canonical],
  )
  if (known) return { person: known.person_id, address: known.id }
  return makePerson(tx, { ...order, confirmed: false }, at)
}

/** The coupon of an order, as a list of one or none. */
const couponOf = (tx: Db, coupon: number | null) =>
  tx.rows<{ id: number; code: string }>("SELECT id, code FROM coupon WHERE id = ?", [coupon ?? 0])

/** A receipt for money always comes. Anybody can type an address into a free form: it is written to once in ten minutes. */
async function mayMailReceipt(tx: Db, order: OrderRow): Promise<boolean> {
  const card = await tx.row("SELECT card_id FROM orders WHERE id = ? AND card_id IS NOT NULL", [order.id])
  if (card || order.gross > 0) return true
  return (
    (await mayMailAddress(tx, order.canonical, "free-receipt")) &&
    (await mayTry(tx, `join-mail:${connectionOf(order.ip)}`, { most: 40, windowMs: 3_600_000 }))
  )
}

async function queueReceipt(tx: Db, order: OrderRow, person: number, at: number): Promise<void> {
  const way = await tx.insert("way_in", {
    person_id: person,
    leads_to: "/learn",
    expires_at: new Date(at + 3 * 86_400_000),
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
async function takeReplaced(tx: Db, funnel: Funnel, order: OrderRow, at: number): Promise<void> {
  const step = stepById(funnel, order.step_id)
  if (order.first_id === null || !step || !soldAt(step)?.replaces) return
  await tx.write(
    "UPDATE plan p JOIN order_line l ON l.id = p.order_line_id SET p.state = 'ended', p.ended_at = ?, p.ended_why = 'replaced' WHERE p.order_id = ? AND l.role = 'main' AND p.state IN ('running', 'behind')",
    [new Date(at), order.first_id],
  )
}

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
    next: async () => nextStep(release.funnel, step, outcome, await standingOf(tx, shelf, order, at)).step,
  })
}

/**
 * What a buyer has and has said. Ownership counts in full once a card was charged in this story; before that only what
 * the story itself gave, so that a stranger who types an address into a free form learns nothing about it.
 */
export async function standingOf(db: Db, shelf: Shelf, order: OrderRow, at: number): Promise<Standing> {
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
    nextStep(release.funnel, order.step_id, outcome, await standingOf(db, await shelfOf(db), order, at)).step ?? null
  )
}
