// Who is signed in: a random token in a cookie, its hash here. A session belongs to one realm and opens no other.
import { createHash, randomBytes } from "node:crypto"
import type { Db } from "../db/pool"

export type Realm = "studio" | "learn"

/** How long a session lasts without a new sign-in, ms. */
export const sessionMs: Record<Realm, number> = { studio: 14 * 86_400_000, learn: 90 * 86_400_000 }

const hash = (token: string) => createHash("sha256").update(token).digest()

/** Begins a session and gives its token: 256 random bits. */
export async function beginSession(db: Db, realm: Realm, who: number, scope: string | null = null): Promise<string> {
  const token = randomBytes(32).toString("base64url")
  const now = Date.now()
  await db.write(
    "INSERT INTO session (token_hash, realm, account_id, person_id, made_at, expires_at, scope) VALUES (?, ?, ?, ?, ?, ?, ?)",
    [
      hash(token),
      realm,
      realm === "studio" ? who : null,
      realm === "learn" ? who : null,
      new Date(now),
      new Date(now + sessionMs[realm]),
      scope,
    ],
  )
  return token
}

/** The account (studio) or person (learning area) a token signs in, or null. */
export async function whoIs(db: Db, realm: Realm, token: string | undefined): Promise<number | null> {
  if (!token || token.length > 100) return null
  const found = await db.row<{ who: number }>(
    "SELECT COALESCE(account_id, person_id) AS who FROM session WHERE token_hash = ? AND realm = ? AND expires_at > ?",
    [hash(token), realm, new Date()],
  )
  return found?.who ?? null
}

/** Somebody in the learning area: with all they have, or, on a device that only ordered, with what those orders gave. */
export type Learner = {
  readonly person: number
  /** Numbers of first orders, set apart by commas; null: everything the person has. */
  readonly scope: string | null
}

export async function learnerOf(db: Db, token: string | undefined): Promise<Learner | null> {
  if (!token || token.length > 100) return null
  const found = await db.row<{ person_id: number; scope: string | null }>(
    "SELECT person_id, scope FROM session WHERE token_hash = ? AND realm = 'learn' AND expires_at > ?",
    [hash(token), new Date()],
  )
  return found ? { person: found.person_id, scope: found.scope } : null
}

/**
 * Lets the device that ordered into what was just bought: a token where it needs a new one, or null where it is signed in
 * with everything already. Nothing else that the address owns is opened.
 */
export async function admitDevice(
  db: Db,
  token: string | undefined,
  bought: { readonly person: number; readonly order: number },
): Promise<string | null> {
  const now = await learnerOf(db, token)
  const same = now?.person === bought.person
  if (same && (now.scope === null || now.scope.split(",").includes(String(bought.order)))) return null
  const orders = [...(same && now.scope ? now.scope.split(",") : []), String(bought.order)].slice(-15)
  return beginSession(db, "learn", bought.person, orders.join(","))
}

export async function endSession(db: Db, token: string): Promise<void> {
  await db.write("DELETE FROM session WHERE token_hash = ?", [hash(token)])
}

export async function sweepSessions(db: Db): Promise<void> {
  await db.write("DELETE FROM session WHERE expires_at < ? LIMIT 5000", [new Date()])
}

/** The cookie's name carries the installation, since cookies don't know ports. */
export function sessionCookie(installation: string, realm: Realm): string {
  return `heron_${installation}_${realm}`
}

export function visitorCookie(installation: string): string {
  return `heron_${installation}_v`
}
