// Rate limits: how often something may be tried in a window of real time.
import type { Db } from "./db/pool"

export type Limit = { readonly most: number; readonly windowMs: number }

/** Counts this try; whether it is still within the limit. */
export async function mayTry(db: Db, bucket: string, limit: Limit): Promise<boolean> {
  const start = new Date(Math.floor(Date.now() / limit.windowMs) * limit.windowMs)
  const key = Buffer.from(bucket).subarray(0, 120)
  await db.write("INSERT INTO attempt (bucket, window_start, n) VALUES (?, ?, 1) ON DUPLICATE KEY UPDATE n = n + 1", [
    key,
    start,
  ])
  const found = await db.row<{ n: number }>("SELECT n FROM attempt WHERE bucket = ? AND window_start = ?", [key, start])
  return (found?.n ?? 0) <= limit.most
}

/** Drops windows that are over. */
export async function sweepAttempts(db: Db): Promise<void> {
  await db.write("DELETE FROM attempt WHERE window_start < ? LIMIT 5000", [new Date(Date.now() - 86_400_000)])
}
