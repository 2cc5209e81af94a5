// Further offers: what stands on the page for this buyer, accepting with one click, declining with one.

import { addressOf } from "@/core/funnel/address"
import { type Step, stepById } from "@/core/funnel/draft"
import { nextStep, skipOf } from "@/core/funnel/next-step"
import type { Sold } from "@/core/funnel/step/kind"
import { soldAt } from "@/core/funnel/step/list"
import { holdsPiece } from "@/core/ledger/order"
import { chargeAt } from "@/core/offer/plan"
import { readPlan } from "@/core/offer/plan-document"
import { words } from "@/core/words/en"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { happen } from "../happen"
import { type OfferChoice, type Quote, quote, type Shelf, shelfOf } from "../offer/quote"
import { type Release, releaseById } from "../releases"
import { firstCharge, keepCardFor, pay } from "./charge"
import { lockedShelf, type OrderRow, orderByCode, putOrder } from "./order"
import { buyerStanding, goOn, wayOn } from "./way-on"

/** How long a further offer waits for those who left in the middle, ms of business time. */
const waitsFor = 3_600_000

export type Offered = {
  readonly order: OrderRow
  readonly step: Step
  readonly quote: Quote
  /** What went wrong at the last try, in words. */
  readonly says: string | null
}

/** The latest paid first order of a visitor, or of a signed-in person, in a funnel. */
export async function orderOfVisitor(
  db: Db,
  funnel: number,
  visitor: Buffer,
  person: number | null,
): Promise<OrderRow | undefined> {
  const own = await db.row<OrderRow>(
    "SELECT * FROM orders WHERE funnel_id = ? AND visitor = ? AND first_id IS NULL AND state IN ('paid', 'refunded') ORDER BY id DESC LIMIT 1",
    [funnel, visitor],
  )
  if (own || person === null) return own
  return db.row<OrderRow>(
    "SELECT * FROM orders WHERE person_id = ? AND funnel_id = ? AND first_id IS NULL AND state IN ('paid', 'refunded') ORDER BY id DESC LIMIT 1",
    [person, funnel],
  )
}

/** What a further offer comes to for this buyer, or where they go instead. */
export async function offeredTo(
  s: Context,
  order: OrderRow,
  step: number,
): Promise<Offered | { readonly goTo: string }> {
  const at = await s.clock.now()
  const release = order.release_id === null ? undefined : await releaseById(s.db, order.release_id)
  const found = release && stepById(release.funnel, step)
  const sold = found && moreAt(found)
  if (!release || !found || !sold) return { goTo: await wayOn(s.db, order, at) }
  const shelf = await shelfOf(s.db)
  const over = order.paid_at !== null && at - order.paid_at.getTime() > waitsFor
  if (order.state !== "paid") return { goTo: "/learn" }
  if (over) return { goTo: "/learn" }
  const past = await passedOver(s.db, release, found, shelf, order, at)
  if (past) return past
  const q = await quote(s.db, shelf, await choiceFor(s.db, sold, order), at)
  if (!q || q.refused) return { goTo: await wayOn(s.db, order, at) }
  const tried = await s.db.row<{ id: number; code: string; state: string }>(
    "SELECT id, code, state FROM orders WHERE first_id = ? AND step_id = ?",
    [order.id, step],
  )
  if (tried && (tried.state === "open" || tried.state === "confirming")) return { goTo: `/order/${tried.code}` }
  const failed = tried && (await lastReason(s.db, tried.id))
  return { order, step: found, quote: q, says: failed ? words.further.refused[failed] : null }
}

/** What is offered at a step as something more; null where nothing is. */
function moreAt(step: Step): (Sold & { readonly offer: number }) | null {
  const sold = soldAt(step)
  return sold?.as === "more" && sold.offer !== null ? { ...sold, offer: sold.offer } : null
}

/** Where a buyer goes to whom an offer can't be made; null where it is made. */
async function passedOver(
  db: Db,
  release: Release,
  step: Step,
  shelf: Shelf,
  order: OrderRow,
  at: number,
): Promise<{ readonly goTo: string } | null> {
  const standing = await buyerStanding(db, shelf, order, at)
  const skip = skipOf(release.funnel, step, standing)
  if (!skip) return null
  const next = nextStep(release.funnel, step.id, skip.as, standing).step
  return { goTo: next ? addressOf(release.funnel, next) : "/learn" }
}

async function choiceFor(db: Db, sold: Sold & { readonly offer: number }, order: OrderRow): Promise<OfferChoice> {
  return {
    main: sold.offer,
    terms: sold.terms,
    bumps: [],
    code: "",
    canonical: order.canonical,
    role: "further",
    credit: sold.replaces ? await creditOf(db, order) : 0,
  }
}

/**
 * What a replacing offer counts as paid, in the prices' own terms (with tax where it is included): what came in for the
 * first order's main line, less what went back of it, less what the story has counted already.
 */
async function creditOf(db: Db, order: OrderRow): Promise<number> {
  const line = await db.row<{ id: number; plan: string }>(
    "SELECT id, plan FROM order_line WHERE order_id = ? AND role = 'main'",
    [order.id],
  )
  if (!line) return 0
  const plan = readPlan(line.plan)
  const charges = await db.rows<{ plan_id: number | null; n: number; refunded: number; back: number | null }>(
    `SELECT c.plan_id, c.n, c.refunded, (SELECT SUM(r.amount) FROM refund r WHERE r.charge_id = c.id AND r.state = 'sending') AS back
     FROM charge c LEFT JOIN plan p ON p.id = c.plan_id WHERE c.order_id = ? AND c.state = 'succeeded' AND (c.plan_id IS NULL OR p.order_line_id = ?)`,
    [order.id, line.id],
  )
  const paid = charges.map((c) => {
    // The first charge pays all lines together; what goes back of it is taken from the main one first.
    const part = c.plan_id === null && plan.today === null ? null : chargeAt(plan, c.n)
    if (!part) return 0
    const left = Math.max(0, part.gross - c.refunded - (c.back ?? 0))
    return plan.tax.included || part.gross === 0 ? left : Math.floor((part.net * left) / part.gross)
  })
  const used = await db.row<{ n: number | null }>(
    "SELECT SUM(l.credit) AS n FROM order_line l JOIN orders o ON o.id = l.order_id WHERE o.first_id = ? AND o.state IN ('open', 'confirming', 'paid', 'refunded')",
    [order.id],
  )
  return Math.max(0, paid.reduce((sum, p) => sum + p, 0) - (used?.n ?? 0))
}

async function lastReason(db: Db, order: number): Promise<keyof typeof words.further.refused | null> {
  const row = await db.row<{ reason: keyof typeof words.further.refused | null }>(
    "SELECT reason FROM charge WHERE order_id = ? AND state = 'refused' ORDER BY id DESC LIMIT 1",
    [order],
  )
  return row?.reason ?? null
}

export type Answered = { readonly goTo: string } | { readonly changed: true }

/**
 * Accepts a further offer with the card just used. However often it is pressed, there is one order for a step of a story,
 * and one answer: the first.
 */
export async function acceptOffer(s: Context, code: string, step: number, seen: string): Promise<Answered> {
  const at = await s.clock.now()
  const order = await orderByCode(s.db, code)
  if (!order || order.first_id !== null) return { goTo: "/learn" }
  const release = order.release_id === null ? undefined : await releaseById(s.db, order.release_id)
  const found = release && stepById(release.funnel, step)
  const sold = found && moreAt(found)
  if (!release || !found || !sold) return { goTo: await wayOn(s.db, order, at) }
  const done = await s.db.transaction(async (tx): Promise<Answered & { charge?: number; keep?: number }> => {
    const first = await tx.row<OrderRow>("SELECT * FROM orders WHERE id = ? FOR UPDATE", [order.id])
    const over = first?.paid_at && at - first.paid_at.getTime() > waitsFor
    if (first?.state !== "paid" || over) return { goTo: "/learn" }
    const before = await tx.row<OrderRow>("SELECT * FROM orders WHERE first_id = ? AND step_id = ? FOR UPDATE", [
      order.id,
      step,
    ])
    if (before && before.state !== "refused" && before.state !== "lapsed") return { goTo: `/order/${before.code}` }
    const choice = await choiceFor(tx, sold, first)
    const shelf = await lockedShelf(tx, choice)
    const past = await passedOver(tx, release, found, shelf, first, at)
    if (past) return past
    const q = await quote(tx, shelf, choice, at)
    if (!q || q.refused) return { goTo: await wayOn(tx, first, at) }
    if (q.seen !== seen) return { changed: true }
    if (before?.state === "lapsed") await tx.update("orders", before.id, { state: "refused" })
    const made = await putOrder(tx, q, {
      id: before?.id ?? null,
      once: `further-${order.id}-${step}`,
      first: order.id,
      funnel: first.funnel_id,
      release: release.id,
      step,
      visitor: first.visitor,
      source: first.source,
      canonical: first.canonical,
      email: first.email,
      name: first.name,
      postal: "",
      zone: first.zone,
      wording: "",
      ip: first.ip,
      person: first.person_id,
      card: first.card_id,
      at,
    })
    return { goTo: `/order/${made.code}`, ...(await firstCharge(tx, q, made.id, at)) }
  })
  if ("changed" in done) return done
  const card = await s.db.row<{ reference: string }>(
    "SELECT k.reference FROM orders o JOIN card k ON k.id = o.card_id WHERE o.id = ?",
    [order.id],
  )
  if (done.charge !== undefined) await pay(s, done.charge, card?.reference ?? "", true)
  if (done.keep !== undefined) await keepCardFor(s, done.keep, card?.reference ?? "")
  return { goTo: done.goTo }
}

/** Declines a further offer; the first answer stands. */
export async function declineOffer(s: Context, code: string, step: number): Promise<{ goTo: string }> {
  const at = await s.clock.now()
  const order = await orderByCode(s.db, code)
  const release: Release | undefined =
    order?.release_id == null || order.first_id !== null ? undefined : await releaseById(s.db, order.release_id)
  const found = release && stepById(release.funnel, step)
  if (!order || !release || !found || soldAt(found)?.as !== "more") return { goTo: "/learn" }
  return s.db.transaction(async (tx) => {
    const first = await tx.row<OrderRow>("SELECT * FROM orders WHERE id = ? FOR UPDATE", [order.id])
    if (!first || first.person_id === null) return { goTo: "/learn" }
    const accepted = await tx.row<{ code: string }>(
      `SELECT code FROM orders WHERE first_id = ? AND step_id = ? AND ${holdsPiece}`,
      [order.id, step],
    )
    if (accepted) return { goTo: `/order/${accepted.code}` }
    const said = await tx.insert(
      "answer",
      { order_id: order.id, step_id: step, said: "declined", at: new Date(at) },
      "ignore",
    )
    if (!said.affected) return { goTo: await wayOn(tx, first, at) }
    const { funnel } = release
    await happen(tx, [
      { kind: "declined", at, person: first.person_id, funnel: funnel.id, step, subject: order.id, words: found.name },
    ])
    const next = await goOn(tx, await shelfOf(tx), release, first, "declined", at, { order: first.id, from: step })
    return { goTo: next ? addressOf(funnel, next) : "/learn" }
  })
}
