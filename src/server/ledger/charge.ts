// Charges: handing one to the card processor, and writing down what it said. The same function takes the answer to a call,
// a webhook, and what is asked for after a crash, so that whichever comes first counts and the others change nothing.

import { paymentLines } from "@/core/ledger/journal"
import { afterEvent, type OrderEvent, type OrderState } from "@/core/ledger/order"
import { retryAt } from "@/core/ledger/retry"
import { chargeAt } from "@/core/offer/plan"
import { readPlan } from "@/core/offer/plan-document"
import { statementFrom, statementProblem } from "@/core/offer/statement"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import type { Row } from "../db/row"
import type { Due } from "../due"
import { happen } from "../happen"
import type { Quote } from "../offer/quote"
import { type CardAnswer, CardsRefusal, CardsUnreachable, type KeptCard } from "../port/cards"
import { queueMail } from "../queue-mail"
import { endAccess } from "./access"
import { completeOrder } from "./complete"
import { writeJournal } from "./journal"
import { holdFor } from "./order"

export type ChargeRow = Row<"charge">

/** The key at the processor, which other installations may use, too. */
export const chargeKey = (s: Context, once: string) => `${s.config.installation}-${once}`

/** Hands a charge to the processor. What it came to is written by `settle`; if nobody knows, it is asked for later. */
export async function pay(s: Context, id: number, card: string, present: boolean): Promise<void> {
  const charge = await s.db.row<ChargeRow & { code: string; statement: string; school: string }>(
    "SELECT c.*, o.code, h.statement, h.name AS school FROM charge c JOIN orders o ON o.id = c.order_id JOIN school h ON h.id = 1 WHERE c.id = ?",
    [id],
  )
  if (!charge || !s.cards || charge.state !== "sending") return
  const statement = statementProblem(charge.statement) ? statementFrom(charge.school).padEnd(5, ".") : charge.statement
  try {
    await recordAnswer(
      s,
      id,
      await s.cards.pay({
        key: chargeKey(s, charge.once),
        amount: charge.gross,
        currency: charge.currency,
        card,
        statement,
        reference: `order ${charge.order_id}`,
        returnTo: `${s.config.origin}/order/${charge.code}?back=1`,
        present,
      }),
    )
  } catch (error) {
    if (error instanceof CardsRefusal) {
      s.log.warn(error, "the card processor refused a call")
      await recordAnswer(s, id, { state: "refused", reason: "refused" })
    } else if (error instanceof CardsUnreachable) s.log.warn(error, "a charge is asked for later")
    else throw error
  }
}

export const payFirst = (s: Context, charge: number, token: string) => pay(s, charge, token, true)

/**
 * The card is looked at as for any order, and refused whatever it is: so that nobody learns by a checkout what an address has
 * had. What the card itself lacks is said first.
 */
export async function refuseFirst(s: Context, charge: number, token: string): Promise<void> {
  const kept = await s.cards?.keep(chargeKey(s, `look-${charge}`), token).catch(() => null)
  await recordAnswer(s, charge, { state: "refused", reason: kept && "reason" in kept ? kept.reason : "refused" })
}

/** Nothing is due today, but something later: the card is kept, and the door opens. `blocked`: it is refused all the same. */
export async function keepCardFor(s: Context, order: number, token: string, blocked = false): Promise<void> {
  if (!s.cards) return
  const at = await s.clock.now()
  const tries = await s.db.row<{ hold_until: Date }>("SELECT hold_until FROM orders WHERE id = ?", [order])
  try {
    const kept = await s.cards.keep(chargeKey(s, `card-${order}-${tries?.hold_until.getTime()}`), token)
    await s.db.transaction(async (tx) => {
      if ("card" in kept && !blocked) return completeOrder(tx, order, at, await cardRow(tx, kept.card))
      await tx.write("UPDATE orders SET state = 'refused' WHERE id = ? AND state = 'open'", [order])
    })
  } catch (error) {
    // Nothing was charged, whatever happened: they may simply try again.
    s.log.warn(error, "a card could not be kept")
    await s.db.write("UPDATE orders SET state = 'refused' WHERE id = ? AND state = 'open'", [order])
  }
}

export async function cardRow(tx: Db, card: KeptCard): Promise<number> {
  await tx.insert(
    "card",
    {
      reference: card.id,
      last4: card.last4.slice(-4),
      expires: card.expires.slice(0, 5),
      fingerprint: card.fingerprint ?? null,
    },
    "ignore",
  )
  return (await tx.row<{ id: number }>("SELECT id FROM card WHERE reference = ?", [card.id]))!.id
}

type Word = Pick<CardAnswer, "state" | "reason"> & Partial<CardAnswer>

/** Writes down what the processor said of a charge. Twice, late or out of order changes nothing that stands. */
export async function recordAnswer(s: Context, id: number, answer: Word): Promise<void> {
  const at = await s.clock.now()
  await s.db.transaction(async (tx) => {
    const first = await tx.row<{ order_id: number }>("SELECT order_id FROM charge WHERE id = ?", [id])
    if (!first) return
    const order = await tx.row<{ id: number; state: OrderState; first_id: number | null; person_id: number | null }>(
      "SELECT id, state, first_id, person_id FROM orders WHERE id = ? FOR UPDATE",
      [first.order_id],
    )
    const charge = await tx.row<ChargeRow>("SELECT * FROM charge WHERE id = ? FOR UPDATE", [id])
    if (!order || !charge || charge.state === "succeeded") return
    if (answer.amount !== undefined && (answer.amount !== charge.gross || answer.currency !== charge.currency))
      throw new Error(`the processor speaks of ${answer.amount} ${answer.currency} for charge ${id}`)
    const card = answer.card && answer.state === "succeeded" ? await cardRow(tx, answer.card) : null
    if (answer.state === "succeeded") {
      const fee = Math.min(answer.fee ?? 0, charge.gross)
      await tx.update("charge", id, {
        state: "succeeded",
        payment: answer.id ?? null,
        fee,
        reason: null,
        confirm: null,
        settled_at: new Date(at),
      })
      await writeJournal(tx, {
        entry: `charge:${id}`,
        lines: paymentLines({ net: charge.net, tax: charge.tax, gross: charge.gross }, fee),
        charge: id,
        story: order.first_id ?? order.id,
        currency: charge.currency,
        at,
      })
      if (charge.plan_id === null) await completeOrder(tx, order.id, at, card)
      else await planCharged(tx, charge, at)
      return
    }
    if (charge.state === "refused" || charge.state === "abandoned") return
    if (answer.state === "needs-confirmation") {
      await tx.update("charge", id, {
        state: "confirming",
        payment: answer.id ?? null,
        confirm: answer.confirm ?? null,
        ask_at: new Date(Date.now() + 60_000),
      })
      if (charge.plan_id === null) await moveOrder(tx, order, "needs-confirmation")
      return
    }
    const refused = answer.state === "refused"
    await tx.update("charge", id, {
      state: refused ? "refused" : "abandoned",
      reason: refused ? answer.reason : null,
      confirm: null,
      settled_at: new Date(at),
    })
    if (charge.plan_id === null) await moveOrder(tx, order, refused ? "refused" : "lapsed")
    else await planFailed(tx, charge, at)
  })
}

async function moveOrder(tx: Db, order: { id: number; state: OrderState }, event: OrderEvent): Promise<void> {
  const state = afterEvent(order.state, event)
  if (state) await tx.update("orders", order.id, { state, hold_until: new Date(Date.now() + holdFor) })
}

type PlanRow = {
  id: number
  order_line_id: number
  order_id: number
  person_id: number
  state: string
  next_n: number
  next_due: Date
  failed: number
  plan: string
  name: string
  offer_id: number
  after_failure: "ends" | "stays"
}

async function planOfCharge(tx: Db, charge: ChargeRow): Promise<PlanRow | undefined> {
  return tx.row<PlanRow>(
    "SELECT p.*, l.plan, l.name, l.offer_id, f.after_failure FROM plan p JOIN order_line l ON l.id = p.order_line_id JOIN offer f ON f.id = l.offer_id WHERE p.id = ? FOR UPDATE",
    [charge.plan_id],
  )
}

/** A charge of a plan came in: the next one falls due when the plan says. */
async function planCharged(tx: Db, charge: ChargeRow, at: number): Promise<void> {
  const p = await planOfCharge(tx, charge)
  if (!p) return
  await happen(tx, [
    {
      kind: "charged",
      at,
      once: `charged:${charge.id}`,
      person: p.person_id,
      subject: p.order_id,
      words: p.name,
      money: charge.gross,
    },
  ])
  if (p.next_n === charge.n) await advancePlan(tx, p, at)
}

export async function advancePlan(
  tx: Db,
  p: Pick<PlanRow, "id" | "order_id" | "person_id" | "next_n" | "plan" | "state" | "name" | "offer_id">,
  at: number,
): Promise<void> {
  const next = chargeAt(readPlan(p.plan), p.next_n + 1)
  if (!next) {
    await tx.write(
      "UPDATE plan SET state = IF(state = 'ended', state, 'finished'), ended_at = COALESCE(ended_at, ?), claimed_until = NULL, failed = 0 WHERE id = ?",
      [new Date(at), p.id],
    )
    if (p.state !== "ended")
      await happen(tx, [
        {
          kind: "plan-paid",
          at,
          once: `plan-paid:${p.id}`,
          person: p.person_id,
          subject: p.order_id,
          words: p.name,
          data: { offers: [p.offer_id] },
        },
      ])
  } else
    await tx.write(
      "UPDATE plan SET state = IF(state = 'ended', state, 'running'), next_n = ?, next_due = ?, try_at = ?, claimed_until = NULL, failed = 0 WHERE id = ?",
      [p.next_n + 1, new Date(next.at), new Date(next.at), p.id],
    )
}

/** A charge of a plan was refused: again after 1, 3, 7 days with a mail to mend the card; then the plan ends. */
async function planFailed(tx: Db, charge: ChargeRow, at: number): Promise<void> {
  const p = await planOfCharge(tx, charge)
  if (!p || p.next_n !== charge.n || p.state === "ended") return
  const failed = p.failed + 1
  const again = retryAt(p.next_due.getTime(), failed)
  await happen(tx, [
    {
      kind: "charge-failed",
      at,
      once: `failed:${charge.id}`,
      person: p.person_id,
      subject: p.order_id,
      words: p.name,
      money: charge.gross,
      data: { offers: [p.offer_id] },
    },
  ])
  const to = await tx.row<{ email: string; name: string }>("SELECT email, name FROM person WHERE id = ?", [p.person_id])
  const mail = (kind: "mend-card" | "access-ended") =>
    queueMail(tx, {
      once: `${kind}:${charge.id}`,
      kind,
      person_id: p.person_id,
      to_email: to?.email ?? "",
      to_name: to?.name ?? "",
      plan_id: p.id,
      order_id: p.order_id,
      due_at: new Date(at),
    })
  if (again !== null) {
    await tx.update("plan", p.id, {
      state: "behind",
      failed,
      try_at: new Date(Math.max(again, at)),
      claimed_until: null,
    })
    await mail("mend-card")
    return
  }
  await tx.update("plan", p.id, {
    state: "ended",
    failed,
    ended_at: new Date(at),
    ended_why: "the card was refused",
    claimed_until: null,
  })
  await happen(tx, [
    {
      kind: "plan-ended",
      at,
      once: `plan-ended:${p.id}`,
      person: p.person_id,
      subject: p.order_id,
      words: `${p.name}: the card was refused`,
      data: { offers: [p.offer_id] },
    },
  ])
  if (p.after_failure === "ends")
    await endAccess(tx, { order: p.order_id, line: p.order_line_id, person: p.person_id, at })
  await mail("access-ended")
}

/** How long a call may be on its way to the processor before what it doesn't know is given up, ms of real time. */
const slowest = 45_000

/** Asks the processor how a charge stands that nobody knows of. A first charge it has never heard of is given up. */
export async function ask(s: Context, id: number): Promise<void> {
  const charge = await s.db.row<ChargeRow & { hold_until: Date; reference: string | null }>(
    `SELECT c.*, o.hold_until, k.reference FROM charge c JOIN orders o ON o.id = c.order_id
     LEFT JOIN plan p ON p.id = c.plan_id LEFT JOIN card k ON k.id = COALESCE(p.card_id, IF(o.first_id IS NULL, NULL, o.card_id)) WHERE c.id = ?`,
    [id],
  )
  if (!charge || !s.cards || (charge.state !== "sending" && charge.state !== "confirming")) return
  const key = chargeKey(s, charge.once)
  const over = charge.hold_until.getTime() < Date.now()
  try {
    const known = await s.cards.ask(key)
    if (known && known.state !== "needs-confirmation") return await recordAnswer(s, id, known)
    if (known && !over) return await recordAnswer(s, id, known)
    if (!known && charge.plan_id !== null && charge.reference) return await pay(s, id, charge.reference, false)
    // It may be slow rather than gone: what it has never heard of may still be on its way to it.
    if (!known && Date.now() - (charge.hold_until.getTime() - holdFor) < slowest)
      return void (await s.db.update("charge", id, { ask_at: new Date(Date.now() + 5_000) }))
    // Given up at the processor first: only then is nothing charged for certain, and the seat free for another.
    await recordAnswer(s, id, (await s.cards.giveUp(key)) ?? { state: "cancelled", reason: null })
  } catch (error) {
    if (!(error instanceof CardsUnreachable) && !(error instanceof CardsRefusal)) throw error
    s.log.warn(error, "the card processor doesn't answer")
    await s.db.update("charge", id, { ask_at: new Date(Date.now() + 15_000) })
  }
}

/** A webhook: the processor's word, by whichever way it comes. Gives whether it was about a charge of ours. */
export async function handleWebhook(s: Context, answer: CardAnswer): Promise<boolean> {
  const prefix = `${s.config.installation}-`
  if (!answer.key.startsWith(prefix)) return false
  const charge = await s.db.row<{ id: number }>("SELECT id FROM charge WHERE once = ?", [
    answer.key.slice(prefix.length),
  ])
  if (!charge) return false
  // It may be late: how it stands now is asked for, and only where the processor can't be asked does the word stand alone.
  const now = (await s.cards?.ask(answer.key).catch(() => null)) ?? answer
  await recordAnswer(s, charge.id, now)
  return true
}

/** An order `o` whose card was to be kept without a charge, and nobody is at it any more. */
const leftStanding =
  "o.state IN ('open', 'confirming') AND o.hold_until < ? AND NOT EXISTS (SELECT 1 FROM charge c WHERE c.order_id = o.id AND c.state IN ('sending', 'confirming'))"

/** What becomes of charges nobody has heard of: looked after by real time, so it is never due at an instant. */
export const charges: Due = {
  name: "charges",
  nextAt: async () => null,
  waits: (_, at) => [
    ["SELECT 1 FROM charge WHERE state IN ('sending', 'confirming') AND ask_at < ?", [at.real]],
    [`SELECT 1 FROM orders o WHERE ${leftStanding}`, [at.real]],
  ],
  run: recoverCharges,
  inHand: async () => false,
}

/** Charges of which nothing has been heard for a while, and orders that were left standing; gives how many were looked at. */
export async function recoverCharges(s: Context): Promise<number> {
  const open = await s.db.transaction(async (tx) => {
    const rows = await tx.rows<{ id: number }>(
      "SELECT id FROM charge WHERE state IN ('sending', 'confirming') AND ask_at < ? ORDER BY ask_at LIMIT 50 FOR UPDATE SKIP LOCKED",
      [new Date()],
    )
    if (rows.length)
      await tx.write("UPDATE charge SET ask_at = ? WHERE id IN (?)", [
        new Date(Date.now() + 20_000),
        rows.map((r) => r.id),
      ])
    return rows
  })
  for (const c of open) await ask(s, c.id)
  // A card that was to be kept without a charge, and the process died in between.
  await s.db.write(`UPDATE orders o SET o.state = 'lapsed' WHERE ${leftStanding}`, [new Date()])
  return open.length
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
    ask_at: new Date(Date.now() + 20000),
  })
  return { charge: made.id }
}
