// One person's everything: as JSON for whoever asks what is kept of them, and gone for whoever asks to be erased. Orders stay, as
// the books need them; of the address only a hash stays, so that no file brings them back.
import { unlink } from "node:fs/promises"
import { join } from "node:path"
import { refusals } from "@/core/words/refusals"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { forgetSheets } from "../draw/draw"
import { happen } from "../happen"
import { ok, type Saved } from "../saved"
import { erasedKey } from "./take-in"

/** What is of a person, by table; all of it is given out, and goes when they are erased. */
export const ofPerson = [
  "address",
  "person_tag",
  "person_field",
  "admission",
  "lesson_done",
  "lesson_seen",
  "quiz_try",
  "hand_in",
  "media",
  "quote",
  "survey_answer",
  "notice_seen",
  "note",
  "comment",
  "certificate",
  "way_in",
  "enrolment",
  "device",
  "unwanted",
  "stir",
  "session",
  "opening",
  "waiting",
  "presence",
  "address_change",
  "united",
  "imported",
  "imported_tag",
  "registration",
  "affiliate_join",
] as const

/** Columns that are nobody's business outside: secrets, and what only the machine needs. */
const hidden = /hash|secret|token|claimed|visitor|try_at|once/

/** Everything that is kept of somebody; undefined where there is nobody. */
export async function everythingOf(db: Db, id: number): Promise<Record<string, unknown> | undefined> {
  const person = await db.row<Record<string, unknown>>("SELECT * FROM person WHERE id = ?", [id])
  if (!person) return undefined
  const tables = await tablesOf(db)
  const all: Record<string, unknown> = { person: shown(person) }
  for (const table of tables) {
    const rows = await db.rows<Record<string, unknown>>(`SELECT * FROM \`${table}\` WHERE person_id = ?`, [id])
    if (rows.length) all[table] = rows.map(shown)
  }
  const consents = await db.rows<Record<string, unknown>>(
    "SELECT c.* FROM consent c JOIN address a ON a.id = c.address_id WHERE a.person_id = ?",
    [id],
  )
  if (consents.length) all.consent = consents.map(shown)
  const lines = await db.rows<Record<string, unknown>>(
    "SELECT l.* FROM order_line l JOIN orders o ON o.id = l.order_id WHERE o.person_id = ?",
    [id],
  )
  if (lines.length) all.order_line = lines.map(shown)
  // What hangs on their seats at webinars.
  for (const table of ["stay", "room_message", "poll_vote"] as const) {
    const rows = await db.rows<Record<string, unknown>>(
      `SELECT x.* FROM ${table} x JOIN registration r ON r.id = x.registration_id WHERE r.person_id = ?`,
      [id],
    )
    if (rows.length) all[table] = rows.map(shown)
  }
  // What hangs on their being an affiliate.
  for (const table of [
    "affiliate_in",
    "affiliate_link",
    "code_before",
    "bank_change",
    "bonus",
    "commission",
    "payout_to",
  ] as const) {
    const rows = await db.rows<Record<string, unknown>>(
      `SELECT x.* FROM ${table} x JOIN affiliate a ON a.id = x.affiliate_id WHERE a.person_id = ?`,
      [id],
    )
    if (rows.length) all[table] = rows.map(shown)
  }
  return all
}

const shown = (row: Record<string, unknown>) =>
  Object.fromEntries(Object.entries(row).filter(([k, v]) => !hidden.test(k) && !Buffer.isBuffer(v) && v !== null))

/** Every table that says whose a row is. */
export async function tablesOf(db: Db): Promise<string[]> {
  const rows = await db.rows<{ name: string }>(
    "SELECT table_name AS name FROM information_schema.columns WHERE table_schema = DATABASE() AND column_name = 'person_id' ORDER BY table_name",
  )
  return rows.map((r) => r.name)
}

/** Erases somebody. Refused while a plan of theirs runs. */
export async function erasePerson(s: Context, id: number): Promise<Saved> {
  const at = await s.clock.now()
  let files: string[] = []
  let certificates: { number: string }[] = []
  const done = await s.db.transaction(async (tx): Promise<Saved> => {
    const person = await tx.row("SELECT id FROM person WHERE id = ? FOR UPDATE", [id])
    if (!person) return { refused: refusals.gone.thing }
    if (await tx.row("SELECT 1 FROM plan WHERE person_id = ? AND state IN ('running', 'behind') LIMIT 1", [id]))
      return { refused: refusals.person.planRuns }
    const addresses = await tx.rows<{ canonical: string }>("SELECT canonical FROM address WHERE person_id = ?", [id])
    await tx.insert(
      "erased",
      addresses.map((a) => ({ canonical_hash: erasedKey(s.config.secret, a.canonical), at: new Date(at) })),
      "ignore",
    )
    files = (await tx.rows<{ stored: string }>("SELECT stored FROM media WHERE person_id = ?", [id])).map(
      (f) => f.stored,
    )
    certificates = await tx.rows("SELECT number FROM certificate WHERE person_id = ?", [id])
    await tx.write("DELETE FROM united WHERE other_id = ?", [id])
    await tx.write(
      "DELETE FROM mail WHERE person_id = ? AND order_id IS NULL AND plan_id IS NULL AND refund_id IS NULL",
      [id],
    )
    for (const table of ofPerson)
      if (table !== "media") await tx.write(`DELETE FROM ${table} WHERE person_id = ?`, [id])
    await tx.write("DELETE FROM media WHERE person_id = ?", [id])
    await tx.write("UPDATE mention SET person_id = NULL WHERE person_id = ?", [id])
    files.push(...(await eraseAffiliate(tx, id, at)))
    await tx.write("UPDATE fact SET person_id = NULL, words = NULL WHERE person_id = ?", [id])
    await tx.write("UPDATE journey SET person_id = NULL WHERE person_id = ?", [id])
    await tx.write(
      "UPDATE mail SET to_email = '', to_name = '', subject = NULL, note = NULL, person_id = NULL WHERE person_id = ?",
      [id],
    )
    const kept = await tx.row("SELECT 1 FROM orders WHERE person_id = ? LIMIT 1", [id])
    if (kept) await tx.update("person", id, { name: "", email: "", searched: "", source: "", mail_paused_at: null })
    else await tx.write("DELETE FROM person WHERE id = ?", [id])
    await happen(tx, { kind: "erased", at, person: kept ? id : null, subject: id })
    return ok
  })
  for (const stored of files) await unlink(join(s.config.mediaFolder, stored)).catch(() => {})
  for (const { number } of certificates) await forgetSheets(s.config, "certificate", number)
  return done
}

/**
 * Whoever is erased is no affiliate any more: what is owed to them stays in the books, without a name or an account. Gives
 * the stored names of files that go.
 */
async function eraseAffiliate(tx: Db, person: number, now: number): Promise<string[]> {
  const a = await tx.row<{ id: number }>("SELECT id FROM affiliate WHERE person_id = ? FOR UPDATE", [person])
  if (!a) return []
  const at = new Date(now)
  const files = await tx.rows<{ id: number; stored: string }>(
    "SELECT m.id, m.stored FROM bonus b JOIN media m ON m.id = b.media_id WHERE b.affiliate_id = ? AND b.state <> 'approved'",
    [a.id],
  )
  await tx.write("DELETE FROM bonus WHERE affiliate_id = ? AND state <> 'approved'", [a.id])
  await tx.write("DELETE FROM media WHERE id IN (?)", [[0, ...files.map((f) => f.id)]])
  for (const table of ["bank_change", "affiliate_link", "code_before"])
    await tx.write(`DELETE FROM ${table} WHERE affiliate_id = ?`, [a.id])
  await tx.write("UPDATE coupon SET until_at = ? WHERE affiliate_id = ? AND (until_at IS NULL OR until_at > ?)", [
    at,
    a.id,
    at,
  ])
  await tx.write(
    "UPDATE affiliate SET person_id = NULL, state = 'ended', ended_at = COALESCE(ended_at, ?), public_name = '', shown = 0, code = CONCAT('gone-', id), holder = '', iban = '', bic = '', postal = '', tax_number = '', bank_at = NULL WHERE id = ?",
    [at, a.id],
  )
  // Every front looks again, so that no page says their name.
  await tx.write("UPDATE affiliate_rules SET changes = changes + 1 WHERE id = 1")
  return files.map((f) => f.stored)
}
