// What is counted waits in a table of changes, which triggers fill, until it is taken into its sums.
import { type Db, longestTransaction } from "./db/pool"

/**
 * Takes what waits in `queue` into sums, at most `batch` of it; gives how many. `sum` adds up the rows with these ids. A sum
 * doesn't care for order, so whatever is committed is taken, and what commits later is taken later.
 */
export async function takeChanges(
  db: Db,
  queue: "flow_change" | "rest_change" | "tally_change" | "source_change" | "sold_change",
  batch: number,
  sum: (tx: Db, ids: unknown[]) => Promise<unknown>,
): Promise<number> {
  return db.transaction(
    async (tx) => {
      const rows = await tx.rows<{ id: string }>(`SELECT id FROM ${queue} ORDER BY id LIMIT ? FOR UPDATE SKIP LOCKED`, [
        batch,
      ])
      if (!rows.length) return 0
      const ids = [rows.map((r) => r.id)]
      await sum(tx, ids)
      await tx.write(`DELETE FROM ${queue} WHERE id IN (?)`, ids)
      return rows.length
    },
    batch > 20_000 ? 600_000 : longestTransaction,
  )
}
