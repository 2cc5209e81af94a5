// Where an affiliate is paid: typed in the portal, counted once their mailbox has said yes, and used from the next payout on.

import * as v from "valibot"
import { readBic, readIban } from "@/core/affiliate/iban"
import { ibanTroubles } from "@/core/affiliate/words"
import { refusals } from "@/core/words/refusals"
import { mayTry } from "../attempt"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { happen } from "../happen"
import { queueMail } from "../queue-mail"
import { ok, refusal, type Saved } from "../saved"

export type Bank = {
  readonly holder: string
  readonly iban: string
  readonly bic: string
  readonly postal: string
  readonly taxNumber: string
  /** When it was confirmed; null: it never was. */
  readonly at: Date | null
}

export async function bankOf(db: Db, affiliate: number): Promise<Bank | undefined> {
  return db.row<Bank>(
    "SELECT holder, iban, bic, postal, tax_number AS taxNumber, bank_at AS at FROM affiliate WHERE id = ?",
    [affiliate],
  )
}

/** Details that wait for the yes of the mailbox. */
export async function waitingBank(
  db: Db,
  affiliate: number,
  now: number,
): Promise<{ iban: string; at: Date } | undefined> {
  return db.row(
    "SELECT iban, at FROM bank_change WHERE affiliate_id = ? AND done_at IS NULL AND expires_at > ? AND id = (SELECT MAX(id) FROM bank_change WHERE affiliate_id = ?)",
    [affiliate, new Date(now), affiliate],
  )
}

const lines = (most: number) => v.pipe(v.string(), v.trim(), v.maxLength(most, refusals.value.longest(most)))
const input = v.object({
  holder: v.pipe(lines(140), v.nonEmpty(refusals.affiliate.holder)),
  iban: v.pipe(v.string(), v.maxLength(80)),
  bic: v.pipe(v.string(), v.maxLength(30)),
  postal: lines(400),
  taxNumber: lines(40),
})

const worksFor = 3 * 86_400_000

/** Asks the mailbox of an affiliate whether they are paid there from now on. */
export async function askBankChange(s: Context, affiliate: number, typed: unknown): Promise<Saved> {
  const read = v.safeParse(input, typed)
  if (!read.success) return refusal(read.issues)
  const b = read.output
  const account = readIban(b.iban)
  if ("trouble" in account) return { refused: ibanTroubles[account.trouble], field: "iban" }
  const bic = readBic(b.bic)
  if (bic === null) return { refused: refusals.affiliate.bic, field: "bic" }
  if (!(await mayTry(s.db, `bank:${affiliate}`, { most: 10, windowMs: 3_600_000 })))
    return { refused: refusals.account.tooManyHere }
  const now = await s.clock.now()
  return s.db.transaction(async (tx): Promise<Saved> => {
    const to = await tx.row<{ person: number; email: string; name: string }>(
      "SELECT p.id AS person, p.email, p.name FROM affiliate a JOIN person p ON p.id = a.person_id WHERE a.id = ? FOR UPDATE",
      [affiliate],
    )
    if (!to) return { refused: refusals.gone.thing }
    const made = await tx.insert("bank_change", {
      affiliate_id: affiliate,
      holder: b.holder,
      iban: account.iban,
      bic,
      postal: b.postal,
      tax_number: b.taxNumber,
      at: new Date(now),
      expires_at: new Date(now + worksFor),
    })
    await queueMail(tx, {
      once: `bank-change:${made.id}`,
      kind: "bank-change",
      person_id: to.person,
      to_email: to.email,
      to_name: to.name,
      bank_change_id: made.id,
      due_at: new Date(now),
    })
    return ok
  })
}

/** How a change stands that a link is about, and the account in short. */
export async function bankChangeState(
  s: Context,
  id: number,
): Promise<{ readonly state: "open" | "done" | "over"; readonly iban: string; readonly holder: string } | undefined> {
  const row = await s.db.row<{ iban: string; holder: string; expires_at: Date; done_at: Date | null; last: number }>(
    "SELECT iban, holder, expires_at, done_at, id = (SELECT MAX(b.id) FROM bank_change b WHERE b.affiliate_id = bank_change.affiliate_id) AS last FROM bank_change WHERE id = ?",
    [id],
  )
  if (!row) return undefined
  const open = row.expires_at.getTime() > (await s.clock.now()) && Boolean(row.last)
  return { state: row.done_at ? "done" : open ? "open" : "over", iban: row.iban, holder: row.holder }
}

/** The press in the mailbox: from the next payout on it is paid there. Payouts that are made already stay as they are. */
export async function confirmBankChange(s: Context, id: number): Promise<boolean> {
  const now = await s.clock.now()
  return s.db.transaction(async (tx) => {
    const b = await tx.row<{
      affiliate_id: number
      holder: string
      iban: string
      bic: string
      postal: string
      tax_number: string
      expires_at: Date
      done_at: Date | null
    }>("SELECT * FROM bank_change WHERE id = ? FOR UPDATE", [id])
    const last =
      b &&
      (await tx.row<{ id: number }>("SELECT MAX(id) AS id FROM bank_change WHERE affiliate_id = ?", [b.affiliate_id]))
    if (!b || b.done_at || b.expires_at.getTime() <= now || Number(last?.id) !== id) return false
    await tx.update("bank_change", id, { done_at: new Date(now) })
    await tx.update("affiliate", b.affiliate_id, {
      holder: b.holder,
      iban: b.iban,
      bic: b.bic,
      postal: b.postal,
      tax_number: b.tax_number,
      bank_at: new Date(now),
    })
    const a = await tx.row<{ person_id: number | null }>("SELECT person_id FROM affiliate WHERE id = ?", [
      b.affiliate_id,
    ])
    await happen(tx, { kind: "bank-changed", at: now, person: a?.person_id ?? null, subject: b.affiliate_id })
    return true
  })
}
