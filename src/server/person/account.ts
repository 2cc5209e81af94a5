// The accounts of the studio: the owner's, made on the first visit, and signing in with it.

import * as v from "valibot"
import { knownZone } from "@/core/calendar/zone"
import { parseAddress } from "@/core/person/address"
import { connectionOf } from "@/core/person/connection"
import { refusals } from "@/core/words/refusals"
import { mayTry } from "../attempt"
import { isTrying } from "../connection"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { queueMail } from "../queue-mail"
import type { Refused } from "../saved"
import { sameText } from "../sign"
import { hashPassword, passwordRule, tryPassword, verifyPassword } from "./password"
import { beginSession, markByMail, type StudioSession } from "./session"
import { mayMailAddress } from "./way-in"

const newOwner = v.object({
  school: v.pipe(
    v.string(),
    v.trim(),
    v.nonEmpty(refusals.account.school),
    v.maxLength(120, refusals.value.longest(120)),
  ),
  name: v.pipe(v.string(), v.trim(), v.nonEmpty(refusals.account.name), v.maxLength(120, refusals.value.longest(120))),
  email: v.pipe(
    v.string(),
    v.check((e) => parseAddress(e) !== null, refusals.value.email),
  ),
  password: passwordRule,
  /** What the command printed, so that nobody else opens the school first. */
  code: v.optional(v.string(), ""),
})

export async function hasOwner(db: Db): Promise<boolean> {
  return (await db.row("SELECT 1 FROM account LIMIT 1")) !== undefined
}

/** Makes the school and its owner, once; gives a session. */
export async function makeOwner(s: Context, input: unknown, zone = ""): Promise<{ session: string } | Refused> {
  const read = v.safeParse(newOwner, input)
  if (!read.success) {
    const issue = read.issues[0]
    return { refused: issue.message, field: v.getDotPath(issue) ?? undefined }
  }
  const { school, name, email, password, code } = read.output
  if (!(await mayTry(s.db, "first-owner", { most: 30, windowMs: 3_600_000 })))
    return { refused: refusals.account.tooMany }
  if (s.config.openingCode && !sameText(code.trim().toUpperCase(), s.config.openingCode))
    return {
      refused: refusals.account.code,
      field: "code",
    }
  const address = parseAddress(email)!
  const passwordHash = await hashPassword(password)
  const now = new Date(await s.clock.now())
  return s.db.transaction(async (tx) => {
    // The school's one row is the lock: a second owner at the same moment is refused by its key.
    const made = await tx.insert(
      "school",
      {
        id: 1,
        name: school,
        sender_name: `${name}, ${school}`.slice(0, 120),
        sender_email: address.email,
        zone: knownZone(zone, "Europe/Berlin"),
        testing: isTrying(s.config),
      },
      "ignore",
    )
    if (!made.affected) return { refused: refusals.account.owner }
    const account = await tx.insert("account", {
      email: address.canonical,
      name,
      password_hash: passwordHash,
      made_at: now,
    })
    return { session: await beginSession(tx, "studio", account.id) }
  })
}

/** Signs in to the studio; a link by mail is always another way. */
export async function signIn(
  s: Context,
  input: { email: string; password: string; ip: string },
): Promise<{ session: string } | Refused> {
  const key = parseAddress(input.email)?.canonical ?? "?"
  const account = await s.db.row<{ id: number; password_hash: string }>(
    "SELECT id, password_hash FROM account WHERE email = ?",
    [key],
  )
  const tried = await tryPassword(s.db, {
    name: key,
    connection: connectionOf(input.ip),
    typed: input.password,
    hashed: account?.password_hash ?? null,
  })
  if (typeof tried === "object") return tried
  // The words are the same whether the account or the password is wrong.
  if (tried === "wrong" || !account) return { refused: refusals.account.wrong }
  return { session: await beginSession(s.db, "studio", account.id) }
}

/** How long a link into the studio works, ms of real time. */
const linkFor = 3_600_000

/** Has a link mailed that signs in to the studio. The answer is the same whether there is such an account or not. */
export async function askStudioLink(s: Context, typed: string, ip: string): Promise<{ ok: true } | Refused> {
  const address = parseAddress(typed)
  if (!address) return { refused: refusals.value.emailCheck, field: "email" }
  if (!(await mayTry(s.db, `studio-link:${connectionOf(ip)}`, { most: 20, windowMs: 3_600_000 })))
    return { refused: refusals.account.tooManyHere }
  const at = new Date(await s.clock.now())
  await s.db.transaction(async (tx) => {
    if (!(await mayMailAddress(tx, address.canonical, "studio"))) return
    const account = await tx.row<{ id: number; name: string }>("SELECT id, name FROM account WHERE email = ?", [
      address.canonical,
    ])
    if (!account) return
    const link = await tx.insert("studio_way_in", {
      account_id: account.id,
      expires_at: new Date(Date.now() + linkFor),
    })
    await queueMail(tx, {
      once: `studio-way-in:${link.id}`,
      kind: "studio-way-in",
      to_email: address.canonical,
      to_name: account.name,
      studio_way_in_id: link.id,
      due_at: at,
    })
  })
  return { ok: true }
}

export async function studioLinkOpen(db: Db, id: number): Promise<boolean> {
  return (
    (await db.row("SELECT 1 FROM studio_way_in WHERE id = ? AND used_at IS NULL AND expires_at > ?", [
      id,
      new Date(),
    ])) !== undefined
  )
}

/** The press of such a link; null where it was used or is too old. */
export async function enterStudio(s: Context, id: number): Promise<string | null> {
  return s.db.transaction(async (tx) => {
    const used = await tx.write(
      "UPDATE studio_way_in SET used_at = ? WHERE id = ? AND used_at IS NULL AND expires_at > ?",
      [new Date(), id, new Date()],
    )
    const link = await tx.row<{ account_id: number }>("SELECT account_id FROM studio_way_in WHERE id = ?", [id])
    if (!used.affected || !link) return null
    const token = await beginSession(tx, "studio", link.account_id)
    await markByMail(tx, token)
    return token
  })
}

const newPassword = v.object({
  current: v.pipe(v.string(), v.maxLength(200)),
  next: passwordRule,
})

/**
 * A new password, for whoever knows the old one or came by a link from the mailbox within the last hour. Every other session
 * ends; gives a new token for this one.
 */
export async function changePassword(
  s: Context,
  session: StudioSession,
  input: unknown,
): Promise<{ session: string } | Refused> {
  const read = v.safeParse(newPassword, input)
  if (!read.success) return { refused: read.issues[0].message, field: v.getDotPath(read.issues[0]) ?? undefined }
  const account = await s.db.row<{ password_hash: string }>("SELECT password_hash FROM account WHERE id = ?", [
    session.account,
  ])
  if (!account) return { refused: refusals.gone.account }
  if (!session.byMail) {
    if (!(await mayTry(s.db, `password:${session.account}`, { most: 20, windowMs: 3_600_000 })))
      return { refused: refusals.account.tooManyLink }
    if (!(await verifyPassword(account.password_hash, read.output.current)))
      return { refused: refusals.account.current, field: "current" }
  }
  const passwordHash = await hashPassword(read.output.next)
  return s.db.transaction(async (tx) => {
    await tx.update("account", session.account, { password_hash: passwordHash })
    await tx.write("DELETE FROM session WHERE account_id = ?", [session.account])
    await tx.write("UPDATE studio_way_in SET expires_at = ? WHERE account_id = ? AND used_at IS NULL", [
      new Date(),
      session.account,
    ])
    return { session: await beginSession(tx, "studio", session.account) }
  })
}

/** An account as Settings shows it, with how many sessions it has. */
export async function accountOf(
  db: Db,
  id: number,
): Promise<{ name: string; email: string; sessions: number; mailsComments: boolean; mailsReport: boolean }> {
  const account = await db.row<{ name: string; email: string; mails_comments: number; mails_report: number }>(
    "SELECT name, email, mails_comments, mails_report FROM account WHERE id = ?",
    [id],
  )
  const sessions = await db.row<{ n: number }>(
    "SELECT COUNT(*) AS n FROM session WHERE account_id = ? AND expires_at > ?",
    [id, new Date()],
  )
  return {
    name: account?.name ?? "",
    email: account?.email ?? "",
    sessions: sessions?.n ?? 0,
    mailsComments: Boolean(account?.mails_comments),
    mailsReport: Boolean(account?.mails_report),
  }
}

/** Whether an account is mailed what learners comment. */
export async function setMailsComments(s: Context, account: number, on: boolean): Promise<void> {
  await s.db.update("account", account, { mails_comments: on })
}

/** Whether an account is mailed what the week before brought, each Monday. */
export async function setMailsReport(s: Context, account: number, on: boolean): Promise<void> {
  await s.db.update("account", account, { mails_report: on })
}
