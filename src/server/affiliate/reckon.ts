// Reckons every commission anew, from the sales, the charges and what was given back, and holds it against what was written
// and against the books.
import { takenBack } from "@/core/affiliate/commission"
import type { LineTerms } from "@/core/affiliate/programme"
import type { Plan } from "@/core/offer/plan"
import { readPlan } from "@/core/offer/plan-document"
import type { Database, Db } from "../db/pool"
import { earnedBy, type LineAsAgreed, saleTerms } from "./commission"

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

const sold = `SELECT c.id, c.order_id, COALESCE(o.first_id, o.id) AS story, c.currency, p.order_line_id AS plan_line, c.n, c.net, c.gross, c.fee, c.refunded,
    s.affiliate_id AS affiliate, s.second_id AS second, l.id AS line, l.plan, t.terms
  FROM charge c JOIN orders o ON o.id = c.order_id JOIN sale s ON s.order_id = COALESCE(o.first_id, o.id)
  JOIN order_line l ON l.order_id = o.id LEFT JOIN sale_line t ON t.order_line_id = l.id LEFT JOIN plan p ON p.id = c.plan_id
  WHERE c.id > ? AND c.id <= ? AND c.state = 'succeeded' ORDER BY c.id, l.id`

/** Each row of commission with its entry of the journal, summed up by charge; what was written off is left aside. */
const kept = `SELECT k.charge_id AS id, MIN(k.currency) AS currency, SUM(k.amount) AS written, -SUM(COALESCE(j.amount, 0)) AS booked
  FROM commission k LEFT JOIN journal j ON j.once = CONCAT('commission:', k.id, ':affiliates')
  WHERE k.charge_id > ? AND k.charge_id <= ? AND k.kind <> 'written-off' GROUP BY k.charge_id`

type Kept = { id: number; currency: string; written: number; booked: number }

/** Everything as it was at one moment, however much is paid meanwhile. */
export async function reckonAll(db: Pick<Database, "snapshot">): Promise<Reckoned> {
  return db.snapshot(async (tx) => {
    const sums = new Map<string, { reckoned: number; written: number }>()
    const wrong: Reckoned["wrong"][number][] = []
    const plans = remembered(readPlan)
    const terms = remembered(saleTerms)
    let charges = 0
    const last = (await tx.row<{ n: number | null }>("SELECT MAX(id) AS n FROM charge"))?.n ?? 0
    const read = (from: number) => {
      const range = [from, from + batch]
      return Promise.all([tx.rows<Row>(sold, range), tx.rows<Kept>(kept, range)])
    }
    // While one batch is reckoned here, the database reads the next.
    let next = read(0)
    for (let from = 0; from < last; from += batch) {
      const [rows, list] = await next
      next = read(from + batch)
      const byCharge = new Map(list.map((k) => [k.id, k]))
      const put = (c: { id: number; story: number; currency: string }, reckoned: number) => {
        const k = byCharge.get(c.id)
        const one = { reckoned, written: k?.written ?? 0, booked: k?.booked ?? 0 }
        const sum = sums.get(c.currency) ?? { reckoned: 0, written: 0 }
        sums.set(c.currency, { reckoned: sum.reckoned + reckoned, written: sum.written + one.written })
        if ((reckoned !== one.written || one.written !== one.booked) && wrong.length < mostWrong)
          wrong.push({ order: c.story, charge: c.id, currency: c.currency, ...one })
        byCharge.delete(c.id)
      }
      for (let i = 0; i < rows.length; ) {
        const c = rows[i]!
        const lines: LineAsAgreed[] = []
        for (; rows[i]?.id === c.id; i++) {
          const l = rows[i]!
          lines.push({ id: l.line, plan: plans(l.plan), terms: l.terms === null ? null : terms(l.terms) })
        }
        charges++
        put(c, c.affiliate === null ? 0 : stands(c, lines))
      }
      // Commission of what is no sale of anybody's.
      for (const k of [...byCharge.values()]) put({ ...k, story: 0 }, 0)
    }
    await next
    const booked = await owedInBooks(tx)
    return {
      charges,
      sums: [...new Set([...sums.keys(), ...booked.keys()])].sort().map((currency) => ({
        currency,
        ...(sums.get(currency) ?? { reckoned: 0, written: 0 }),
        booked: booked.get(currency) ?? 0,
      })),
      wrong,
    }
  }, longest)
}

/** What the books say was ever owed, by currency: what is owed still, with what was paid and what was written off. */
async function owedInBooks(tx: Db): Promise<Map<string, number>> {
  const rows = await tx.rows<{ currency: string; n: number }>(
    `SELECT currency, SUM(n) AS n FROM (
       SELECT currency, -SUM(amount) AS n FROM journal WHERE account = 'affiliates' GROUP BY currency
       UNION ALL SELECT p.currency, SUM(t.net) FROM payout p JOIN payout_to t ON t.payout_id = p.id WHERE p.state = 'paid' GROUP BY p.currency
       UNION ALL SELECT currency, -SUM(amount) FROM commission WHERE kind = 'written-off' GROUP BY currency) x GROUP BY currency`,
  )
  return new Map(rows.map((r) => [r.currency, r.n]))
}

/** What stands of the commission of a charge, once what was given back has been taken off. */
function stands(c: Row, lines: readonly LineAsAgreed[]): number {
  let sum = 0
  for (const { earned } of earnedBy(c, lines))
    for (const amount of [earned.first, c.second === null ? 0 : earned.second])
      sum += amount - takenBack(amount, c.gross, c.refunded)
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
