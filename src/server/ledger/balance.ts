// Balances of the journal at an instant.
import { type Account, accounts } from "@/core/ledger/journal"
import type { Context } from "../context"
import { type Db, longestTransaction } from "../db/pool"

export type Balance = {
  readonly account: Account
  readonly currency: string
  /** Debit where positive, credit where negative; minor units. */
  readonly amount: number
}

/** What was kept of real orders, by their funnel, currency and the quarter-hour it was booked in, as SQL that goes on with AND. */
const keptByQuarter = `SELECT o.funnel_id, l.currency, FROM_UNIXTIME(FLOOR(UNIX_TIMESTAMP(l.at) / 900) * 900) AS at, -SUM(l.amount) AS kept
  FROM journal l JOIN orders o ON o.id = l.order_id WHERE l.account IN ('income', 'refunds', 'fees', 'commission') AND o.test = 0`

/**
 * Takes settled lines of the journal into the sums by day; gives how many. As with facts, a line is settled when no
 * transaction that could still commit an earlier one is left.
 */
export async function rollJournal(s: Context, settledMs = 2 * longestTransaction): Promise<number> {
  return s.db.transaction(async (tx) => {
    const mark = await tx.row<{ fact_id: number }>("SELECT fact_id FROM rollup_mark WHERE name = 'journal' FOR UPDATE")
    const from = mark?.fact_id ?? 0
    const last = await tx.row<{ id: number | null }>(
      "SELECT MAX(id) AS id FROM (SELECT id FROM journal WHERE id > ? AND recorded_at < ? ORDER BY id LIMIT 20000) settled",
      [from, new Date(Date.now() - settledMs)],
    )
    const upTo = last?.id ?? 0
    if (upTo <= from) return 0
    await tx.write(
      `INSERT INTO journal_day (account, currency, day, amount)
       SELECT account, currency, DATE(at), SUM(amount) FROM journal WHERE id > ? AND id <= ? GROUP BY 1, 2, 3
       ON DUPLICATE KEY UPDATE amount = journal_day.amount + VALUES(amount)`,
      [from, upTo],
    )
    await tx.write(
      `INSERT INTO kept_quarter (funnel_id, currency, at, kept) ${keptByQuarter} AND l.id > ? AND l.id <= ?
       GROUP BY 1, 2, 3 ON DUPLICATE KEY UPDATE kept = kept_quarter.kept + VALUES(kept)`,
      [from, upTo],
    )
    await tx.write("UPDATE rollup_mark SET fact_id = ? WHERE name = 'journal'", [upTo])
    return upTo - from
  })
}

/**
 * What every account had come to before an instant (ms), in the order of the accounts: whole days of UTC by their sums, the
 * rest of the last day and what is not yet summed line by line.
 */
export async function balanceAt(db: Db, before: number): Promise<Balance[]> {
  const end = new Date(before)
  const midnight = new Date(Math.floor(before / 86_400_000) * 86_400_000)
  return db.transaction(async (tx) => {
    // With the mark held, no line can move from one part of the sum to the other meanwhile.
    const mark = await tx.row<{ fact_id: number }>(
      "SELECT fact_id FROM rollup_mark WHERE name = 'journal' LOCK IN SHARE MODE",
    )
    const upTo = mark?.fact_id ?? 0
    const rows = await tx.rows<{ account: Account; currency: string; amount: number }>(
      `SELECT account, currency, SUM(amount) AS amount FROM (
         SELECT account, currency, amount FROM journal_day WHERE day < DATE(?)
         UNION ALL SELECT account, currency, amount FROM journal WHERE at >= ? AND at < ? AND id <= ?
         UNION ALL SELECT account, currency, amount FROM journal WHERE id > ? AND at < ?
       ) parts GROUP BY account, currency`,
      [midnight, midnight, end, upTo, upTo, end],
    )
    const order = Object.keys(accounts)
    return rows
      .map((r) => ({ ...r, amount: r.amount }))
      .sort((a, b) => order.indexOf(a.account) - order.indexOf(b.account))
  })
}

/** What a funnel kept between two instants (ms, on quarter-hours) in a currency, by quarter-hour (ms); minor units. */
export async function keptBetween(
  db: Db,
  { funnel, currency, from, to }: { funnel: number; currency: string; from: number; to: number },
): Promise<{ at: number; kept: number }[]> {
  return db.transaction(async (tx) => {
    const mark = await tx.row<{ fact_id: number }>(
      "SELECT fact_id FROM rollup_mark WHERE name = 'journal' LOCK IN SHARE MODE",
    )
    const of = [funnel, currency, new Date(from), new Date(to)]
    const rows = await tx.rows<{ at: Date; kept: number }>(
      `SELECT funnel_id, currency, at, kept FROM kept_quarter WHERE funnel_id = ? AND currency = ? AND at >= ? AND at < ?
       UNION ALL ${keptByQuarter} AND o.funnel_id = ? AND l.currency = ? AND l.at >= ? AND l.at < ? AND l.id > ? GROUP BY 1, 2, 3`,
      [...of, ...of, mark?.fact_id ?? 0],
    )
    return rows.map((r) => ({ at: r.at.getTime(), kept: r.kept }))
  })
}
