// Statements of what affiliates were paid, as PDF.

import { ibanText } from "@/core/affiliate/iban"
import type { Statement, StatementLine } from "@/core/affiliate/statement"
import type { Config } from "../config"
import type { Db } from "../db/pool"
import type { Row } from "../db/row"
import { keptSheet } from "../draw/draw"
import { schoolZone } from "../school-view"
import { readRate } from "./affiliate"

export type PaidOut = {
  readonly id: number
  readonly number: string
  readonly currency: string
  readonly gross: number
  readonly net: number
  readonly tax: number
  readonly paidAt: Date
}

/** What an affiliate was paid, the latest first. */
export async function statementsOf(db: Db, affiliate: number): Promise<PaidOut[]> {
  const rows = await db.rows<PaidOut>(
    `SELECT t.id, t.note_number AS number, p.currency, t.gross, t.net, t.tax, p.paid_at AS paidAt FROM payout_to t JOIN payout p ON p.id = t.payout_id
     WHERE t.affiliate_id = ? AND p.state = 'paid' ORDER BY p.paid_at DESC, t.id DESC LIMIT 200`,
    [affiliate],
  )
  return rows.map((r) => ({ ...r, gross: r.gross, net: r.net, tax: r.tax }))
}

/** The lines of a payout to one affiliate, in the order in which they came about. */
export async function linesPaid(
  db: Db,
  payout: number,
  affiliate: number,
): Promise<(StatementLine & { id: number; order: number })[]> {
  const rows = await db.rows<
    Pick<Row<"commission">, "id" | "at" | "base" | "rate" | "amount"> & {
      order: number
      what: string | null
      kind: StatementLine["kind"]
      level: 1 | 2
    }
  >(
    `SELECT c.id, c.order_id AS \`order\`, c.at, l.name AS what, c.base, c.rate, c.amount, c.kind, c.level FROM commission c JOIN payout_line x ON x.commission_id = c.id AND x.payout_id = ? LEFT JOIN order_line l ON l.id = c.order_line_id
     WHERE c.affiliate_id = ? ORDER BY c.at, c.id LIMIT 20000`,
    [payout, affiliate],
  )
  return rows.map((r) => ({
    ...r,
    at: r.at.getTime(),
    what: r.what ?? "",
    base: r.base,
    amount: r.amount,
    rate: readRate(r.rate || null),
  }))
}

/** A statement as data; undefined where it isn't this affiliate's, or not paid. `affiliate` null: the school looks. */
export async function statementOf(db: Db, id: number, affiliate: number | null): Promise<Statement | undefined> {
  const t = await db.row<
    Pick<Row<"payout">, "currency" | "tax_rate" | "from_name" | "from_postal"> & {
      payout_id: number
      affiliate_id: number
      note_number: string
      net: number
      tax: number
      gross: number
      holder: string
      iban: string
      postal: string
      tax_number: string
      day: string
      name: string
    }
  >(
    `SELECT t.*, p.currency, DATE_FORMAT(p.paid_day, '%Y-%m-%d') AS day, p.tax_rate, p.from_name, p.from_postal, a.public_name AS name FROM payout_to t JOIN payout p ON p.id = t.payout_id AND p.state = 'paid' JOIN affiliate a ON a.id = t.affiliate_id WHERE t.id = ?`,
    [id],
  )
  if (!t || (affiliate !== null && t.affiliate_id !== affiliate)) return undefined
  return {
    number: t.note_number,
    currency: t.currency,
    day: t.day,
    zone: await schoolZone(db),
    from: { name: t.from_name, postal: t.from_postal },
    to: { name: t.holder || t.name, postal: t.postal, taxNumber: t.tax_number, iban: ibanText(t.iban) },
    lines: await linesPaid(db, t.payout_id, t.affiliate_id),
    net: t.net,
    tax: t.tax,
    taxRate: t.tax_rate,
    gross: t.gross,
  }
}

/** The same as PDF. Throws `TooBusy`. */
export async function statementFile(
  db: Db,
  config: Config,
  id: number,
  affiliate: number | null,
): Promise<{ readonly name: string; readonly bytes: Uint8Array } | undefined> {
  const s = await statementOf(db, id, affiliate)
  return (
    s && {
      name: `${s.number}.pdf`,
      bytes: await keptSheet(config, affiliate === null ? null : `affiliate ${affiliate}`, "statement", String(id), s),
    }
  )
}
