// Counts that a view shows without counting: sums, and the changes that are not in them yet. The changes are put down by
// triggers (db/migrations/008_counts.sql), so that whatever writes is counted.
import { takeChanges } from "./changes"
import type { Context } from "./context"
import type { Db } from "./db/pool"

/**
 * What is counted: `about` a course, tag, sequence, offer or coupon, or 0 for the school; `part` is a state of orders and
 * plans, a currency of coupons, or the quarter-hour in which a sequence was begun with the funnel
 * that began it (YYYYMMDDhhmm, UTC, and 12 behind a colon; 0: none did).
 */
export type Counted = "people" | "tagged" | "learners" | "begun" | "running" | "orders" | "coupon" | "sold" | "plans"

export type Count = { readonly about: number; readonly part: string; readonly n: number; readonly money: number }

/** Takes changes into the sums; gives how many. */
export async function rollTally(s: Pick<Context, "db">): Promise<number> {
  return takeChanges(s.db, "tally_change", 20_000, (tx, ids) =>
    tx.write(
      `INSERT INTO tally (what, about, part, n, money) SELECT what, about, part, SUM(n), SUM(money) FROM tally_change WHERE id IN (?) GROUP BY 1, 2, 3
       ON DUPLICATE KEY UPDATE n = tally.n + VALUES(n), money = tally.money + VALUES(money)`,
      ids,
    ),
  )
}

/** Everything counted of one kind, by what it is about and part. */
export async function countsOf(db: Db, what: Counted, about: number | null = null): Promise<Count[]> {
  const only = about === null ? "" : " AND about = ?"
  const values = about === null ? [what] : [what, about]
  const rows = await db.rows<{ about: number; part: string; n: number; money: number }>(
    `SELECT about, part, SUM(n) AS n, SUM(money) AS money FROM (
       SELECT about, part, n, money FROM tally WHERE what = ?${only} UNION ALL SELECT about, part, n, money FROM tally_change WHERE what = ?${only}) c
     GROUP BY about, part`,
    [...values, ...values],
  )
  return rows.map((r) => ({ about: r.about, part: r.part, n: r.n, money: r.money }))
}

/** One count, all its parts together. */
export async function countOf(db: Db, what: Counted, about = 0): Promise<number> {
  return (await countsOf(db, what, about)).reduce((sum, c) => sum + c.n, 0)
}

/** Counts by what they are about, all parts together. */
export async function countsBy(db: Db, what: Counted): Promise<Map<number, number>> {
  const by = new Map<number, number>()
  for (const c of await countsOf(db, what)) by.set(c.about, (by.get(c.about) ?? 0) + c.n)
  return by
}
