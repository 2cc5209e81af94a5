// A funnel with what was measured at each step, of those who first came in a period.
import { type MeasuredStep, measured } from "@/core/numbers/measured"
import { loadFunnel } from "../funnel/load"
import { flowsIn, type Range } from "../funnel/rollup"
import { sellingRules } from "../offer/offer"
import type { Looking } from "./brought"
import { rollSold } from "./roll-sold"

export type MeasuredFunnel = {
  readonly id: number
  readonly name: string
  readonly steps: readonly MeasuredStep[]
  readonly currency: string
}

/** Undefined: there is no such funnel. Money is the school's currency: what was kept by now of each order that was made at a step. */
export async function measuredFunnel(
  s: Pick<Looking, "db">,
  id: number,
  range: Range,
): Promise<MeasuredFunnel | undefined> {
  const funnel = await loadFunnel(s.db, id)
  if (!funnel) return undefined
  const { currency } = await sellingRules(s.db)
  while ((await rollSold(s.db)) > 0);
  // By hundredths of the orders of a step, from the least to the most.
  const rows = await s.db.rows<{ step: number; some: number; n: number; kept: number }>(
    `SELECT step, AVG(kept) AS some, COUNT(*) AS n, SUM(kept) AS kept FROM (
       SELECT step_id AS step, kept, NTILE(100) OVER (PARTITION BY step_id ORDER BY kept) AS part FROM sold_order
       WHERE funnel_id = ? AND currency = ? AND begun_at >= ? AND begun_at < ?) each_order
     GROUP BY step, part ORDER BY step, part`,
    [id, currency, new Date(range.from), new Date(range.to)],
  )
  const brings = new Map(
    [...new Set(rows.map((r) => r.step))].map((step) => {
      const mine = rows.filter((r) => r.step === step)
      const sum = (of: "n" | "kept") => mine.reduce((all, r) => all + r[of], 0)
      return [step, { mean: sum("kept") / sum("n"), some: mine.map((r) => r.some) }]
    }),
  )
  const passed = await flowsIn(s.db, id, range)
  return {
    id,
    name: funnel.name,
    steps: measured(funnel, passed, brings),
    currency,
  }
}
