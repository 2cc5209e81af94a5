// What each funnel and each source brought of those who first came in a period: people from sums, money from the journal.
import { addBrought, type Brought, nothingBrought } from "@/core/numbers/brought"
import { codeOfSource } from "@/core/source"
import { takeChanges } from "../changes"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { type Range, spansOf } from "../funnel/rollup"
import { namesOfSources } from "../programme/sources"

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
        `INSERT INTO ${table} (funnel_id, begun, source, visited, joined, bought)
         SELECT funnel_id, ${span}, source, SUM(visited), SUM(joined), SUM(bought) FROM source_change WHERE id IN (?) GROUP BY 1, 2, 3
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
      `INSERT INTO ${table} (funnel_id, begun, source, visited, joined, bought)
       SELECT f.funnel_id, f.begun, '${others}', SUM(f.visited), SUM(f.joined), SUM(f.bought) FROM ${table} f
       WHERE f.funnel_id = ? AND f.source NOT IN (?) GROUP BY 1, 2
       ON DUPLICATE KEY UPDATE visited = ${table}.visited + VALUES(visited), joined = ${table}.joined + VALUES(joined), bought = ${table}.bought + VALUES(bought)`,
      [funnel, ...kept],
    )
    await tx.write(`DELETE FROM ${table} WHERE funnel_id = ? AND source NOT IN (?)`, [funnel, ...kept])
  }
}

/** What a table of Numbers is by. */
export type BroughtBy = "funnel" | "source"

/** By the number of a funnel, or the name of a source. */
export type BroughtRows = ReadonlyMap<string, Brought>

/**
 * What those brought who first came in a range of business time (ms, on quarter-hours), in the school's currency, by now. An order belongs
 * to the journey in which it was made; what was paid later, refunds, fees and commissions are those of its story.
 *
 * @param funnel of this one alone; null: of all
 */
export async function broughtBy(
  db: Db,
  by: BroughtBy,
  range: Range,
  currency: string,
  funnel: number | null = null,
): Promise<BroughtRows> {
  const rows = new Map<string, Brought>()
  const add = (key: string | number, part: Partial<Brought>) => {
    const k = String(key)
    rows.set(k, addBrought(rows.get(k) ?? nothingBrought, { ...nothingBrought, ...part }))
  }
  // By name, so that the rows of a range are found by their key.
  const funnels =
    funnel === null ? [0, ...(await db.rows<{ id: number }>("SELECT id FROM funnel")).map((f) => f.id)] : [funnel]
  const key = by === "funnel" ? "funnel_id" : "source"
  const people = await db.rows<{ k: string | number; visited: number; joined: number; bought: number }>(
    `SELECT ${key} AS k, SUM(visited) AS visited, SUM(joined) AS joined, SUM(bought) AS bought FROM (${[
      ...spansOf(range).map(
        (p) =>
          `SELECT funnel_id, source, visited, joined, bought FROM source_${p.by} WHERE funnel_id IN (?) AND begun >= ? AND begun < ?`,
      ),
      "SELECT funnel_id, source, visited, joined, bought FROM source_change WHERE funnel_id IN (?) AND begun_at >= ? AND begun_at < ?",
    ].join(" UNION ALL ")}) came GROUP BY 1`,
    [...spansOf(range), range].flatMap((p) => [funnels, new Date(p.from), new Date(p.to)]),
  )
  for (const { k, ...part } of people) add(k, part)
  // Nobody orders before they come, and nothing is booked before its order.
  const from = new Date(range.from)
  const orders = await db.rows<{
    k: string | number
    orders: number
    income: number
    kept: number
    keptSquares: number
  }>(
    `SELECT j.${key} AS k, COUNT(*) AS orders, SUM(x.income) AS income, SUM(x.kept) AS kept, SUM(x.kept * x.kept) AS keptSquares
     FROM orders o FORCE INDEX (first_made)
     JOIN journey j ON j.funnel_id = o.funnel_id AND j.visitor = o.visitor
       AND j.run = (SELECT MAX(r.run) FROM journey r WHERE r.funnel_id = o.funnel_id AND r.visitor = o.visitor AND r.begun_at <= o.made_at)
     JOIN (SELECT order_id, -SUM(IF(account IN ('income', 'refunds'), amount, 0)) AS income,
             -SUM(IF(account IN ('income', 'refunds', 'fees', 'commission'), amount, 0)) AS kept
           FROM journal WHERE at >= ? AND currency = ? GROUP BY order_id) x ON x.order_id = o.id
     WHERE o.first_id IS NULL AND o.made_at >= ? AND o.state IN ('paid', 'refunded') AND o.test = 0 AND o.currency = ? AND o.funnel_id IN (?)
       AND j.begun_at >= ? AND j.begun_at < ? GROUP BY 1`,
    [from, currency, from, currency, funnels, from, new Date(range.to)],
  )
  for (const { k, ...part } of orders) add(k, part)
  return rows
}

/** The names of what the rows are of: funnels by theirs, affiliates by what they are called. */
export async function namesOf(db: Db, by: BroughtBy, keys: readonly string[]): Promise<ReadonlyMap<string, string>> {
  if (by === "funnel") {
    const rows = await db.rows<{ id: number; name: string }>("SELECT id, name FROM funnel WHERE id IN (?)", [
      [0, ...keys],
    ])
    return new Map(rows.map((r) => [String(r.id), r.name]))
  }
  const names = await namesOfSources(db, keys)
  return new Map(
    keys.map((k) => {
      const code = codeOfSource(k)
      return [k, code === null ? k : names.get(code) || code]
    }),
  )
}

export const funnelNames = (db: Db) =>
  db.rows<{ readonly id: number; readonly name: string }>("SELECT id, name FROM funnel ORDER BY name, id")

/** The funnel of which most was kept in a range; null: nobody came to any. */
export async function mostKept(db: Db, range: Range, currency: string): Promise<number | null> {
  const [most] = [...(await broughtBy(db, "funnel", range, currency))].sort(([, a], [, b]) => b.kept - a.kept)
  return most ? Number(most[0]) : null
}
