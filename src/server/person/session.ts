// Who is signed in: a random token in a cookie, its hash here. A session belongs to one realm and opens no other.
import { createHash, randomBytes } from "node:crypto"
import { type Actor, nobody } from "@/core/person/actor"
import type { Config } from "../config"
import type { Db } from "../db/pool"

export type Realm = "studio" | "learn" | "affiliate"

/** The realm that an address is in, for whoever is let in by a link to it. */
export const realmOf = (path: string): Exclude<Realm, "studio"> =>
  path.startsWith("/affiliate") ? "affiliate" : "learn"

/** How long a session lasts without a new sign-in, ms. */
export const sessionMs: Record<Realm, number> = {
  studio: 14 * 86_400_000,
  learn: 90 * 86_400_000,
  affiliate: 30 * 86_400_000,
}

const hash = (token: string) => createHash("sha256").update(token).digest()

/** Begins a session and gives its token: 256 random bits. */
export async function beginSession(
  db: Db,
  realm: Realm,
  who: number,
  more: { readonly scope?: string | null; readonly agent?: string | undefined; readonly byMail?: boolean } = {},
): Promise<string> {
  const token = randomBytes(32).toString("base64url")
  const now = Date.now()
  await db.insert("session", {
    token_hash: hash(token),
    realm,
    account_id: realm === "studio" ? who : null,
    person_id: realm === "studio" ? null : who,
    made_at: new Date(now),
    expires_at: new Date(now + sessionMs[realm]),
    scope: more.scope ?? null,
    agent: more.agent?.slice(0, 200) ?? null,
    seen_at: new Date(now),
    by_mail: more.byMail ?? false,
  })
  return token
}

/** Somebody in the studio. */
export type StudioSession = {
  readonly account: number
  /** Whether they came by a link from their mailbox within the last hour. */
  readonly byMail: boolean
}

export async function studioSessionOf(db: Db, token: string | undefined): Promise<StudioSession | null> {
  if (!token || token.length > 100) return null
  const found = await db.row<{ account_id: number; by_mail: number; made_at: Date }>(
    "SELECT account_id, by_mail, made_at FROM session WHERE token_hash = ? AND realm = 'studio' AND expires_at > ?",
    [hash(token), new Date()],
  )
  if (!found) return null
  const byMail = Boolean(found.by_mail) && Date.now() - found.made_at.getTime() < 3_600_000
  return { account: found.account_id, byMail }
}

export async function markByMail(db: Db, token: string): Promise<void> {
  await db.write("UPDATE session SET by_mail = 1 WHERE token_hash = ?", [hash(token)])
}

/** Ends every session of an account but this one; gives how many. */
export async function endOtherSessions(db: Db, account: number, token: string): Promise<number> {
  return (await db.write("DELETE FROM session WHERE account_id = ? AND token_hash <> ?", [account, hash(token)]))
    .affected
}

/** Somebody who signed in: that the mailbox or the password is theirs was proved on this device. */
export type Learner = {
  readonly person: number
  readonly scope: null
}

/**
 * A device that placed orders under somebody's address, and proved nothing else: whoever typed that address. It is let into
 * what those orders gave, and neither reads nor changes anything more of its owner's.
 */
export type OrderDevice = {
  /** The person to whom the address belongs. */
  readonly buyer: number
  /** Numbers of first orders, set apart by commas. */
  readonly scope: string
}

/** Whoever is let in on this device. What takes it may open lessons; what is a person's own takes a `Learner`. */
export type Admitted = Learner | OrderDevice

/** Whose admissions count for a device. It says nothing of who sits before it. */
export const admittedAs = (who: Admitted): number => (who.scope === null ? who.person : who.buyer)

/** Whoever is signed in, or null; also for a device that is known by an order alone. */
export const signedIn = (who: Admitted | null): Learner | null => (who?.scope === null ? who : null)

export const actorOf = (who: Admitted | null): Actor =>
  who ? { is: "person", id: admittedAs(who), scope: who.scope } : nobody

export async function admittedOf(db: Db, token: string | undefined): Promise<Admitted | null> {
  if (!token || token.length > 100) return null
  const found = await db.row<{ person_id: number; scope: string | null; seen_at: Date | null }>(
    "SELECT person_id, scope, seen_at FROM session WHERE token_hash = ? AND realm = 'learn' AND expires_at > ?",
    [hash(token), new Date()],
  )
  if (found && (found.seen_at?.getTime() ?? 0) < Date.now() - 3_600_000)
    await db.write("UPDATE session SET seen_at = ? WHERE token_hash = ?", [new Date(), hash(token)])
  if (!found) return null
  return found.scope === null
    ? { person: found.person_id, scope: null }
    : { buyer: found.person_id, scope: found.scope }
}

/** The person who is signed in to the portal for affiliates, or null. */
export async function portalPersonOf(db: Db, token: string | undefined): Promise<number | null> {
  if (!token || token.length > 100) return null
  const found = await db.row<{ person_id: number }>(
    "SELECT person_id FROM session WHERE token_hash = ? AND realm = 'affiliate' AND expires_at > ?",
    [hash(token), new Date()],
  )
  return found?.person_id ?? null
}

/**
 * Lets the device that ordered into what was just bought: a token where it needs a new one, or null where it is signed in
 * with everything already. Nothing else that the address owns is opened.
 */
export async function admitDevice(
  db: Db,
  token: string | undefined,
  bought: { readonly person: number; readonly order: number; readonly agent?: string | undefined },
): Promise<string | null> {
  const now = await admittedOf(db, token)
  const same = now !== null && admittedAs(now) === bought.person
  if (same && (now.scope === null || now.scope.split(",").includes(String(bought.order)))) return null
  const orders = [...(same && now.scope ? now.scope.split(",") : []), String(bought.order)].slice(-15)
  return beginSession(db, "learn", bought.person, { scope: orders.join(","), agent: bought.agent })
}

/** A browser as it comes to a link from a mailbox: what it was let into before, and its first-party id. */
export type Device = {
  readonly token?: string
  readonly visitor?: Buffer | null
  /** What it calls itself (User-Agent, RFC 9110, 10.1.5). */
  readonly agent?: string | undefined
}

/** The first orders by which alone a device was let in as this person so far, as a happening tells it. */
export async function letInBy(tx: Db, device: Device, person: number): Promise<{ data?: { orders: string } }> {
  const before = await admittedOf(tx, device.token)
  return before && before.scope !== null && before.buyer === person ? { data: { orders: before.scope } } : {}
}

/** This browser's reader has this person's mailbox. To be called inside a transaction. */
export async function proveDevice(tx: Db, device: Device, person: number): Promise<void> {
  if (device.visitor)
    await tx.insert("device", { visitor: device.visitor, person_id: person, proved_at: new Date() }, "ignore")
}

/**
 * Everything by which somebody gets in as this person falls shut: sessions, links that were mailed and not pressed, devices that
 * had proved themselves. For when it is no longer sure whose they are. To be called inside the transaction that makes it so.
 */
export async function closeAccess(tx: Db, person: number, now: number): Promise<void> {
  await tx.write("DELETE FROM session WHERE person_id = ?", [person])
  await tx.write("DELETE FROM device WHERE person_id = ?", [person])
  await tx.write("UPDATE way_in SET expires_at = ? WHERE person_id = ? AND used_at IS NULL AND expires_at > ?", [
    new Date(now),
    person,
    new Date(now),
  ])
}

/** A device on which a person is signed in. */
export type DeviceListed = {
  /** Tells it apart, and opens nothing. */
  readonly id: string
  readonly agent: string | null
  readonly madeAt: Date
  readonly seenAt: Date | null
  readonly here: boolean
}

export async function devicesOf(db: Db, person: number, token: string): Promise<DeviceListed[]> {
  const rows = await db.rows<{ token_hash: Buffer; agent: string | null; made_at: Date; seen_at: Date | null }>(
    "SELECT token_hash, agent, made_at, seen_at FROM session WHERE person_id = ? AND expires_at > ? ORDER BY COALESCE(seen_at, made_at) DESC LIMIT 100",
    [person, new Date()],
  )
  return rows.map((r) => ({
    id: r.token_hash.subarray(0, 12).toString("hex"),
    agent: r.agent,
    madeAt: r.made_at,
    seenAt: r.seen_at,
    here: r.token_hash.equals(hash(token)),
  }))
}

/** Ends a person's session by its device's id, or all but this one for null. */
export async function endDevice(db: Db, person: number, token: string, device: string | null): Promise<void> {
  await db.write(
    "DELETE FROM session WHERE person_id = ? AND token_hash <> ? AND (? IS NULL OR LEFT(HEX(token_hash), 24) = ?)",
    [person, hash(token), device, device],
  )
}

/** Whether a learner came by a link from the mailbox within the last hour: a new password needs no old one then. */
export async function cameByMail(db: Db, token: string): Promise<boolean> {
  const row = await db.row<{ made_at: Date }>(
    "SELECT made_at FROM session WHERE token_hash = ? AND by_mail = 1 AND scope IS NULL",
    [hash(token)],
  )
  return row !== undefined && Date.now() - row.made_at.getTime() < 3_600_000
}

export async function endSession(db: Db, token: string): Promise<void> {
  await db.write("DELETE FROM session WHERE token_hash = ?", [hash(token)])
}

export async function sweepSessions(db: Db): Promise<void> {
  await db.write("DELETE FROM session WHERE expires_at < ? LIMIT 5000", [new Date()])
}

/** Whether browsers reach this installation by https only. */
export function isSecure(config: Pick<Config, "origin">): boolean {
  return config.origin.startsWith("https:")
}

/**
 * Names of our cookies carry the installation, since cookies don't know ports; over https they are bound to the host (the
 * prefix `__Host-` of RFC 6265bis, 4.1.3.2).
 */
function cookieName(config: Pick<Config, "origin" | "installation">, what: string): string {
  return `${isSecure(config) ? "__Host-" : ""}heron_${config.installation}_${what}`
}

export const sessionCookie = (config: Pick<Config, "origin" | "installation">, realm: Realm) =>
  cookieName(config, realm)
export const visitorCookie = (config: Pick<Config, "origin" | "installation">) => cookieName(config, "v")
export const firstCookie = (config: Pick<Config, "origin" | "installation">) => cookieName(config, "first")
export const roomCookie = (config: Pick<Config, "origin" | "installation">) => cookieName(config, "room")
export const askedCookie = (config: Pick<Config, "origin" | "installation">) => cookieName(config, "asked")
export const viaCookie = (config: Pick<Config, "origin" | "installation">) => cookieName(config, "via")
export const seatCookie = (config: Pick<Config, "origin" | "installation">) => cookieName(config, "seat")
export const couponCookie = (config: Pick<Config, "origin" | "installation">) => cookieName(config, "code")
