// Commission as it is earned with each charge and taken back with each refund: rows that are never changed, each an entry of
// the journal in the same transaction.
import * as v from "valibot"
import { commissionOn, type Earned, feeShares, takenBack } from "@/core/affiliate/commission"
import { type LineTerms, lineTerms } from "@/core/affiliate/programme"
import { commissionLines } from "@/core/ledger/journal"
import { dueToday, type Plan } from "@/core/offer/plan"
import { readPlan } from "@/core/offer/plan-document"
import { refusals } from "@/core/words/refusals"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { writeJournal } from "../ledger/journal"
import { id, ok, refusal, type Saved } from "../saved"
import { affiliateRules, oneAtATime } from "./rules"

type ChargeRow = {
  id: number
  plan_line: number | null
  n: number
  net: number
  gross: number
  fee: number
  refunded: number
  currency: string
  settled_at: Date
}

/** A line of an order: its plan, and what was agreed to pay for it; null: nothing. */
export type LineAsAgreed = { readonly id: number; readonly plan: Plan; readonly terms: LineTerms | null }

/** What a charge earns, for each line of its order that earns by it. `lines`: all of the order. */
export function earnedBy(
  c: Pick<ChargeRow, "plan_line" | "n" | "net" | "gross" | "fee">,
  lines: readonly LineAsAgreed[],
): { readonly line: number; readonly earned: Earned }[] {
  const first = c.plan_line === null
  // What the first charge was for: everything that cost something on the first day.
  const todays = first ? lines.map((l) => dueToday(l.plan)) : []
  const fees = first
    ? feeShares(
        c.fee,
        todays.map((t) => t.gross),
      )
    : []
  return lines.flatMap((l, at) => {
    if (!l.terms || (!first && c.plan_line !== l.id)) return []
    const paid = first
      ? { net: todays[at]!.net, gross: todays[at]!.gross, fee: fees[at]!, n: 1 }
      : { net: c.net, gross: c.gross, fee: c.fee, n: c.n + 1 }
    return paid.gross === 0 ? [] : [{ line: l.id, earned: commissionOn(l.terms, paid) }]
  })
}

export const saleTerms = (json: string): LineTerms => v.parse(lineTerms, JSON.parse(json))

/**
 * Brings the commission of an order up to what was charged and given back: whatever is missing is written, once. To be
 * called inside the transaction that charged or gave back.
 */
export async function settleOrder(tx: Db, order: number, at: number): Promise<void> {
  const sale = await tx.row<SaleRow>(
    "SELECT s.order_id AS story, s.affiliate_id, s.second_id, s.moves, s.sub FROM orders o JOIN sale s ON s.order_id = COALESCE(o.first_id, o.id) WHERE o.id = ? FOR UPDATE",
    [order],
  )
  if (!sale?.affiliate_id) return
  await settleLines(tx, order, sale, at)
  await sumCommissionUp(tx, sale.story)
}

/** What became of a story that counts for somebody, for lists and reports: always summed up from the rows themselves. */
export async function sumCommissionUp(tx: Db, story: number): Promise<void> {
  await tx.write("DELETE FROM sale_sum WHERE order_id = ?", [story])
  await tx.write(
    `INSERT INTO sale_sum (order_id, currency, affiliate_id, at, sub, offer_id, net, back, commission)
     SELECT s.order_id, x.currency, s.affiliate_id, s.at, s.sub, s.offer_id, SUM(x.net), SUM(x.back), SUM(x.commission) FROM sale s JOIN (
       SELECT c.currency, c.net, ROUND(c.net * c.refunded / GREATEST(c.gross, 1)) AS back, 0 AS commission
         FROM (SELECT ? AS id UNION ALL SELECT id FROM orders WHERE first_id = ?) o JOIN charge c ON c.order_id = o.id AND c.state = 'succeeded'
       UNION ALL SELECT currency, 0, 0, amount FROM commission WHERE order_id = ? AND kind <> 'written-off') x
     WHERE s.order_id = ? AND s.affiliate_id IS NOT NULL GROUP BY x.currency`,
    [story, story, story, story],
  )
}

type SaleRow = { story: number; affiliate_id: number | null; second_id: number | null; moves: number; sub: string }

async function settleLines(tx: Db, order: number, sale: SaleRow, at: number): Promise<void> {
  const lines = (
    await tx.rows<{ id: number; plan: string; terms: string | null }>(
      "SELECT l.id, l.plan, t.terms FROM order_line l LEFT JOIN sale_line t ON t.order_line_id = l.id WHERE l.order_id = ? ORDER BY l.id",
      [order],
    )
  ).map((l) => ({ id: l.id, plan: readPlan(l.plan), terms: l.terms === null ? null : saleTerms(l.terms) }))
  if (!lines.some((l) => l.terms)) return
  const charges = await tx.rows<ChargeRow>(
    `SELECT c.id, p.order_line_id AS plan_line, c.n, c.net, c.gross, c.fee, c.refunded, c.currency, c.settled_at FROM charge c
     LEFT JOIN plan p ON p.id = c.plan_id WHERE c.order_id = ? AND c.state = 'succeeded' ORDER BY c.id`,
    [order],
  )
  const { dueDays } = await affiliateRules(tx)
  for (const c of charges) {
    for (const { line, earned } of earnedBy(c, lines))
      for (const [level, affiliate, amount] of [
        [1, sale.affiliate_id, earned.first],
        [2, sale.second_id, earned.second],
      ] as const)
        if (affiliate !== null && amount > 0)
          await put(tx, {
            once: `e:${c.id}:${line}:${level}:${sale.moves}`,
            kind: "earned",
            affiliate,
            level,
            story: sale.story,
            line,
            charge: c.id,
            earned: null,
            move: sale.moves,
            base: earned.base,
            rate: level === 1 && earned.rate ? JSON.stringify(earned.rate) : "",
            amount,
            currency: c.currency,
            sub: sale.sub,
            at: c.settled_at.getTime(),
            due: c.settled_at.getTime() + dueDays * 86_400_000,
          })
    if (c.refunded > 0) await reverse(tx, c, sale.moves, at)
  }
}

/** What of a charge's commission has still to go back, for what was given back of it. */
async function reverse(tx: Db, c: ChargeRow, move: number, at: number): Promise<void> {
  const earned = await tx.rows<Row>("SELECT * FROM commission WHERE charge_id = ? AND kind = 'earned' AND move = ?", [
    c.id,
    move,
  ])
  for (const e of earned) {
    const before = await tx.row<{ n: number | null }>(
      "SELECT SUM(amount) AS n FROM commission WHERE earned_id = ? AND kind = 'back'",
      [e.id],
    )
    const back = takenBack(e.amount, c.gross, c.refunded) + (before?.n ?? 0)
    if (back > 0)
      await put(tx, {
        ...against(e),
        once: `b:${e.id}:${c.refunded}`,
        kind: "back",
        amount: -back,
        at,
        due: Math.max(e.due_at.getTime(), at),
      })
  }
}

/** Takes away whatever stands of a story's commission: it counts for another now. None of it may be in a payout. */
export async function reverseAll(tx: Db, story: number, at: number): Promise<void> {
  const earned = await tx.rows<Row & { left_over: number }>(
    `SELECT e.*, e.amount + COALESCE((SELECT SUM(b.amount) FROM commission b WHERE b.earned_id = e.id), 0) AS left_over
     FROM commission e WHERE e.order_id = ? AND e.kind = 'earned'`,
    [story],
  )
  for (const e of earned)
    if (e.left_over !== 0)
      await put(tx, {
        ...against(e),
        once: `m:${e.id}`,
        kind: "moved",
        amount: -e.left_over,
        at,
        due: e.due_at.getTime(),
      })
}

type Row = {
  id: number
  affiliate_id: number
  level: 1 | 2
  order_id: number
  order_line_id: number
  charge_id: number
  move: number
  amount: number
  currency: string
  sub: string
  due_at: Date
}

const against = (e: Row) => ({
  affiliate: e.affiliate_id,
  level: e.level,
  story: e.order_id,
  line: e.order_line_id,
  charge: e.charge_id,
  earned: e.id,
  move: e.move,
  base: 0,
  rate: "",
  currency: e.currency,
  sub: e.sub,
})

type New = {
  readonly once: string
  readonly kind: "earned" | "back" | "moved" | "written-off"
  readonly affiliate: number
  readonly level: 1 | 2
  readonly story: number
  readonly line: number
  readonly charge: number
  readonly earned: number | null
  readonly move: number
  readonly base: number
  readonly rate: string
  readonly amount: number
  readonly currency: string
  readonly sub: string
  readonly at: number
  readonly due: number
}

/** Writes a row and its entry of the journal; a second time by the same key changes nothing. */
async function put(tx: Db, c: New): Promise<void> {
  const made = await tx.insert(
    "commission",
    {
      once: c.once,
      kind: c.kind,
      affiliate_id: c.affiliate,
      level: c.level,
      order_id: c.story,
      order_line_id: c.line,
      charge_id: c.charge,
      earned_id: c.earned,
      move: c.move,
      base: c.base,
      rate: c.rate,
      amount: c.amount,
      currency: c.currency,
      sub: c.sub,
      at: new Date(c.at),
      due_at: new Date(c.due),
    },
    "ignore",
  )
  if (!made.affected) return
  await tx.insert("commission_unpaid", {
    commission_id: made.id,
    affiliate_id: c.affiliate,
    currency: c.currency,
    due_at: new Date(c.due),
    amount: c.amount,
  })
  await writeJournal(tx, {
    entry: `commission:${made.id}`,
    lines: commissionLines(c.amount),
    charge: c.charge,
    story: c.story,
    currency: c.currency,
    at: c.at,
  })
}

const leaving = v.object({
  rows: v.pipe(v.array(id), v.minLength(1), v.maxLength(10_000)),
  why: v.pipe(v.string(), v.trim(), v.maxLength(200, refusals.value.longest(200))),
})

/** Leaves lines out of payouts for now, with a reason; without one they are in again. */
export async function leaveOut(s: Context, typed: unknown): Promise<Saved> {
  const read = v.safeParse(leaving, typed)
  if (!read.success) return refusal(read.issues)
  const { rows, why } = read.output
  return s.db.transaction(async (tx): Promise<Saved> => {
    await oneAtATime(tx)
    const done = await tx.write(
      "UPDATE commission_unpaid u LEFT JOIN payout_line l ON l.commission_id = u.commission_id SET u.left_out = ? WHERE u.commission_id IN (?) AND l.commission_id IS NULL",
      [why || null, rows],
    )
    return done.affected ? ok : { refused: refusals.affiliate.paidOut }
  })
}

/** Writes off what is owed to an affiliate who can't be paid any more: the school owes it no longer, and its books say so. */
export async function writeOff(s: Context, affiliate: number): Promise<Saved> {
  const at = await s.clock.now()
  return s.db.transaction(async (tx): Promise<Saved> => {
    await oneAtATime(tx)
    const a = await tx.row<{ person_id: number | null; state: string }>(
      "SELECT person_id, state FROM affiliate WHERE id = ? FOR UPDATE",
      [affiliate],
    )
    if (!a) return { refused: refusals.gone.thing }
    if (a.state !== "ended") return { refused: refusals.affiliate.endFirst }
    const open = await tx.rows<Row & { sum: number }>(
      `SELECT c.*, t.sum FROM commission c JOIN (SELECT MAX(k.id) AS id, SUM(k.amount) AS sum FROM commission k JOIN commission_open o ON o.commission_id = k.id WHERE k.affiliate_id = ? GROUP BY k.currency) t ON t.id = c.id`,
      [affiliate],
    )
    for (const c of open)
      if (c.sum !== 0)
        await put(tx, {
          ...against(c),
          once: `w:${c.id}`,
          kind: "written-off",
          earned: null,
          amount: -c.sum,
          at,
          due: at,
        })
    return ok
  })
}
