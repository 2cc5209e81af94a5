// The rollup: facts of arrival summed by quarter-hour, so that a river costs the same after ten million visits.

import type { Funnel } from "@/core/funnel/draft"
import { type Flow, type Measure, moneyRiverOf, type Resting, type River, riverOf, type Way } from "@/core/funnel/river"
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
      `INSERT INTO river_flow (funnel_id, quarter, step_id, from_step_id, outcome, via, source, n, money)
       SELECT ${flowColumns}, COUNT(*), SUM(money) FROM fact WHERE kind = 'arrived' AND id > ? AND id <= ? GROUP BY 1, 2, 3, 4, 5, 6, 7
       ON DUPLICATE KEY UPDATE n = n + VALUES(n), money = money + VALUES(money)`,
      [from, upTo],
    )
    await tx.write("UPDATE rollup_mark SET fact_id = ? WHERE name = 'river'", [upTo])
    await gatherSources(tx)
    return upTo - from
  })
}

/** Sources of a funnel kept by name: the largest. Made-up ones, by the thousand, become "others". */
const mostSources = 200
const others = "others"

/** Gathers the small sources of funnels that have twice as many as are kept, so that a new one has room to grow. */
async function gatherSources(tx: Db): Promise<void> {
  const many = await tx.rows<{ funnel_id: number }>(
    "SELECT funnel_id FROM river_flow WHERE via = 'source' GROUP BY funnel_id HAVING COUNT(DISTINCT source) > ?",
    [2 * mostSources],
  )
  for (const { funnel_id: funnel } of many) {
    const largest = await tx.rows<{ source: string }>(
      "SELECT source FROM river_flow WHERE funnel_id = ? AND via = 'source' AND source <> ? GROUP BY source ORDER BY SUM(n) DESC, source LIMIT ?",
      [funnel, others, mostSources],
    )
    const kept = [[others, ...largest.map((l) => l.source)]]
    await tx.write(
      `INSERT INTO river_flow (funnel_id, quarter, step_id, from_step_id, outcome, via, source, n, money)
       SELECT f.funnel_id, f.quarter, f.step_id, f.from_step_id, f.outcome, f.via, '${others}', SUM(f.n), SUM(f.money) FROM river_flow f
       WHERE f.funnel_id = ? AND f.source NOT IN (?) GROUP BY 1, 2, 3, 4, 5, 6
       ON DUPLICATE KEY UPDATE n = river_flow.n + VALUES(n), money = river_flow.money + VALUES(money)`,
      [funnel, ...kept],
    )
    await tx.write("DELETE FROM river_flow WHERE funnel_id = ? AND source NOT IN (?)", [funnel, ...kept])
  }
}

/** A range of business time in ms, from inclusive, to exclusive; both on quarter-hours. */
export type Range = { readonly from: number; readonly to: number }

const week = 7 * 86_400_000

export type Rivers = { readonly people: River; readonly money: River }

/** The river in one measure; see readRivers. */
export async function readRiver(
  s: Surroundings,
  funnel: Funnel,
  range: Range,
  measure: Measure = "people",
  ways: readonly Way[] = [],
): Promise<River> {
  return (await readRivers(s, funnel, range, ways))[measure]
}

/**
 * The river of the journeys that began in the range, as far as they have come by now, in people and in money: of all of
 * them, or only of those that took every one of the given ways.
 */
export async function readRivers(
  s: Surroundings,
  funnel: Funnel,
  range: Range,
  ways: readonly Way[] = [],
): Promise<Rivers> {
  const now = await s.clock.now()
  const span = [new Date(range.from), new Date(range.to)]
  const took = ways
    .map(
      () =>
        " AND EXISTS (SELECT 1 FROM fact w WHERE w.funnel_id = j.funnel_id AND w.from_step_id = ? AND w.outcome = ? AND w.visitor = j.visitor AND w.kind = 'arrived')",
    )
    .join("")
  const wayValues = ways.flatMap((w) => [w.step, w.outcome])
  // With the mark held, the rollup can't move on between the two halves of the sum.
  return s.db.transaction(async (tx) => {
    const mark = await tx.row<{ fact_id: number }>(
      "SELECT fact_id FROM rollup_mark WHERE name = 'river' LOCK IN SHARE MODE",
    )
    const flows = ways.length
      ? await flowsOf(
          tx,
          `SELECT f.step_id, COALESCE(f.from_step_id, 0) AS from_step_id, COALESCE(f.outcome, '') AS outcome, f.via, f.source, COUNT(*) AS n, SUM(f.money) AS money
           FROM journey j JOIN fact f ON f.funnel_id = j.funnel_id AND f.visitor = j.visitor AND f.kind = 'arrived'
           WHERE j.funnel_id = ? AND j.begun_at >= ? AND j.begun_at < ?${took} GROUP BY 1, 2, 3, 4, 5`,
          [funnel.id, ...span, ...wayValues],
        )
      : [
          ...(await flowsOf(
            tx,
            "SELECT step_id, from_step_id, outcome, via, source, SUM(n) AS n, SUM(money) AS money FROM river_flow WHERE funnel_id = ? AND quarter >= ? AND quarter < ? GROUP BY 1, 2, 3, 4, 5",
            [funnel.id, ...span],
          )),
          ...(await flowsOf(
            tx,
            `SELECT step_id, COALESCE(from_step_id, 0) AS from_step_id, COALESCE(outcome, '') AS outcome, via, source, COUNT(*) AS n, SUM(money) AS money FROM fact
             WHERE id > ? AND kind = 'arrived' AND funnel_id = ? AND begun_at >= ? AND begun_at < ? GROUP BY 1, 2, 3, 4, 5`,
            [mark?.fact_id ?? 0, funnel.id, ...span],
          )),
        ]
    const rows = await tx.rows<{ step: number; recent: number; n: string; money: string }>(
      `SELECT j.rest_step_id AS step, j.rest_at >= ? AS recent, COUNT(*) AS n, SUM(j.paid) AS money FROM journey j
       WHERE j.funnel_id = ? AND j.begun_at >= ? AND j.begun_at < ?${took} GROUP BY 1, 2`,
      [new Date(now - week), funnel.id, ...span, ...wayValues],
    )
    const resting = (of: typeof rows) => {
      const by = new Map<number, Resting>()
      for (const r of of) {
        const before = by.get(r.step) ?? { n: 0, money: 0 }
        by.set(r.step, { n: before.n + number(r.n), money: before.money + number(r.money) })
      }
      return by
    }
    const recent = resting(rows.filter((r) => Number(r.recent) === 1))
    const begun = await tx.rows<{ sequence: number; n: string }>(
      `SELECT e.sequence_id AS sequence, COUNT(*) AS n FROM enrolment e WHERE e.sequence_id IN (?) AND e.begun_at >= ? AND e.begun_at < ?
       ${ways.length ? `AND EXISTS (SELECT 1 FROM journey j WHERE j.person_id = e.person_id AND j.funnel_id = ?${took})` : ""} GROUP BY 1`,
      [[0, ...funnel.sequences.map((q) => q.id)], ...span, ...(ways.length ? [funnel.id, ...wayValues] : [])],
    )
    return {
      people: riverOf(funnel, flows, recent, new Map(begun.map((b) => [b.sequence, number(b.n)]))),
      money: moneyRiverOf(funnel, flows, recent, resting(rows)),
    }
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
    money: string
  }>(sql, values)
  return rows.map((r) => ({
    step: r.step_id,
    from: number(r.from_step_id),
    outcome: r.outcome,
    via: r.via,
    source: r.source,
    n: number(r.n),
    money: number(r.money),
  }))
}
