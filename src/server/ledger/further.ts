// Further offers: what stands on the page for this buyer, accepting with one click, declining with one.
import { addressOf, type Step, stepById } from "@/core/funnel/draft"
import { skipOf } from "@/core/funnel/next-step"
import type { Plan } from "@/core/offer/plan"
import { chargesOf } from "@/core/offer/plan"
import { words } from "@/core/words/en"
import type { Db } from "../db/pool"
import { performEffects } from "../funnel/effect"
import { record } from "../funnel/fact"
import { type Release, releaseById } from "../funnel/release"
import { type Choice, type Quote, quote, shelfOf } from "../offer/quote"
import type { Surroundings } from "../surroundings"
import { keepCardFor, pay } from "./charge"
import { firstCharge, goOn, lockedShelf, type OrderRow, orderByCode, putOrder, standingOf, wayOn } from "./order"

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
  s: Surroundings,
  order: OrderRow,
  step: number,
): Promise<Offered | { readonly goTo: string }> {
  const at = await s.clock.now()
  const release = order.release_id === null ? undefined : await releaseById(s.db, order.release_id)
  const found = release && stepById(release.funnel, step)
  if (!release || found?.kind !== "further" || found.offerId === null) return { goTo: await wayOn(s.db, order, at) }
  const shelf = await shelfOf(s.db)
  const over = order.paid_at !== null && at - order.paid_at.getTime() > waitsFor
  if (order.state !== "paid" || over || skipOf(release.funnel, found, await standingOf(s.db, shelf, order, at)))
    return { goTo: over ? "/learn" : await wayOn(s.db, order, at) }
  const q = await quote(s.db, shelf, await choiceFor(s.db, found, order), at)
  if (!q || q.refused) return { goTo: await wayOn(s.db, order, at) }
  const tried = await s.db.row<{ id: number; code: string; state: string }>(
    "SELECT id, code, state FROM orders WHERE first_id = ? AND step_id = ?",
    [order.id, step],
  )
  if (tried && (tried.state === "open" || tried.state === "confirming")) return { goTo: `/order/${tried.code}` }
  const failed = tried && (await lastReason(s.db, tried.id))
  return { order, step: found, quote: q, says: failed ? words.further.refused[failed] : null }
}

async function choiceFor(db: Db, step: Step, order: OrderRow): Promise<Choice> {
  return {
    main: step.offerId!,
    terms: step.termsId,
    bumps: [],
    code: "",
    canonical: order.canonical,
    role: "further",
    credit: step.replaces ? await creditOf(db, order) : 0,
  }
}

/** What was paid so far for the first order's main line, in the prices' own terms (with tax where it is included). */
async function creditOf(db: Db, order: OrderRow): Promise<number> {
  const line = await db.row<{ plan: string; next_n: number | null }>(
    "SELECT l.plan, p.next_n FROM order_line l LEFT JOIN plan p ON p.order_line_id = l.id WHERE l.order_id = ? AND l.role = 'main'",
    [order.id],
  )
  if (!line) return 0
  const plan = JSON.parse(line.plan) as Plan
  const paid = chargesOf(plan, line.next_n ?? (plan.today === null ? 0 : 1))
  return paid.reduce((sum, c) => sum + (plan.tax.included ? c.gross : c.net), 0)
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
export async function acceptOffer(s: Surroundings, code: string, step: number, seen: string): Promise<Answered> {
  const at = await s.clock.now()
  const order = await orderByCode(s.db, code)
  if (!order || order.first_id !== null) return { goTo: "/learn" }
  const release = order.release_id === null ? undefined : await releaseById(s.db, order.release_id)
  const found = release && stepById(release.funnel, step)
  if (!release || found?.kind !== "further" || found.offerId === null) return { goTo: await wayOn(s.db, order, at) }
  const done = await s.db.transaction(async (tx): Promise<Answered & { charge?: number; keep?: number }> => {
    const first = await tx.row<OrderRow>("SELECT * FROM orders WHERE id = ? FOR UPDATE", [order.id])
    const over = first?.paid_at && at - first.paid_at.getTime() > waitsFor
    if (first?.state !== "paid" || over) return { goTo: "/learn" }
    const before = await tx.row<OrderRow>("SELECT * FROM orders WHERE first_id = ? AND step_id = ? FOR UPDATE", [
      order.id,
      step,
    ])
    if (before && before.state !== "refused" && before.state !== "lapsed") return { goTo: `/order/${before.code}` }
    const choice = await choiceFor(tx, found, first)
    const shelf = await lockedShelf(tx, choice)
    if (skipOf(release.funnel, found, await standingOf(tx, shelf, first, at)))
      return { goTo: await wayOn(tx, first, at) }
    const q = await quote(tx, shelf, choice, at)
    if (!q || q.refused) return { goTo: await wayOn(tx, first, at) }
    if (q.seen !== seen) return { changed: true }
    if (before?.state === "lapsed") await tx.write("UPDATE orders SET state = 'refused' WHERE id = ?", [before.id])
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
export async function declineOffer(s: Surroundings, code: string, step: number): Promise<{ goTo: string }> {
  const at = await s.clock.now()
  const order = await orderByCode(s.db, code)
  const release: Release | undefined =
    order?.release_id == null || order.first_id !== null ? undefined : await releaseById(s.db, order.release_id)
  const found = release && stepById(release.funnel, step)
  if (!order || !release || found?.kind !== "further") return { goTo: "/learn" }
  return s.db.transaction(async (tx) => {
    const first = await tx.row<OrderRow>("SELECT * FROM orders WHERE id = ? FOR UPDATE", [order.id])
    if (!first || first.person_id === null) return { goTo: "/learn" }
    const accepted = await tx.row<{ code: string }>(
      "SELECT code FROM orders WHERE first_id = ? AND step_id = ? AND state IN ('open', 'confirming', 'paid')",
      [order.id, step],
    )
    if (accepted) return { goTo: `/order/${accepted.code}` }
    const said = await tx.write(
      "INSERT IGNORE INTO answer (order_id, step_id, said, at) VALUES (?, ?, 'declined', ?)",
      [order.id, step, new Date(at)],
    )
    if (!said.affected) return { goTo: await wayOn(tx, first, at) }
    const { funnel } = release
    await record(tx, [
      { kind: "declined", at, person: first.person_id, funnel: funnel.id, step, subject: order.id, words: found.name },
    ])
    await performEffects(tx, { funnel, release: release.id, step, outcome: "declined", person: first.person_id, at })
    const next = await goOn(tx, await shelfOf(tx), funnel, first, "declined", at, 0, step)
    return { goTo: next.step ? addressOf(funnel, next.step) : "/learn" }
  })
}
