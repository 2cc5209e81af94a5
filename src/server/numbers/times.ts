// How long people take from coming to a step until they go out by an outcome.
import type { Db } from "../db/pool"
import type { Range } from "../funnel/rollup"

/** Journeys that are looked at, the latest: enough for a median, however many there are. */
const looked = 2_000
/** Fewer passes than this say nothing. */
const enough = 5

/** The median time between coming to a step and its outcome, ms, by `step outcome`, of journeys that began in a range. */
export async function timesBetween(db: Db, funnel: number, range: Range): Promise<ReadonlyMap<string, number>> {
  const rows = await db.rows<{ step: number; outcome: string; took: number }>(
    `SELECT w.from_step_id AS step, w.outcome, TIMESTAMPDIFF(MICROSECOND, a.at, w.at) / 1000 AS took
     FROM (SELECT funnel_id, visitor, run FROM journey FORCE INDEX (resting) WHERE funnel_id = ? AND begun_at >= ? AND begun_at < ? ORDER BY begun_at DESC LIMIT ?) j
     JOIN fact w ON w.funnel_id = j.funnel_id AND w.visitor = j.visitor AND w.run = j.run AND w.kind = 'arrived' AND w.from_step_id IS NOT NULL
     JOIN fact a ON a.funnel_id = j.funnel_id AND a.visitor = j.visitor AND a.run = j.run AND a.kind = 'arrived' AND a.step_id = w.from_step_id`,
    [funnel, new Date(range.from), new Date(range.to), looked],
  )
  const by = new Map<string, number[]>()
  for (const r of rows) {
    const key = `${r.step} ${r.outcome}`
    const all = by.get(key)
    if (all) all.push(Math.max(0, r.took))
    else by.set(key, [Math.max(0, r.took)])
  }
  return new Map(
    [...by].flatMap(([key, all]) => {
      if (all.length < enough) return []
      const sorted = all.toSorted((a, b) => a - b)
      const half = sorted.length / 2
      return [[key, half % 1 ? sorted[Math.floor(half)]! : (sorted[half - 1]! + sorted[half]!) / 2] as const]
    }),
  )
}
