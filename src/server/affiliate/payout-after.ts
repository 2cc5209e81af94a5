// What is done for payouts in the background, whole or not at all: the file for the bank, and word to those who were paid.

import { createWriteStream } from "node:fs"
import { mkdir, rename, stat } from "node:fs/promises"
import { join } from "node:path"
import { Readable } from "node:stream"
import { pipeline } from "node:stream/promises"
import { bankFoot, bankHead, bankPayment, isSepaFile } from "@/core/affiliate/bank-file"
import { decimalOf, moneyText } from "@/core/offer/money"
import type { Context } from "../context"
import { csv } from "../csv"
import type { Db } from "../db/pool"
import type { Row } from "../db/row"
import type { Due } from "../due"
import { happen } from "../happen"
import { queueMail } from "../queue-mail"
import { schoolRow } from "../school-view"

/** Where the bank files of payouts are, each whole or not there. */
const folderOf = (s: Pick<Context, "config">) => join(s.config.dataFolder, "payouts")
const bankFileOf = (s: Pick<Context, "config">, payout: number) => join(folderOf(s), `${payout}.xml`)

/** How many are written to, or into a file, in one go. */
const batch = 200

/** What is still to be done for a payout `p`, and is in nobody's hands. */
const waiting = `(p.claimed_until IS NULL OR p.claimed_until < ?) AND ((p.state <> 'undone' AND p.file_at IS NULL)
  OR (p.state = 'paid' AND EXISTS (SELECT 1 FROM payout_to t WHERE t.payout_id = p.id AND t.mailed = 0)))`

/** Writes what is still to be written of payouts: files for the bank, and word to those who were paid. */
export const payouts: Due = {
  name: "payouts",
  nextAt: async () => null,
  waits: (_, at) => [[`SELECT 1 FROM payout p WHERE ${waiting}`, [at.real]]],
  async run(s) {
    for (;;) {
      const next = await s.db.transaction(async (tx) => {
        const row = await tx.row<{ id: number; needs: "file" | "word" }>(
          `SELECT p.id, IF(p.state <> 'undone' AND p.file_at IS NULL, 'file', 'word') AS needs FROM payout p
           WHERE ${waiting} ORDER BY p.id LIMIT 1 FOR UPDATE SKIP LOCKED`,
          [new Date()],
        )
        if (row) await tx.update("payout", row.id, { claimed_until: new Date(Date.now() + s.config.leaseMs) })
        return row
      })
      if (!next) return
      if (next.needs === "file") await writeFile(s, next.id)
      else await sendWord(s, next.id)
      await s.db.update("payout", next.id, { claimed_until: null })
    }
  },
  inHand: async (s) =>
    (await s.db.row("SELECT 1 FROM payout WHERE claimed_until > ? LIMIT 1", [new Date()])) !== undefined,
}

const keepClaim = (db: Db, s: Pick<Context, "config">, payout: number) =>
  db.update("payout", payout, { claimed_until: new Date(Date.now() + s.config.leaseMs) })

type To = { id: number; affiliate_id: number; gross: number; holder: string; iban: string; bic: string }

/** The file for the bank: the same bytes whenever it is written, so one that was cut off is simply written again. */
async function writeFile(s: Context, payout: number): Promise<void> {
  const p = (await s.db.row<
    Pick<Row<"payout">, "currency" | "people" | "gross" | "holder" | "iban" | "bic" | "made_at"> & { day: string }
  >(
    "SELECT currency, DATE_FORMAT(day, '%Y-%m-%d') AS day, people, gross, holder, iban, bic, made_at FROM payout WHERE id = ?",
    [payout],
  ))!
  const school = (await schoolRow(s.db))?.name ?? ""
  const accounts = await s.db.rows<{ iban: string }>(
    "SELECT DISTINCT LEFT(iban, 2) AS iban FROM payout_to WHERE payout_id = ?",
    [payout],
  )
  const file = {
    id: `${s.config.installation}-P${payout}`.slice(-35),
    currency: p.currency,
    madeAt: p.made_at.getTime(),
    day: p.day,
    from: { holder: p.holder || school, iban: p.iban, bic: p.bic },
    count: p.people,
    sum: p.gross,
    sepa: isSepaFile(p.currency, accounts),
  }
  async function* pieces(): AsyncGenerator<string> {
    yield bankHead(file)
    for (let from = 0, done = 0; ; ) {
      const some = await s.db.rows<To>(
        "SELECT id, affiliate_id, gross, holder, iban, bic FROM payout_to WHERE payout_id = ? AND id > ? ORDER BY id LIMIT ?",
        [payout, from, batch],
      )
      if (!some.length) break
      from = some.at(-1)!.id
      done += some.length
      yield some
        .map((t) =>
          bankPayment(file, {
            ...t,
            id: `P${payout}-${t.id}`,
            amount: t.gross,
            says: `Commission ${school} P${payout}-${t.id}`,
          }),
        )
        .join("")
      await s.db.update("payout", payout, { file_done: done, claimed_until: new Date(Date.now() + s.config.leaseMs) })
    }
    yield bankFoot
  }
  await mkdir(folderOf(s), { recursive: true, mode: 0o700 })
  const path = bankFileOf(s, payout)
  await pipeline(Readable.from(pieces()), createWriteStream(`${path}.part`, { mode: 0o600 }))
  await rename(`${path}.part`, path)
  await s.db.write("UPDATE payout SET file_at = ? WHERE id = ? AND file_at IS NULL", [new Date(), payout])
}

/** What was paid is taken off the short list of what isn't. */
async function tickOff(s: Context, payout: number): Promise<void> {
  for (;;) {
    const some = await s.db.rows<{ id: number }>(
      "SELECT u.commission_id AS id FROM payout_line l JOIN commission_unpaid u ON u.commission_id = l.commission_id WHERE l.payout_id = ? LIMIT 5000",
      [payout],
    )
    if (!some.length) return
    await s.db.write("DELETE FROM commission_unpaid WHERE commission_id IN (?)", [some.map((c) => c.id)])
    await keepClaim(s.db, s, payout)
  }
}

/** Whoever was paid is written to, each once; their statement goes along. */
async function sendWord(s: Context, payout: number): Promise<void> {
  await tickOff(s, payout)
  for (;;) {
    const sent = await s.db.transaction(async (tx) => {
      const some = await tx.rows<
        Pick<Row<"payout_to">, "id" | "gross"> & {
          affiliate: number
          person: number | null
          email: string | null
          name: string | null
          paid_at: Date
          currency: string
        }
      >(
        `SELECT t.id, t.affiliate_id AS affiliate, a.person_id AS person, n.email, n.name, t.gross, p.currency, p.paid_at FROM payout_to t JOIN payout p ON p.id = t.payout_id JOIN affiliate a ON a.id = t.affiliate_id
         LEFT JOIN person n ON n.id = a.person_id WHERE t.payout_id = ? AND t.mailed = 0 ORDER BY t.id LIMIT ? FOR UPDATE`,
        [payout, batch],
      )
      if (!some.length) return 0
      await tx.write("UPDATE payout_to SET mailed = 1 WHERE id IN (?)", [some.map((t) => t.id)])
      const known = some.flatMap((t) => (t.person !== null && t.email ? [{ ...t, email: t.email }] : []))
      await queueMail(
        tx,
        known.map((t) => ({
          once: `statement:${t.id}`,
          kind: "statement",
          person_id: t.person,
          to_email: t.email,
          to_name: t.name ?? "",
          payout_to_id: t.id,
          due_at: t.paid_at,
        })),
      )
      await happen(
        tx,
        known.map((t) => ({
          kind: "commission-paid" as const,
          at: t.paid_at.getTime(),
          person: t.person,
          subject: t.affiliate,
          words: moneyText(t.gross, t.currency),
          money: t.gross,
        })),
      )
      await keepClaim(tx, s, payout)
      return some.length
    })
    if (!sent) return
  }
}

/** The bank file of a payout; null where it isn't whole yet. */
export async function bankFileReady(s: Context, payout: number): Promise<{ path: string; bytes: number } | null> {
  const row = await s.db.row<{ file_at: Date | null; state: string }>(
    "SELECT file_at, state FROM payout WHERE id = ?",
    [payout],
  )
  if (!row?.file_at || row.state === "undone") return null
  const path = bankFileOf(s, payout)
  const found = await stat(path).catch(() => null)
  if (found) return { path, bytes: found.size }
  // Lost with its disk: it is written again.
  await s.db.update("payout", payout, { file_at: null, file_done: 0 })
  return null
}

/** A payout as CSV: one row for each who is paid. */
export async function* payoutCsv(db: Db, payout: number): AsyncGenerator<string> {
  yield csv([
    ["payment", "credit note", "affiliate", "account holder", "IBAN", "BIC", "currency", "net", "tax", "paid", "lines"],
  ])
  for (let from = 0; ; ) {
    const rows = await db.rows<
      To & { name: string; currency: string; net: number; tax: number; note: string | null; n: number }
    >(
      `SELECT t.*, t.note_number AS note, t.line_count AS n, a.public_name AS name, p.currency FROM payout_to t JOIN payout p ON p.id = t.payout_id JOIN affiliate a ON a.id = t.affiliate_id
       WHERE t.payout_id = ? AND t.id > ? ORDER BY t.id LIMIT 1000`,
      [payout, from],
    )
    if (!rows.length) return
    from = rows.at(-1)!.id
    const d = (minor: number, r: { currency: string }) => decimalOf(minor, r.currency)
    yield csv(
      rows.map((r) => [
        `P${payout}-${r.id}`,
        r.note ?? "",
        r.name,
        r.holder,
        r.iban,
        r.bic,
        r.currency,
        d(r.net, r),
        d(r.tax, r),
        d(r.gross, r),
        r.n,
      ]),
    )
  }
}
