// Payouts as the studio shows them.
import { isRewritten } from "@/core/affiliate/bank-file"
import { bankText } from "@/core/affiliate/bank-letters"
import type { Db } from "../db/pool"

export type PayoutListed = {
  readonly id: number
  readonly state: "made" | "paid" | "undone"
  readonly currency: string
  readonly until: Date
  readonly day: string
  readonly people: number
  readonly lines: number
  readonly gross: number
  readonly madeAt: Date
  readonly paidAt: Date | null
  readonly undoneAt: Date | null
  /** How many are in the bank's file so far; all of them once it is whole. */
  readonly fileDone: number
  readonly fileAt: Date | null
}

const columns =
  "p.id, p.state, p.currency, p.until_at AS `until`, DATE_FORMAT(p.day, '%Y-%m-%d') AS day, p.people, p.line_count AS `lines`, p.gross, p.made_at AS madeAt, p.paid_at AS paidAt, p.undone_at AS undoneAt, p.file_done AS fileDone, p.file_at AS fileAt"

const shaped = (r: PayoutListed): PayoutListed => ({ ...r, gross: r.gross })

/** The latest first; at most 500. */
export async function listPayouts(db: Db): Promise<PayoutListed[]> {
  return (await db.rows<PayoutListed>(`SELECT ${columns} FROM payout p ORDER BY p.id DESC LIMIT 500`)).map(shaped)
}

export async function payoutById(db: Db, id: number): Promise<PayoutListed | undefined> {
  const row = await db.row<PayoutListed>(`SELECT ${columns} FROM payout p WHERE p.id = ?`, [id])
  return row && shaped(row)
}

export type PaidTo = {
  readonly id: number
  readonly affiliate: number
  readonly name: string
  readonly net: number
  readonly tax: number
  readonly gross: number
  readonly lines: number
  readonly holder: string
  readonly iban: string
  readonly note: string | null
  readonly mailed: boolean
  /** The name as the bank's file has it, where that is another. */
  readonly rewritten: string | null
}

export const paidPage = 100

/** Whom a payout pays, a page of them. */
export async function paidTo(db: Db, payout: number, page: number): Promise<PaidTo[]> {
  const rows = await db.rows<Omit<PaidTo, "rewritten" | "mailed"> & { mailed: number }>(
    `SELECT t.id, t.affiliate_id AS affiliate, a.public_name AS name, t.net, t.tax, t.gross, t.line_count AS \`lines\`, t.holder, t.iban, t.note_number AS note, t.mailed
     FROM payout_to t JOIN affiliate a ON a.id = t.affiliate_id WHERE t.payout_id = ? ORDER BY t.id LIMIT ? OFFSET ?`,
    [payout, paidPage, page * paidPage],
  )
  return rows.map((r) => ({
    ...r,
    name: r.name || "erased",
    net: r.net,
    tax: r.tax,
    gross: r.gross,
    mailed: Boolean(r.mailed),
    rewritten: isRewritten(r) ? bankText(r.holder, 70).text : null,
  }))
}

/** How many of a payout have been written to. */
export async function writtenTo(db: Db, payout: number): Promise<number> {
  const row = await db.row<{ n: number }>("SELECT COUNT(*) AS n FROM payout_to WHERE payout_id = ? AND mailed = 1", [
    payout,
  ])
  return row?.n ?? 0
}

export type DueLine = {
  readonly id: number
  readonly affiliate: number
  readonly at: Date
  readonly due: Date
  readonly order: number
  readonly what: string
  readonly kind: "earned" | "back" | "moved" | "written-off"
  readonly level: 1 | 2
  readonly base: number
  readonly rate: string
  readonly amount: number
  readonly currency: string
  readonly leftOut: string | null
}

export const linesPage = 200

/** Lines of an affiliate that are due before an instant (ms) and in no payout, or those of a payout; a page of them. */
export async function dueLines(
  db: Db,
  of: { readonly until: number; readonly currency: string } | { readonly payout: number },
  affiliate: number,
  page: number,
): Promise<DueLine[]> {
  const [is, values] =
    "payout" in of
      ? ["payout_line x ON x.commission_id = c.id AND x.payout_id = ?", [of.payout]]
      : [
          "commission_open x ON x.commission_id = c.id AND c.due_at < ? AND c.currency = ?",
          [new Date(of.until), of.currency],
        ]
  const rows = await db.rows<DueLine>(
    `SELECT c.id, c.affiliate_id AS affiliate, c.at, c.due_at AS due, c.order_id AS \`order\`, COALESCE(l.name, '') AS what, c.kind, c.level, c.base, c.rate, c.amount, c.currency, ${"payout" in of ? "NULL" : "x.left_out"} AS leftOut
     FROM commission c JOIN ${is} LEFT JOIN order_line l ON l.id = c.order_line_id WHERE c.affiliate_id = ? ORDER BY c.at, c.id LIMIT ? OFFSET ?`,
    [...values, affiliate, linesPage, page * linesPage],
  )
  return rows.map((r) => ({ ...r, base: r.base, amount: r.amount }))
}
