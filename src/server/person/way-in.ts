// The way in: a link by mail that signs somebody in to the learning area, once, when it is pressed.

import { parseAddress } from "@/core/person/address"
import { connectionOf } from "@/core/person/connection"
import { refusals } from "@/core/words/refusals"
import { mayTry } from "../attempt"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import type { Row } from "../db/row"
import { happen } from "../happen"
import { queueMail } from "../queue-mail"
import type { Refused } from "../saved"
import { beginSession, type Device, letInBy, proveDevice, type Realm, realmOf } from "./session"

/** How long a way in works, ms of business time. */
const worksFor = {
  "way-in": 3_600_000,
  "let-in": 14 * 86_400_000,
  "lesson-opens": 14 * 86_400_000,
  "hand-in": 14 * 86_400_000,
  "affiliate-invited": 30 * 86_400_000,
  "affiliate-approved": 14 * 86_400_000,
} as const
/** At most one mail in this time to the same address for the same thing, ms of real time. */
const mailPauseMs = 10 * 60_000

/**
 * Whether a mail may be sent now for this address and purpose; the answer that says yes is given once in ten minutes,
 * however many ask at once. To be called inside the transaction that queues the mail.
 */
export async function mayMailAddress(tx: Db, canonical: string, purpose: string): Promise<boolean> {
  // Locks the row for writing at once: INSERT IGNORE would share it first, and many at the same time would deadlock.
  await tx.insert("knock", { canonical, purpose }, "ON DUPLICATE KEY UPDATE canonical = VALUES(canonical)")
  const knock = await tx.row<{ mailed_at: Date | null }>(
    "SELECT mailed_at FROM knock WHERE canonical = ? AND purpose = ? FOR UPDATE",
    [canonical, purpose],
  )
  if (knock?.mailed_at && Date.now() - knock.mailed_at.getTime() < mailPauseMs) return false
  await tx.write("UPDATE knock SET mailed_at = ? WHERE canonical = ? AND purpose = ?", [new Date(), canonical, purpose])
  return true
}

/** Forgets who knocked more than a day ago. */
export async function sweepKnocks(db: Db): Promise<void> {
  await db.write("DELETE FROM knock WHERE mailed_at < ? OR mailed_at IS NULL LIMIT 5000", [
    new Date(Date.now() - 86_400_000),
  ])
}

export type WayIn = {
  readonly person: number
  readonly email: string
  readonly name: string
  readonly leadsTo: string
  readonly at: number
  /** The offer it is about, where it is about one. */
  readonly offer?: number
}

/** Has a link mailed that signs somebody in once, within the hour; one by which they were let in, within two weeks. */
export async function queueWayIn(tx: Db, w: WayIn, kind: keyof typeof worksFor = "way-in"): Promise<void> {
  await queueWaysIn(tx, [w], kind)
}

/** The same for many, each of them once. */
export async function queueWaysIn(tx: Db, all: readonly WayIn[], kind: keyof typeof worksFor): Promise<void> {
  if (!all.length) return
  const made = await tx.insert(
    "way_in",
    all.map((w) => ({ person_id: w.person, leads_to: w.leadsTo, expires_at: new Date(w.at + worksFor[kind]) })),
  )
  const rows = await tx.rows<{ id: number; person_id: number }>(
    "SELECT MAX(id) AS id, person_id FROM way_in WHERE id >= ? AND person_id IN (?) GROUP BY person_id",
    [made.id, all.map((w) => w.person)],
  )
  const links = new Map(rows.map((r) => [r.person_id, r.id]))
  await queueMail(
    tx,
    all.map((w) => ({
      once: `way-in:${links.get(w.person)}`,
      kind,
      person_id: w.person,
      to_email: w.email,
      to_name: w.name,
      way_in_id: links.get(w.person)!,
      due_at: new Date(w.at),
      offer_id: w.offer ?? null,
    })),
  )
}

export type WayInAsked = { readonly ok: true } | Refused

/** Somebody asks for a way in. The answer is the same whether the address is known or not. */
export async function askWayIn(s: Context, typed: string, ip: string, leadsTo: string): Promise<WayInAsked> {
  const address = parseAddress(typed)
  if (!address) return { refused: refusals.value.emailCheck }
  if (!(await mayTry(s.db, `way-in:${connectionOf(ip)}`, { most: 60, windowMs: 3_600_000 })))
    return { refused: refusals.account.tooManyHere }
  const at = await s.clock.now()
  await s.db.transaction(async (tx) => {
    if (!(await mayMailAddress(tx, address.canonical, "learn"))) return
    const known = await tx.row<{ person: number; email: string; name: string }>(
      "SELECT a.person_id AS person, a.email, p.name FROM address a JOIN person p ON p.id = a.person_id WHERE a.canonical = ? AND (a.suppressed IS NULL OR a.suppressed = 'left')",
      [address.canonical],
    )
    if (known) await queueWayIn(tx, { ...known, leadsTo: safePath(leadsTo), at })
  })
  return { ok: true }
}

/** Only a path into the learning area, or the portal for affiliates; anything else becomes the front door of the former. */
export function safePath(path: string): string {
  return path === "/affiliate" || /^\/learn(\/[a-z0-9-]+){0,2}$/.test(path) ? path : "/learn"
}

export async function wayInState(s: Context, id: number): Promise<"open" | "used" | "foreign"> {
  const found = await s.db.row<{ expires_at: Date; used_at: Date | null }>(
    "SELECT expires_at, used_at FROM way_in WHERE id = ?",
    [id],
  )
  if (!found) return "foreign"
  return found.used_at === null && found.expires_at.getTime() > (await s.clock.now()) ? "open" : "used"
}

/** The press. */
export async function enterByWayIn(
  s: Context,
  id: number,
  device: Device = {},
): Promise<{ session: string; realm: Realm; goTo: string } | { refused: "used" | "foreign" }> {
  const now = await s.clock.now()
  return s.db.transaction(async (tx) => {
    const found = await tx.row<{ person_id: number; leads_to: string; expires_at: Date; used_at: Date | null }>(
      "SELECT * FROM way_in WHERE id = ? FOR UPDATE",
      [id],
    )
    if (!found) return { refused: "foreign" as const }
    if (found.used_at !== null || found.expires_at.getTime() <= now) return { refused: "used" as const }
    await tx.update("way_in", id, { used_at: new Date(now) })
    await tx.write(
      "UPDATE address a JOIN person p ON p.id = a.person_id AND p.email = a.email SET a.confirmed_at = COALESCE(a.confirmed_at, ?) WHERE p.id = ?",
      [new Date(now), found.person_id],
    )
    const person = found.person_id
    await happen(tx, { kind: "signed-in", at: now, person, ...(await letInBy(tx, device, person)) })
    await proveDevice(tx, device, found.person_id)
    // A link opens the realm that it leads to, and no other.
    const realm = realmOf(found.leads_to)
    return {
      session: await beginSession(tx, realm, found.person_id, { agent: device.agent, byMail: true }),
      realm,
      goTo: found.leads_to,
    }
  })
}

/** A new link for one that is used or too old: to the mailbox it was for, and nowhere else. */
export async function renewLink(s: Context, of: { wayIn?: number; pending?: number }): Promise<void> {
  const at = await s.clock.now()
  await s.db.transaction(async (tx) => {
    if (of.wayIn !== undefined) {
      const old = await tx.row<{ person: number; email: string; name: string; canonical: string; leads_to: string }>(
        "SELECT w.person_id AS person, a.email, p.name, a.canonical, w.leads_to FROM way_in w JOIN person p ON p.id = w.person_id JOIN address a ON a.person_id = p.id AND a.email = p.email WHERE w.id = ?",
        [of.wayIn],
      )
      if (old && (await mayMailAddress(tx, old.canonical, "renew")))
        await queueWayIn(tx, { ...old, leadsTo: old.leads_to, at })
      return
    }
    const old = await tx.row<
      Pick<Row<"pending_join">, "id" | "canonical" | "email" | "name" | "funnel_id" | "pressed_at">
    >("SELECT id, canonical, email, name, funnel_id, pressed_at FROM pending_join WHERE id = ? FOR UPDATE", [
      of.pending ?? 0,
    ])
    if (!old || !(await mayMailAddress(tx, old.canonical, "renew"))) return
    if (old.pressed_at !== null) {
      const known = await tx.row<{ person: number; email: string; name: string }>(
        "SELECT a.person_id AS person, a.email, p.name FROM address a JOIN person p ON p.id = a.person_id WHERE a.canonical = ?",
        [old.canonical],
      )
      if (known) await queueWayIn(tx, { ...known, leadsTo: "/learn", at })
      return
    }
    const copied = await tx.write(
      `INSERT INTO pending_join (canonical, email, name, zone, wording, ip, page, funnel_id, release_id, step_id, inbox_step_id, visitor, asked_at, expires_at)
       SELECT canonical, email, name, zone, wording, ip, page, funnel_id, release_id, step_id, inbox_step_id, visitor, asked_at, ? FROM pending_join WHERE id = ?`,
      [new Date(at + 7 * 86_400_000), old.id],
    )
    await queueMail(tx, {
      once: `confirm:${copied.id}`,
      kind: "confirm",
      to_email: old.email,
      to_name: old.name,
      funnel_id: old.funnel_id,
      pending_join_id: copied.id,
      due_at: new Date(at),
    })
  })
}
