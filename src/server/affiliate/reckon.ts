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
  written: string | null
  booked: string | null
}

/** A charge, with everything that is held against it, is read by one statement: whatever is paid meanwhile is in all of it or in none. */
const charges = `SELECT c.id, c.order_id, COALESCE(o.first_id, o.id) AS story, c.currency, p.order_line_id AS plan_line, c.n, c.net, c.gross, c.fee, c.refunded,
    s.affiliate_id AS affiliate, s.second_id AS second, l.id AS line, l.plan, t.terms,
    (SELECT SUM(k.amount) FROM commission k WHERE k.charge_id = c.id AND k.kind <> 'written-off') AS written,
    -(SELECT SUM(j.amount) FROM journal j WHERE j.charge_id = c.id AND j.account = 'affiliates')
      - COALESCE((SELECT SUM(k.amount) FROM commission k WHERE k.charge_id = c.id AND k.kind = 'written-off'), 0) AS booked
  FROM charge c JOIN orders o ON o.id = c.order_id LEFT JOIN sale s ON s.order_id = COALESCE(o.first_id, o.id)
  JOIN order_line l ON l.order_id = o.id LEFT JOIN sale_line t ON t.order_line_id = l.id LEFT JOIN plan p ON p.id = c.plan_id
  WHERE c.id > ? AND c.id <= ? AND c.state = 'succeeded' ORDER BY c.id, l.id`

/** However much is paid meanwhile. What was written off is left aside on all sides. */
export async function reckonAll(db: Db): Promise<Reckoned> {
  const sums = new Map<string, { currency: string; reckoned: number; written: number; booked: number }>()
  const wrong: Reckoned["wrong"][number][] = []
  const plans = remembered(readPlan)
  const terms = remembered(readTerms)
  let counted = 0
  const last = number((await db.row<{ n: string | null }>("SELECT MAX(id) AS n FROM charge"))?.n)
  for (let from = 0; from < last; from += batch) {
    const rows = await db.rows<Row>(charges, [from, from + batch])
    for (let i = 0; i < rows.length; ) {
      const c = rows[i]!
      const lines: LineAsAgreed[] = []
      for (; rows[i]?.id === c.id; i++) {
        const l = rows[i]!
        lines.push({ id: l.line, plan: plans(l.plan), terms: l.terms === null ? null : terms(l.terms) })
      }
      if (c.affiliate === null && c.written === null && c.booked === null) continue
      counted++
      const one = {
        reckoned: c.affiliate === null ? 0 : stands(c, lines),
        written: number(c.written),
        booked: number(c.booked),
      }
      const sum = sums.get(c.currency) ?? { currency: c.currency, reckoned: 0, written: 0, booked: 0 }
      sum.reckoned += one.reckoned
      sum.written += one.written
      sum.booked += one.booked
      sums.set(c.currency, sum)
      if ((one.reckoned !== one.written || one.written !== one.booked) && wrong.length < mostWrong)
        wrong.push({ order: c.story, charge: c.id, currency: c.currency, ...one })
    }
  }
  return { charges: counted, sums: [...sums.values()].sort((a, b) => (a.currency < b.currency ? -1 : 1)), wrong }
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
