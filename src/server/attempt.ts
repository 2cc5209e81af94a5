// Rate limits: how often something may be tried in a window of real time.
import type { Db } from "./db/pool"

export type Limit = { readonly most: number; readonly windowMs: number }

/** Counts this try; whether it is still within the limit. */
export async function mayTry(db: Db, bucket: string, limit: Limit): Promise<boolean> {
  const start = windowOf(limit)
  const key = keyOf(bucket)
  await db.insert("attempt", { bucket: key, window_start: start, n: 1 }, "ON DUPLICATE KEY UPDATE n = n + 1")
  const found = await db.row<{ n: number }>("SELECT n FROM attempt WHERE bucket = ? AND window_start = ?", [key, start])
  return (found?.n ?? 0) <= limit.most
}

/** Whether something may be tried once more; counts nothing. */
export async function mayStillTry(db: Db, bucket: string, limit: Limit): Promise<boolean> {
  const found = await db.row<{ n: number }>("SELECT n FROM attempt WHERE bucket = ? AND window_start = ?", [
    keyOf(bucket),
    windowOf(limit),
  ])
  return (found?.n ?? 0) < limit.most
}

const keyOf = (bucket: string) => Buffer.from(bucket).subarray(0, 120)
const windowOf = (limit: Limit) => new Date(Math.floor(Date.now() / limit.windowMs) * limit.windowMs)

/** Drops windows that are over. */
export async function sweepAttempts(db: Db): Promise<void> {
  await db.write("DELETE FROM attempt WHERE window_start < ? LIMIT 5000", [new Date(Date.now() - 86_400_000)])
}
