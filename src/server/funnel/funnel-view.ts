// What the studio's screens say of a funnel beside its draft and its numbers.
import type { Db } from "../db/pool"

export async function funnelName(db: Db, funnel: number): Promise<string | undefined> {
  return (await db.row<{ name: string }>("SELECT name FROM funnel WHERE id = ?", [funnel]))?.name
}

/** When the first journey through it began, ms, or null. */
export async function firstJourney(db: Db, funnel: number): Promise<number | null> {
  const row = await db.row<{ at: Date | null }>("SELECT MIN(begun_at) AS at FROM journey WHERE funnel_id = ?", [funnel])
  return row?.at?.getTime() ?? null
}

/** How many began to pay and stopped, by checkout, of those who began in the range (ms). */
export async function stoppedAt(
  db: Db,
  funnel: number,
  range: { from: number; to: number },
): Promise<Record<number, number>> {
  const rows = await db.rows<{ step: number; n: number }>(
    `SELECT step_id AS step, COUNT(DISTINCT visitor) AS n FROM orders WHERE funnel_id = ? AND first_id IS NULL AND state IN ('begun', 'refused', 'lapsed') AND made_at >= ? AND made_at < ?
     GROUP BY step_id`,
    [funnel, new Date(range.from), new Date(range.to)],
  )
  return Object.fromEntries(rows.map((r) => [r.step, r.n]))
}

/** What a funnel sells in: its first offer's currency. */
export async function currencyOf(db: Db, funnel: number): Promise<string> {
  const row = await db.row<{ currency: string }>(
    "SELECT COALESCE((SELECT o.currency FROM reference r JOIN step t ON t.id = r.step_id JOIN offer o ON o.id = r.offer_id WHERE r.funnel_id = ? AND r.block IS NULL ORDER BY t.position LIMIT 1), (SELECT currency FROM school WHERE id = 1)) AS currency",
    [funnel],
  )
  return row?.currency ?? "EUR"
}

/** Which revision of a step's page stands now. */
export async function pageRevision(db: Db, step: number): Promise<number> {
  return (await db.row<{ revision: number }>("SELECT revision FROM step WHERE id = ?", [step]))?.revision ?? 1
}

export type FunnelListed = {
  readonly id: number
  readonly name: string
  readonly changed_at: Date
  /** The release that visitors get, and since when. */
  readonly live: number | null
  readonly at: Date | null
}

/** Those that are live, by name; at most 200. */
export function liveFunnels(db: Db): Promise<{ id: number; name: string }[]> {
  return db.rows("SELECT id, name FROM funnel WHERE live_release_id IS NOT NULL ORDER BY name LIMIT 200")
}

/** Those changed last first; at most 200. */
export function listFunnels(db: Db): Promise<FunnelListed[]> {
  return db.rows<FunnelListed>(
    "SELECT f.id, f.name, f.changed_at, f.live_release_id AS live, r.at FROM funnel f LEFT JOIN `release` r ON r.id = f.live_release_id ORDER BY f.changed_at DESC LIMIT 200",
  )
}
