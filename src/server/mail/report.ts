// Reports that come back: an address that can't be reached, or a reader who complained. Each is told of its mail by the address it
// was to be reported to, or by the Message-ID of what came back.

import { simpleParser } from "mailparser"
import { type Bounce, readBounces, readComplaint, softUntilHard } from "@/core/mail/report"
import { writeConsent } from "../consent"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { happen } from "../happen"
import { sign, verify, verifyLower } from "../sign"
import { endSequence } from "./end"

/** The secret end of the address where reports are handed in. */
export const reportToken = (secret: string): string => sign(secret, "inbound", "mail")

export const isReportToken = (secret: string, token: string): boolean => verify(secret, "inbound", token) === "mail"

export type Taken = "bounce" | "complaint" | "unknown"

/** Takes a report as it came, headers and all. The same report twice is once. */
export async function takeReport(s: Context, raw: Buffer): Promise<Taken> {
  const mail = await simpleParser(raw, {
    keepDeliveryStatus: true,
    skipHtmlToText: true,
    skipTextToHtml: true,
    skipImageLinks: true,
  })
  const part = (type: string) => mail.attachments.find((a) => a.contentType === type)?.content.toString("utf8") ?? ""
  const status = part("message/delivery-status")
  const complaint = readComplaint(part("message/feedback-report"))
  const returned = part("message/rfc822") || part("text/rfc822-headers") || part("message/rfc822-headers")
  const [bounce] = readBounces(status)
  if (!bounce && !complaint) return "unknown"
  const id = await mailOf(s, raw.toString("latin1"), returned)
  if (id === null) return "unknown"
  const at = await s.clock.now()
  await s.db.transaction((tx) => (complaint ? complained(tx, id, complaint.kind, at) : bounced(tx, id, bounce!, at)))
  return complaint ? "complaint" : "bounce"
}

async function mailOf(s: Context, raw: string, returned: string): Promise<number | null> {
  const token = /bounce-(\d{1,10}-[0-9a-fA-F]{20})@/.exec(raw)?.[1]
  const signed = token ? verifyLower(s.config.secret, "bounce", token) : null
  if (signed !== null) return signed
  const messageId = /^message-id:\s*(<[^>\s]{1,180}>)/im.exec(returned)?.[1]
  const own = messageId && new RegExp(`^<(\\d{1,10})\\.${s.config.installation}@`).exec(messageId)
  const row =
    own && (await s.db.row<{ id: number }>("SELECT id FROM mail WHERE id = ? AND message_id = ?", [own[1], messageId]))
  return row ? row.id : null
}

type Reported = {
  readonly id: number
  readonly person: number | null
  readonly email: string
  readonly subject: string | null
}

const reported = (tx: Db, id: number) =>
  tx.row<Reported>("SELECT id, person_id AS person, to_email AS email, subject FROM mail WHERE id = ? FOR UPDATE", [id])

async function bounced(tx: Db, id: number, b: Bounce, at: number): Promise<void> {
  const mail = await reported(tx, id)
  if (!mail) return
  const fresh = await tx.insert(
    "mail_report",
    { mail_id: id, kind: b.hard ? "hard" : "soft", status: b.status, says: b.says.slice(0, 300), at: new Date(at) },
    "ignore",
  )
  if (!fresh.affected) return
  await tx.write("UPDATE mail SET bounced_at = COALESCE(bounced_at, ?) WHERE id = ?", [new Date(at), id])
  if (mail.person === null) return
  await happen(tx, { kind: "bounced", at, person: mail.person, subject: id, words: b.says.slice(0, 300) })
  await tx.write("UPDATE address SET soft_bounces = soft_bounces + 1 WHERE person_id = ? AND email = ?", [
    mail.person,
    mail.email,
  ])
  const address = await tx.row<{ soft: number }>(
    "SELECT soft_bounces AS soft FROM address WHERE person_id = ? AND email = ?",
    [mail.person, mail.email],
  )
  if (b.hard || (address?.soft ?? 0) >= softUntilHard)
    await stopWriting(tx, mail, { as: "undeliverable", why: b.says || b.status, ended: "undeliverable", at })
}

async function complained(tx: Db, id: number, kind: string, at: number): Promise<void> {
  const mail = await reported(tx, id)
  if (!mail) return
  const fresh = await tx.insert(
    "mail_report",
    { mail_id: id, kind: "complaint", says: kind, at: new Date(at) },
    "ignore",
  )
  if (!fresh.affected) return
  await tx.update("mail", id, { complained_at: new Date(at) })
  if (mail.person === null) return
  await happen(tx, { kind: "complained", at, person: mail.person, subject: id, words: mail.subject ?? "" })
  await writeConsent(tx, "a.person_id = ? AND a.email = ?", [mail.person, mail.email], {
    kind: "withdrawn",
    at: new Date(at),
    page: "a complaint to their mail provider",
  })
  await stopWriting(tx, mail, { as: "left", why: "complained to their mail provider", ended: "left", at })
}

async function stopWriting(
  tx: Db,
  mail: Reported,
  w: { readonly as: "left" | "undeliverable"; readonly why: string; readonly ended: string; readonly at: number },
): Promise<void> {
  await tx.write(
    "UPDATE address SET suppressed = ?, suppressed_at = ?, suppressed_why = ? WHERE person_id = ? AND email = ? AND suppressed IS NULL",
    [w.as, new Date(w.at), w.why.slice(0, 400), mail.person, mail.email],
  )
  await endSequence(tx, { person: mail.person!, sequence: null, why: w.ended, at: w.at })
  await tx.write(
    "UPDATE mail SET state = 'cancelled', trouble = 'its address isn''t written to any more' WHERE person_id = ? AND to_email = ? AND broadcast_id IS NOT NULL AND state IN ('due', 'held')",
    [mail.person, mail.email],
  )
}

export type NotWrittenTo = {
  readonly person: number
  readonly name: string
  readonly email: string
  readonly as: "left" | "undeliverable"
  readonly at: Date | null
  readonly why: string | null
}

/** Addresses that aren't written to, the latest first; at most 200. */
export function notWrittenTo(db: Db): Promise<NotWrittenTo[]> {
  return db.rows<NotWrittenTo>(
    "SELECT p.id AS person, p.name, a.email, a.suppressed AS `as`, a.suppressed_at AS at, a.suppressed_why AS why FROM address a JOIN person p ON p.id = a.person_id WHERE a.suppressed IS NOT NULL ORDER BY a.suppressed_at DESC, a.id DESC LIMIT 200",
  )
}

/** An address that couldn't be reached is tried again; whoever has left comes back only by themselves. */
export async function tryAgain(s: Context, email: string): Promise<boolean> {
  const done = await s.db.write(
    "UPDATE address SET suppressed = NULL, suppressed_at = NULL, suppressed_why = NULL, soft_bounces = 0 WHERE email = ? AND suppressed = 'undeliverable'",
    [email],
  )
  return done.affected > 0
}

export type ReportRates = { readonly sent: number; readonly bounced: number; readonly complained: number }

/** Of the mails of seven days, how many came back, at the receiver's door or later, and how many were complained of. */
export async function ratesOf(db: Db, now: number): Promise<ReportRates> {
  const row = await db.row<{ sent: number; bounced: number; complained: number }>(
    "SELECT COUNT(*) AS sent, SUM(state = 'rejected' OR bounced_at IS NOT NULL) AS bounced, COUNT(complained_at) AS complained FROM mail WHERE state IN ('sent', 'rejected') AND due_at >= ?",
    [new Date(now - 7 * 86_400_000)],
  )
  return { sent: row?.sent ?? 0, bounced: row?.bounced ?? 0, complained: row?.complained ?? 0 }
}
