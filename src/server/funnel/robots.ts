// Programs that look at pages where a funnel begins: they are counted for themselves, by the day of UTC, and begin no journey.
import type { Db } from "../db/pool"
import type { Range } from "./rollup"

/** How many looks, by `funnel day`. */
export type RobotLooks = Map<string, number>

export const robotKey = (funnel: number, at: number) => `${funnel} ${new Date(at).toISOString().slice(0, 10)}`

export async function recordRobots(db: Db, looks: ReadonlyMap<string, number>): Promise<void> {
  if (!looks.size) return
  await db.write(
    "INSERT INTO robot_day (funnel_id, day, looks) VALUES ? ON DUPLICATE KEY UPDATE looks = looks + VALUES(looks)",
    [[...looks].map(([key, n]) => [...key.split(" "), n])],
  )
}

/** How many looks by programs on the days of UTC of a range, at one funnel or at all. */
export async function robotsIn(db: Db, range: Range, funnel: number | null): Promise<number> {
  const row = await db.row<{ n: number | null }>(
    "SELECT SUM(looks) AS n FROM robot_day WHERE day >= DATE(?) AND day <= DATE(?) AND (? IS NULL OR funnel_id = ?)",
    [new Date(range.from), new Date(range.to - 1), funnel, funnel],
  )
  return row?.n ?? 0
}
