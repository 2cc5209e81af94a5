// Passwords of accounts and of learners: their rule, their hash, and what guessing costs.
import { hash, verify } from "@node-rs/argon2"
import * as v from "valibot"
import { normalPassword, passwordTrouble } from "@/core/person/password"
import { refusals } from "@/core/words/refusals"
import type { Db } from "../db/pool"
import type { Refused } from "../saved"

/** A new password; what is too much like the address is looked at with `passwordTrouble` once that is known. */
export const passwordRule = v.pipe(
  v.string(),
  v.check((p) => passwordTrouble(p) !== "short", refusals.account.password),
  v.check((p) => passwordTrouble(p) !== "long", refusals.account.passwordLong),
  v.check((p) => passwordTrouble(p) !== "common", refusals.account.passwordCommon),
)

export const hashPassword = (typed: string) => hash(normalPassword(typed))

export const verifyPassword = (hashed: string, typed: string) => verify(hashed, normalPassword(typed).slice(0, 400))

/** Wrong passwords in a row that cost no wait; after them it doubles with each, from two seconds to a quarter of an hour. */
const free = { account: 5, connection: 20 }
const longestWait = 900_000

/** How long to wait after so many wrong passwords in a row, ms. */
export function waitAfter(wrongs: number, withoutWait: number): number {
  return wrongs < withoutWait ? 0 : Math.min(longestWait, 2_000 * 2 ** Math.min(20, wrongs - withoutWait))
}

let decoy: Promise<string> | undefined

/**
 * Whether a password fits, with what guessing costs: wrong ones make only that connection wait, for that name or for all it
 * tries, so that nobody can lock somebody out from elsewhere. As long as for a right one is looked where there is none.
 *
 * @param name whose password it is, as a key: an account's and a learner's of one address are two
 * @param hashed null where there is no such account, or none with a password
 */
export async function tryPassword(
  db: Db,
  t: { readonly name: string; readonly connection: string; readonly typed: string; readonly hashed: string | null },
): Promise<"fits" | "wrong" | Refused> {
  const buckets = [
    { key: Buffer.from(`${t.connection} ${t.name}`).subarray(0, 120), free: free.account },
    { key: Buffer.from(t.connection), free: free.connection },
  ]
  const before = await db.rows<{ bucket: Buffer; n: number; last_at: Date }>(
    "SELECT bucket, n, last_at FROM wrong_password WHERE bucket IN (?)",
    [buckets.map((b) => b.key)],
  )
  const ready = before.map((w) => {
    const bucket = buckets.find((b) => b.key.equals(w.bucket))
    return w.last_at.getTime() + waitAfter(w.n, bucket?.free ?? 0)
  })
  const wait = Math.max(0, ...ready) - Date.now()
  if (wait > 0) return { refused: refusals.account.wait(waitWords(wait)) }
  // Counted before it is looked at, so that many at once are many.
  for (const b of buckets)
    await db.insert(
      "wrong_password",
      { bucket: b.key, n: 1, last_at: new Date() },
      "ON DUPLICATE KEY UPDATE n = n + 1, last_at = VALUES(last_at)",
    )
  decoy ??= hash("nobody has this password")
  const fits = await verifyPassword(t.hashed ?? (await decoy), t.typed)
  if (t.hashed === null || !fits) return "wrong"
  await db.write("DELETE FROM wrong_password WHERE bucket = ?", [buckets[0]!.key])
  await db.write("UPDATE wrong_password SET n = n - 1 WHERE bucket = ? AND n > 0", [buckets[1]!.key])
  return "fits"
}

function waitWords(ms: number): string {
  const seconds = Math.ceil(ms / 1000)
  if (seconds < 60) return seconds === 1 ? "a second" : `${seconds} seconds`
  return seconds < 90 ? "a minute" : `${Math.round(seconds / 60)} minutes`
}

/** Wrong passwords of more than a day ago are forgotten. */
export async function sweepWrongPasswords(db: Db): Promise<void> {
  await db.write("DELETE FROM wrong_password WHERE last_at < ? LIMIT 5000", [new Date(Date.now() - 86_400_000)])
}
