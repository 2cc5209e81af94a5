// Journeys by source and device, summed by quarter-hour and by day of UTC.
import { takeChanges } from "../changes"
import type { Context } from "../context"
import type { Db } from "../db/pool"

/** Sources of a funnel that are kept by name. Made-up ones, by the thousand, become "others". */
const mostSources = 400
const others = "others"

/** Takes journeys into the sums by source; gives how many changes. */
export async function rollSources(s: Pick<Context, "db">, batch = 20_000): Promise<number> {
  return takeChanges(s.db, "source_change", batch, async (tx, ids) => {
    for (const [table, span] of [
      ["source_quarter", "FROM_UNIXTIME(FLOOR(UNIX_TIMESTAMP(begun_at) / 900) * 900)"],
      ["source_day", "DATE(begun_at)"],
    ] as const) {
      await tx.write(
        `INSERT INTO ${table} (funnel_id, begun, source, device, visited, joined, bought)
         SELECT funnel_id, ${span}, source, device, SUM(visited), SUM(joined), SUM(bought) FROM source_change WHERE id IN (?) GROUP BY 1, 2, 3, 4
         ON DUPLICATE KEY UPDATE visited = ${table}.visited + VALUES(visited), joined = ${table}.joined + VALUES(joined), bought = ${table}.bought + VALUES(bought)`,
        ids,
      )
      await gather(tx, table)
    }
  })
}

/** Gathers the small sources of funnels that have twice as many as are kept, so that a new one has room to grow. */
async function gather(tx: Db, table: "source_quarter" | "source_day"): Promise<void> {
  const many = await tx.rows<{ funnel: number }>(
    `SELECT funnel_id AS funnel FROM ${table} GROUP BY funnel_id HAVING COUNT(DISTINCT source) > ?`,
    [2 * mostSources],
  )
  for (const { funnel } of many) {
    const largest = await tx.rows<{ source: string }>(
      `SELECT source FROM ${table} WHERE funnel_id = ? AND source <> ? GROUP BY source ORDER BY SUM(visited) DESC, source LIMIT ?`,
      [funnel, others, mostSources],
    )
    const kept = [[others, ...largest.map((l) => l.source)]]
    await tx.write(
      `INSERT INTO ${table} (funnel_id, begun, source, device, visited, joined, bought)
       SELECT f.funnel_id, f.begun, '${others}', f.device, SUM(f.visited), SUM(f.joined), SUM(f.bought) FROM ${table} f
       WHERE f.funnel_id = ? AND f.source NOT IN (?) GROUP BY 1, 2, f.device
       ON DUPLICATE KEY UPDATE visited = ${table}.visited + VALUES(visited), joined = ${table}.joined + VALUES(joined), bought = ${table}.bought + VALUES(bought)`,
      [funnel, ...kept],
    )
    await tx.write(`DELETE FROM ${table} WHERE funnel_id = ? AND source NOT IN (?)`, [funnel, ...kept])
  }
}
