// What a form makes is made once, however often it is pressed: after an error, a timeout, or by two fingers.

import type { Context } from "./context"
import type { Made, Refused } from "./saved"

/**
 * Makes something under the key that its form carries; a second press with the same key gets what the first one made. What was
 * refused made nothing, and may be tried again under the same key. Without a key it is simply made.
 */
export async function makeOnce(s: Context, key: unknown, make: (s: Context) => Promise<Made | Refused>): Promise<Made> {
  if (typeof key !== "string" || !/^[0-9a-f]{32}$/.test(key)) return make(s)
  const once = Buffer.from(key, "hex")
  return s.db.transaction(async (tx): Promise<Made> => {
    // Whoever comes second waits here for the first.
    await tx.insert("made", { once, at: new Date() }, "ON DUPLICATE KEY UPDATE once = VALUES(once)")
    const before = await tx.row<{ id: number | null }>("SELECT id FROM made WHERE once = ?", [once])
    if (before?.id) return { ok: true, id: before.id }
    const made = await make({ ...s, db: { ...s.db, ...tx } })
    if ("refused" in made) await tx.write("DELETE FROM made WHERE once = ?", [once])
    else await tx.write("UPDATE made SET id = ? WHERE once = ?", [made.id, once])
    return made
  })
}

/** Forgets keys of forms that were sent more than two days ago. */
export async function sweepMade(s: Context): Promise<void> {
  await s.db.write("DELETE FROM made WHERE at < ? LIMIT 5000", [new Date(Date.now() - 2 * 86_400_000)])
}
