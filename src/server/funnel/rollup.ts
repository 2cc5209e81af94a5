// The rollup: facts of arrival summed by quarter-hour, so that a river costs the same after ten million visits.

import type { Funnel } from "@/core/funnel/draft"
import { type Flow, type River, riverOf } from "@/core/funnel/river"
import { type Db, longestTransaction, number } from "../db/pool"
import type { Surroundings } from "../surroundings"

const flowColumns =
  "funnel_id, FROM_UNIXTIME(FLOOR(UNIX_TIMESTAMP(begun_at) / 900) * 900) AS quarter, step_id, COALESCE(from_step_id, 0) AS from_step_id, COALESCE(outcome, '') AS outcome, via, source"

/**
 * Takes settled facts into the rollup; gives how many. A fact is settled when no transaction that could still commit an
 * earlier one is left: twice the longest transaction after it was recorded.
 */
export async function rollUp(s: Surroundings, settledMs = 2 * longestTransaction): Promise<number> {
  return s.db.transaction(async (tx) => {
    const mark = await tx.row<{ fact_id: number }>("SELECT fact_id FROM rollup_mark WHERE name = 'river' FOR UPDATE")
    const from = mark?.fact_id ?? 0
    const last = await tx.row<{ id: string | null }>(
      "SELECT MAX(id) AS id FROM (SELECT id FROM fact WHERE id > ? AND recorded_at < ? ORDER BY id LIMIT 20000) settled",
      [from, new Date(Date.now() - settledMs)],
    )
    const upTo = number(last?.id)
    if (upTo <= from) return 0
    await tx.write(
      `INSERT INTO river_flow (funnel_id, quarter, step_id, from_step_id, outcome, via, source, n)
       SELECT ${flowColumns}, COUNT(*) FROM fact WHERE kind = 'arrived' AND id > ? AND id <= ? GROUP BY 1, 2, 3, 4, 5, 6, 7
       ON DUPLICATE KEY UPDATE n = n + VALUES(n)`,
      [from, upTo],
    )
    await tx.write("UPDATE rollup_mark SET fact_id = ? WHERE name = 'river'", [upTo])
    return upTo - from
  })
}

/** A range of business time in ms, from inclusive, to exclusive; both on quarter-hours. */
export type Range = { readonly from: number; readonly to: number }

const week = 7 * 86_400_000

/** The river of the journeys that began in the range, as far as they have come by now. */
export async function readRiver(s: Surroundings, funnel: Funnel, range: Range): Promise<River> {
  const now = await s.clock.now()
  const span = [new Date(range.from), new Date(range.to)]
  // With the mark held, the rollup can't move on between the two halves of the sum.
  return s.db.transaction(async (tx) => {
    const mark = await tx.row<{ fact_id: number }>(
      "SELECT fact_id FROM rollup_mark WHERE name = 'river' LOCK IN SHARE MODE",
    )
    const rolled = await flowsOf(
      tx,
      "SELECT step_id, from_step_id, outcome, via, source, SUM(n) AS n FROM river_flow WHERE funnel_id = ? AND quarter >= ? AND quarter < ? GROUP BY 1, 2, 3, 4, 5",
      [funnel.id, ...span],
    )
    const fresh = await flowsOf(
      tx,
      `SELECT step_id, COALESCE(from_step_id, 0) AS from_step_id, COALESCE(outcome, '') AS outcome, via, source, COUNT(*) AS n FROM fact
       WHERE id > ? AND kind = 'arrived' AND funnel_id = ? AND begun_at >= ? AND begun_at < ? GROUP BY 1, 2, 3, 4, 5`,
      [mark?.fact_id ?? 0, funnel.id, ...span],
    )
    const here = await tx.rows<{ step: number; n: string }>(
      "SELECT rest_step_id AS step, COUNT(*) AS n FROM journey WHERE funnel_id = ? AND rest_at >= ? AND begun_at >= ? AND begun_at < ? GROUP BY 1",
      [funnel.id, new Date(now - week), ...span],
    )
    const begun = await tx.rows<{ sequence: number; n: string }>(
      "SELECT sequence_id AS sequence, COUNT(*) AS n FROM enrolment WHERE sequence_id IN (?) AND begun_at >= ? AND begun_at < ? GROUP BY 1",
      [[0, ...funnel.sequences.map((q) => q.id)], ...span],
    )
    return riverOf(
      funnel,
      [...rolled, ...fresh],
      new Map(here.map((h) => [h.step, number(h.n)])),
      new Map(begun.map((b) => [b.sequence, number(b.n)])),
    )
  })
}

async function flowsOf(db: Db, sql: string, values: unknown[]): Promise<Flow[]> {
  const rows = await db.rows<{
    step_id: number
    from_step_id: string | number
    outcome: string
    via: Flow["via"]
    source: string
    n: string
  }>(sql, values)
  return rows.map((r) => ({
    step: r.step_id,
    from: number(r.from_step_id),
    outcome: r.outcome,
    via: r.via,
    source: r.source,
    n: number(r.n),
  }))
}
