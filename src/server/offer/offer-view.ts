// Offers as they are chosen from in the studio.
import type { Db } from "../db/pool"

/** Also those that are no longer to be had, by name; at most 500. */
export function offerNames(db: Db): Promise<{ readonly id: number; readonly name: string }[]> {
  return db.rows("SELECT id, public_name AS name FROM offer ORDER BY public_name LIMIT 500")
}
