// Giving money back: the intent is written first, then the processor is asked under a key of its own, then what it said is
// written, so that a press twice, a crash or a slow processor gives back once.

import * as v from "valibot"
import { refundable, refundLines } from "@/core/ledger/journal"
import { moneyText } from "@/core/offer/money"
import { refusals } from "@/core/words/refusals"
import type { Context } from "../context"
import type { Row } from "../db/row"
import type { Due } from "../due"
import { happen } from "../happen"
import { CardsRefusal, CardsUnreachable, type Dispute } from "../port/cards"
import { queueMail } from "../queue-mail"
import type { Refused } from "../saved"
import { endAccess } from "./access"
import { type ChargeRow, chargeKey } from "./charge"
import { writeJournal } from "./journal"
import type { OrderRow } from "./order"

const id = v.pipe(v.number(), v.integer(), v.minValue(1))
const input = v.object({
  story: id,
  once: v.pipe(v.string(), v.regex(/^[\w-]{20,40}$/, refusals.refund.form)),
  access: v.picklist(["stays", "ends"]),
  why: v.pipe(v.string(), v.trim(), v.maxLength(200, refusals.value.longest(200))),
  items: v.pipe(
    v.array(
      v.object({
        charge: id,
        amount: v.pipe(
          v.number(refusals.refund.howMuch),
          v.integer(refusals.value.wholeCents),
          v.minValue(1, refusals.value.moreThanNothing),
        ),
      }),
    ),
    v.minLength(1, refusals.refund.what),
    v.maxLength(100),
  ),
})

/** `waiting`: how many the processor has not answered yet; they are tried again by themselves. */
export type Refunded = { readonly ok: true; readonly waiting: number } | Refused

/** Gives charges of one story back, whole or in part. The same `once` twice is once. */
export async function refundStory(s: Context, typed: unknown): Promise<Refunded> {
  const read = v.safeParse(input, typed)
  if (!read.success) return { refused: read.issues[0].message }
  const r = read.output
  if (!s.cards) return { refused: refusals.refund.noProcessor }
  const at = new Date(await s.clock.now())
  const written = await s.db.transaction(async (tx): Promise<{ ids: number[] } | Refused> => {
    await tx.rows("SELECT id FROM orders WHERE id = ? OR first_id = ? ORDER BY id FOR UPDATE", [r.story, r.story])
    const before = await tx.rows<{ id: number }>("SELECT id FROM refund WHERE once IN (?)", [
      r.items.map((i) => `${r.once}:${i.charge}`),
    ])
    if (before.length) return { ids: before.map((b) => b.id) }
    const ids: number[] = []
    for (const item of r.items) {
      const charge = await tx.row<ChargeRow>(
        "SELECT c.* FROM charge c JOIN orders o ON o.id = c.order_id WHERE c.id = ? AND (o.id = ? OR o.first_id = ?) FOR UPDATE",
        [item.charge, r.story, r.story],
      )
      if (charge?.state !== "succeeded") return { refused: refusals.refund.notThis }
      const underWay = await tx.row<{ n: number | null }>(
        "SELECT SUM(amount) AS n FROM refund WHERE charge_id = ? AND state = 'sending'",
        [charge.id],
      )
      const most = refundable(charge.gross, charge.refunded + (underWay?.n ?? 0))
      if (item.amount > most)
        return {
          refused: most ? refusals.refund.most(moneyText(most, charge.currency)) : refusals.refund.already,
        }
      const made = await tx.insert("refund", {
        once: `${r.once}:${charge.id}`,
        charge_id: charge.id,
        amount: item.amount,
        state: "sending",
        access: r.access,
        why: r.why,
        at,
        try_at: new Date(Date.now() + 20_000),
      })
      ids.push(made.id)
    }
    return { ids }
  })
  if ("refused" in written) return written
  for (const refund of written.ids) await sendRefund(s, refund)
  const states = await s.db.rows<{ state: string }>("SELECT state FROM refund WHERE id IN (?)", [written.ids])
  if (states.some((x) => x.state === "refused")) return { refused: refusals.refund.processor }
  return { ok: true, waiting: states.filter((x) => x.state === "sending").length }
}

async function sendRefund(s: Context, refund: number): Promise<void> {
  const row = await s.db.row<{ amount: number; payment: string | null; by_bank: number }>(
    "SELECT r.amount, r.by_bank, c.payment FROM refund r JOIN charge c ON c.id = r.charge_id WHERE r.id = ? AND r.state = 'sending'",
    [refund],
  )
  if (row?.by_bank) return settleRefund(s, refund)
  if (!row || !s.cards) return
  try {
    await s.cards.refund({
      key: chargeKey(s, `refund-${refund}`),
      payment: row.payment ?? "",
      amount: row.amount,
    })
    await settleRefund(s, refund)
  } catch (error) {
    if (error instanceof CardsRefusal) {
      s.log.warn(error, "the card processor refused a refund")
      await s.db.write("UPDATE refund SET state = 'refused' WHERE id = ? AND state = 'sending'", [refund])
    } else if (!(error instanceof CardsUnreachable)) throw error
  }
}

/** The money is on its way back: the journal, the order's state, and what it opened. */
async function settleRefund(s: Context, id: number): Promise<void> {
  const at = await s.clock.now()
  await s.db.transaction(async (tx) => {
    const refund = await tx.row<Pick<Row<"refund">, "charge_id" | "amount" | "access" | "why" | "by_bank">>(
      "SELECT charge_id, amount, access, why, by_bank FROM refund WHERE id = ? AND state = 'sending' FOR UPDATE",
      [id],
    )
    if (!refund) return
    const amount = refund.amount
    const charge = (await tx.row<ChargeRow>("SELECT * FROM charge WHERE id = ? FOR UPDATE", [refund.charge_id]))!
    const order = (await tx.row<OrderRow & { person_id: number }>("SELECT * FROM orders WHERE id = ? FOR UPDATE", [
      charge.order_id,
    ]))!
    const paid = { net: charge.net, tax: charge.tax, gross: charge.gross }
    await writeJournal(tx, {
      entry: `refund:${id}`,
      lines: refundLines(paid, charge.refunded, amount),
      charge: charge.id,
      story: order.first_id ?? order.id,
      currency: charge.currency,
      at,
    })
    await tx.write("UPDATE charge SET refunded = refunded + ? WHERE id = ?", [amount, charge.id])
    await tx.update("refund", id, { state: "done" })
    const left = await tx.row<{ n: number | null }>(
      "SELECT SUM(gross - refunded) AS n FROM charge WHERE order_id = ? AND state = 'succeeded'",
      [order.id],
    )
    if ((left?.n ?? 0) === 0 && order.state === "paid") await tx.update("orders", order.id, { state: "refunded" })
    const offers = await tx.rows<{ id: number }>("SELECT DISTINCT offer_id AS id FROM order_line WHERE order_id = ?", [
      order.id,
    ])
    await happen(tx, [
      {
        kind: "refunded",
        at,
        once: `refunded:${id}`,
        person: order.person_id,
        subject: order.id,
        words: [moneyText(amount, charge.currency), refund.why].filter(Boolean).join(", "),
        money: amount,
        data: { offers: offers.map((o) => o.id) },
      },
    ])
    // Whoever had their bank take it back knows.
    if (!refund.by_bank)
      await queueMail(tx, {
        once: `refund:${id}`,
        kind: "refund",
        person_id: order.person_id,
        to_email: order.email,
        to_name: order.name,
        order_id: order.id,
        refund_id: id,
        due_at: new Date(at),
      })
    if (refund.access === "stays") return
    await endAccess(tx, { order: order.id, line: null, person: order.person_id, at })
    await tx.write(
      "UPDATE plan SET state = 'ended', ended_at = ?, ended_why = 'refunded' WHERE order_id = ? AND state IN ('running', 'behind')",
      [new Date(at), order.id],
    )
  })
}

/** The buyer's bank has taken money back: it is gone, and with it what was bought. Twice is once. */
export async function takeDispute(s: Context, d: Dispute): Promise<void> {
  const at = new Date(await s.clock.now())
  const made = await s.db.transaction(async (tx) => {
    const charge = await tx.row<ChargeRow>(
      "SELECT * FROM charge WHERE payment = ? AND currency = ? AND state = 'succeeded' FOR UPDATE",
      [d.payment, d.currency],
    )
    if (!charge) return null
    const underWay = await tx.row<{ n: number | null }>(
      "SELECT SUM(amount) AS n FROM refund WHERE charge_id = ? AND state = 'sending'",
      [charge.id],
    )
    const amount = Math.min(d.amount, refundable(charge.gross, charge.refunded + (underWay?.n ?? 0)))
    if (amount <= 0) return null
    const row = await tx.insert(
      "refund",
      {
        once: `dispute:${d.id}`,
        charge_id: charge.id,
        amount,
        state: "sending",
        access: "ends",
        why: refusals.refund.byBank,
        at,
        try_at: new Date(Date.now() + 20_000),
        by_bank: 1,
      },
      "ignore",
    )
    return row.affected ? row.id : null
  })
  if (made !== null) await settleRefund(s, made)
}

export const refunds: Due = {
  name: "refunds",
  nextAt: async () => null,
  waits: (_, at) => [["SELECT 1 FROM refund WHERE state = 'sending' AND try_at < ?", [at.real]]],
  run: recoverRefunds,
  inHand: async () => false,
}

/** Refunds of which nothing has been heard: asked for again under their own key, which gives back once. */
export async function recoverRefunds(s: Context): Promise<number> {
  const open = await s.db.transaction(async (tx) => {
    const rows = await tx.rows<{ id: number }>(
      "SELECT id FROM refund WHERE state = 'sending' AND try_at < ? ORDER BY try_at LIMIT 50 FOR UPDATE SKIP LOCKED",
      [new Date()],
    )
    if (rows.length)
      await tx.write("UPDATE refund SET try_at = ? WHERE id IN (?)", [
        new Date(Date.now() + 20_000),
        rows.map((r) => r.id),
      ])
    return rows
  })
  for (const r of open) await sendRefund(s, r.id)
  return open.length
}
