// Reckons every commission anew, from the sales, the charges and what was given back, and holds it against what was written
// and against the books.
import { takenBack } from "@/core/affiliate/commission"
import type { LineTerms } from "@/core/affiliate/programme"
import type { Plan } from "@/core/offer/plan"
import { readPlan } from "@/core/offer/plan-document"
import { type Db, number } from "../db/pool"
import { earnedBy, type LineAsAgreed, readTerms } from "./commission"

export type Reckoned = {
  /** How many charges of sales that count for an affiliate. */
  readonly charges: number
  /** What stands to be owed or was paid, by currency, minor units: reckoned anew, as it was written, and in the books. */
  readonly sums: readonly {
    readonly currency: string
    readonly reckoned: number
    readonly written: number
    readonly booked: number
  }[]
  /** The first fifty charges where the three don't say the same. */
  readonly wrong: readonly {
    readonly order: number
    readonly charge: number
    readonly currency: string
    readonly reckoned: number
    readonly written: number
    readonly booked: number
  }[]
}

const batch = 20_000
const mostWrong = 50
/** It only reads, so it may take its time, ms. */
const longest = 600_000

type Row = {
  id: number
  order_id: number
  story: number
  currency: string
  plan_line: number | null
  n: number
  net: number
  gross: number
  fee: number
  refunded: number
  affiliate: number | null
  second: number | null
  line: number
  plan: string
  terms: string | null
}

/** Everything in one look at the data, however much is paid meanwhile. What was written off is left aside on all sides. */
export async function reckonAll(db: Db): Promise<Reckoned> {
  return db.transaction(async (tx) => {
    const sums = new Map<string, { currency: string; reckoned: number; written: number; booked: number }>()
    const wrong: Reckoned["wrong"][number][] = []
    const plans = remembered(readPlan)
    const terms = remembered(readTerms)
    let charges = 0
    const last = number((await tx.row<{ n: string | null }>("SELECT MAX(id) AS n FROM charge"))?.n)
    for (let from = 0; from < last; from += batch) {
      const range = [from, from + batch]
      const rows = await tx.rows<Row>(
        `SELECT c.id, c.order_id, s.order_id AS story, c.currency, p.order_line_id AS plan_line, c.n, c.net, c.gross, c.fee, c.refunded,
           s.affiliate_id AS affiliate, s.second_id AS second, l.id AS line, l.plan, t.terms
         FROM charge c JOIN orders o ON o.id = c.order_id JOIN sale s ON s.order_id = COALESCE(o.first_id, o.id)
         JOIN order_line l ON l.order_id = o.id LEFT JOIN sale_line t ON t.order_line_id = l.id LEFT JOIN plan p ON p.id = c.plan_id
         WHERE c.id > ? AND c.id <= ? AND c.state = 'succeeded' ORDER BY c.id, l.id`,
        range,
      )
      const written = await byCharge(
        tx,
        "SELECT charge_id AS id, currency, SUM(amount) AS n FROM commission WHERE charge_id > ? AND charge_id <= ? AND kind <> 'written-off' GROUP BY charge_id",
        range,
      )
      const booked = await byCharge(
        tx,
        "SELECT charge_id AS id, currency, -SUM(amount) AS n FROM journal WHERE charge_id > ? AND charge_id <= ? AND account = 'affiliates' GROUP BY charge_id",
        range,
      )
      const off = await byCharge(
        tx,
        "SELECT charge_id AS id, currency, SUM(amount) AS n FROM commission WHERE charge_id > ? AND charge_id <= ? AND kind = 'written-off' GROUP BY charge_id",
        range,
      )
      const told = new Map<number, { order: number; currency: string; amount: number }>()
      for (let i = 0; i < rows.length; ) {
        const c = rows[i]!
        const lines: LineAsAgreed[] = []
        for (; rows[i]?.id === c.id; i++) {
          const l = rows[i]!
          lines.push({ id: l.line, plan: plans(l.plan), terms: l.terms === null ? null : terms(l.terms) })
        }
        charges++
        told.set(c.id, { order: c.story, currency: c.currency, amount: c.affiliate === null ? 0 : stands(c, lines) })
      }
      for (const id of new Set([...told.keys(), ...written.keys(), ...booked.keys()])) {
        const [t, w, b] = [told.get(id), written.get(id), booked.get(id)]
        const one = {
          currency: (t ?? w ?? b)!.currency,
          reckoned: t?.amount ?? 0,
          written: w?.amount ?? 0,
          booked: (b?.amount ?? 0) - (off.get(id)?.amount ?? 0),
        }
        const sum = sums.get(one.currency) ?? { currency: one.currency, reckoned: 0, written: 0, booked: 0 }
        sum.reckoned += one.reckoned
        sum.written += one.written
        sum.booked += one.booked
        sums.set(one.currency, sum)
        if ((one.reckoned !== one.written || one.written !== one.booked) && wrong.length < mostWrong)
          wrong.push({ order: t?.order ?? 0, charge: id, ...one })
      }
    }
    return { charges, sums: [...sums.values()].sort((a, b) => (a.currency < b.currency ? -1 : 1)), wrong }
  }, longest)
}

/** What stands of the commission of a charge, once what was given back has been taken off. */
function stands(c: Row, lines: readonly LineAsAgreed[]): number {
  let sum = 0
  for (const { earned } of earnedBy(c, lines))
    for (const amount of [earned.first, c.second === null ? 0 : earned.second])
      sum += amount - takenBack(amount, Number(c.gross), Number(c.refunded))
  return sum
}

/** Plans and terms are few, however many are sold. */
function remembered<T extends Plan | LineTerms>(read: (json: string) => T): (json: string) => T {
  const known = new Map<string, T>()
  return (json) => {
    const before = known.get(json)
    if (before) return before
    if (known.size > 10_000) known.clear()
    const now = read(json)
    known.set(json, now)
    return now
  }
}

async function byCharge(
  tx: Db,
  sql: string,
  range: number[],
): Promise<Map<number, { currency: string; amount: number }>> {
  const rows = await tx.rows<{ id: number; currency: string; n: string }>(sql, range)
  return new Map(rows.map((r) => [r.id, { currency: r.currency, amount: number(r.n) }]))
}
