// Payouts: what is due and in no payout yet is put into one, for each currency by itself; it is undone until it is marked as
// paid, and then booked, with a numbered credit note for each who was paid. Files and letters: ./payout-after.
import * as v from "valibot"
import {
  noteNumber,
  type Obstacle,
  obstacle,
  type Payee,
  type PayoutSplit,
  type Sum,
  split,
  withTax,
} from "@/core/affiliate/payout"
import type { TaxRule } from "@/core/offer/tax"
import { actorText } from "@/core/person/actor"
import { refusals } from "@/core/words/refusals"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { sellingRules } from "../offer/offer"
import { dayKey } from "../offer/shown"
import { ok, type Refused, refusal, type Saved } from "../saved"
import { schoolZone } from "../school-view"
import { affiliateRules, oneAtATime } from "./rules"

/** Everybody to whom anything is open, with what stands in the way of paying them. */
async function payeesOf(
  db: Db,
  ids: readonly number[] | null,
): Promise<Map<number, Payee & { readonly name: string }>> {
  const rows = await db.rows<{
    affiliate: number
    state: Payee["state"]
    person: number | null
    iban: string
    taxNumber: string
    name: string
    behind: number
  }>(
    `SELECT a.id AS affiliate, a.state, a.person_id AS person, a.iban, a.tax_number AS taxNumber, a.public_name AS name,
       EXISTS (SELECT 1 FROM affiliate_part i JOIN programme p ON p.offer_id = i.offer_id
         WHERE i.affiliate_id = a.id AND i.agreed_version > 0 AND i.agreed_version < p.conditions_version) AS behind
     FROM affiliate a ${ids === null ? "" : "WHERE a.id IN (?)"}`,
    ids === null ? [] : [[0, ...ids]],
  )
  return new Map(
    rows.map((r) => [
      r.affiliate,
      {
        affiliate: r.affiliate,
        state: r.state,
        known: r.person !== null,
        iban: r.iban,
        // Who has ended is held to what they agreed to.
        agreed: !r.behind || r.state === "ended",
        taxNumber: r.taxNumber,
        name: r.name,
      },
    ]),
  )
}

/** What is due before an instant (ms) and in no payout, by affiliate and currency. */
async function sumsDue(db: Db, until: number): Promise<Sum[]> {
  const rows = await db.rows<{ affiliate: number; currency: string; amount: number; n: number; out: number }>(
    `SELECT affiliate_id AS affiliate, currency, SUM(IF(left_out IS NULL, amount, 0)) AS amount, SUM(left_out IS NULL) AS n, SUM(left_out IS NOT NULL) AS \`out\`
     FROM commission_open WHERE due_at < ? GROUP BY affiliate_id, currency ORDER BY affiliate_id, currency`,
    [new Date(until)],
  )
  return rows.map((r) => ({
    affiliate: r.affiliate,
    currency: r.currency,
    amount: r.amount,
    lines: r.n,
    leftOut: r.out,
  }))
}

export type PayoutPreview = {
  readonly until: number
  readonly pay: readonly (Sum & { readonly name: string; readonly iban: string })[]
  readonly not: readonly (Sum & { readonly name: string; readonly why: Obstacle })[]
  readonly totals: readonly {
    readonly currency: string
    readonly amount: number
    readonly people: number
    readonly lines: number
  }[]
  /** Stands for what was seen: it changes with every line that would be paid. */
  readonly seen: string
}

/** What a payout of everything due before an instant would be. */
export async function previewPayout(s: Pick<Context, "db">, until: number): Promise<PayoutPreview> {
  const { least } = await affiliateRules(s.db)
  const sums = await sumsDue(s.db, until)
  const payees = await payeesOf(s.db, sums.length > 500 ? null : sums.map((x) => x.affiliate))
  const parts = split(sums, payees, { least })
  const totals = new Map<string, { currency: string; amount: number; people: number; lines: number }>()
  for (const p of parts.pay) {
    const t = totals.get(p.currency) ?? { currency: p.currency, amount: 0, people: 0, lines: 0 }
    totals.set(p.currency, { ...t, amount: t.amount + p.amount, people: t.people + 1, lines: t.lines + p.lines })
  }
  const name = (a: number) => payees.get(a)?.name || "erased"
  return {
    until,
    pay: parts.pay.map((p) => ({ ...p, name: name(p.affiliate), iban: payees.get(p.affiliate)?.iban ?? "" })),
    not: parts.not.map((p) => ({ ...p, name: name(p.affiliate) })),
    totals: [...totals.values()].sort((a, b) => (a.currency < b.currency ? -1 : 1)),
    seen: seenOf(parts),
  }
}

const seenOf = (parts: PayoutSplit) =>
  JSON.stringify([...new Map<string, number[]>(byCurrency(parts.pay))].sort(([a], [b]) => (a < b ? -1 : 1)))

function byCurrency(pay: readonly Sum[]): Map<string, number[]> {
  const sums = new Map<string, number[]>()
  for (const p of pay) {
    const [n = 0, lines = 0, amount = 0] = sums.get(p.currency) ?? []
    sums.set(p.currency, [n + 1, lines + p.lines, amount + p.amount])
  }
  return sums
}

const making = v.object({
  once: v.pipe(v.string(), v.regex(/^[\w-]{20,36}$/)),
  until: v.pipe(v.number(), v.integer()),
  day: v.pipe(v.string(), v.isoDate(refusals.course.date)),
  seen: v.pipe(v.string(), v.maxLength(4000)),
})

/** One of two hundred thousand lines takes some seconds, and it writes nothing into the journal (ms). */
const longest = 120_000

export type MadePayout = { readonly ok: true; readonly ids: readonly number[] } | Refused

/**
 * Puts everything that is due before an instant into a payout for each currency. What would be paid must be what was seen;
 * whoever presses at the same moment waits, and finds nothing left.
 */
export async function makePayout(s: Context, typed: unknown): Promise<MadePayout> {
  const read = v.safeParse(making, typed)
  if (!read.success) return refusal(read.issues)
  const m = read.output
  const now = await s.clock.now()
  if (m.until > now) return { refused: refusals.affiliate.untilAhead, field: "until" }
  const made = s.db.transaction(async (tx): Promise<MadePayout> => {
    await oneAtATime(tx)
    const before = await tx.rows<{ id: number }>("SELECT id FROM payout WHERE once LIKE ?", [
      `${m.once.replaceAll("_", "\\_")}:%`,
    ])
    if (before.length) return { ok: true, ids: before.map((b) => b.id) }
    const rules = await affiliateRules(tx)
    if (!rules.iban) return { refused: refusals.affiliate.noAccount }
    const sums = await sumsDue(tx, m.until)
    const payees = await payeesOf(tx, sums.length > 500 ? null : sums.map((x) => x.affiliate))
    const parts = split(sums, payees, rules)
    if (!parts.pay.length) return { refused: refusals.affiliate.nothingToPay }
    if (seenOf(parts) !== m.seen) return { refused: refusals.affiliate.payoutChanged }
    const { tax } = await sellingRules(tx)
    const ids: number[] = []
    for (const currency of [...new Set(parts.pay.map((p) => p.currency))].sort())
      ids.push(
        await putPayout(tx, {
          ...m,
          currency,
          pay: parts.pay.filter((p) => p.currency === currency),
          payees,
          rules,
          tax: rules.withTax ? tax : null,
          now,
          by: actorText(s.actor),
        }),
      )
    return { ok: true, ids }
  }, longest)
  return made.catch((error) => {
    if (error instanceof Changed) return { refused: refusals.affiliate.payoutChanged }
    throw error
  })
}

/** Something came in between what was summed up and what was put into the payout. */
class Changed extends Error {}

async function putPayout(
  tx: Db,
  p: {
    once: string
    until: number
    day: string
    currency: string
    pay: readonly Sum[]
    payees: ReadonlyMap<number, Payee>
    rules: { holder: string; iban: string; bic: string }
    tax: TaxRule | null
    now: number
    by: string | null
  },
): Promise<number> {
  const paid = p.pay.map((x) => ({ ...x, ...withTax(x.amount, p.tax, p.payees.get(x.affiliate)!.taxNumber) }))
  const made = await tx.insert("payout", {
    once: `${p.once}:${p.currency}`,
    state: "made",
    currency: p.currency,
    until_at: new Date(p.until),
    day: p.day,
    people: paid.length,
    line_count: paid.reduce((sum, x) => sum + x.lines, 0),
    gross: paid.reduce((sum, x) => sum + x.gross, 0),
    tax_rate: p.tax?.rate ?? 0,
    holder: p.rules.holder,
    iban: p.rules.iban,
    bic: p.rules.bic,
    made_at: new Date(p.now),
    made_by: p.by,
  })
  for (let from = 0; from < paid.length; from += 2000)
    await tx.write(
      `INSERT INTO payout_to (payout_id, affiliate_id, net, tax, gross, line_count, holder, iban, bic, postal, tax_number)
       SELECT ?, a.id, v.net, v.tax, v.gross, v.n, a.holder, a.iban, a.bic, a.postal, a.tax_number FROM affiliate a
       JOIN JSON_TABLE(?, '$[*]' COLUMNS (affiliate INT PATH '$[0]', net BIGINT PATH '$[1]', tax BIGINT PATH '$[2]', gross BIGINT PATH '$[3]', n INT PATH '$[4]')) v ON v.affiliate = a.id`,
      [
        made.id,
        JSON.stringify(paid.slice(from, from + 2000).map((x) => [x.affiliate, x.net, x.tax, x.gross, x.lines])),
      ],
    )
  const put = await tx.write(
    `INSERT INTO payout_line (commission_id, payout_id) SELECT o.commission_id, ? FROM commission_open o JOIN payout_to t ON t.payout_id = ? AND t.affiliate_id = o.affiliate_id
     WHERE o.due_at < ? AND o.left_out IS NULL AND o.currency = ? ORDER BY o.commission_id`,
    [made.id, made.id, new Date(p.until), p.currency],
  )
  // Nothing can have gone meanwhile, but a charge can have brought one more.
  if (put.affected !== paid.reduce((sum, x) => sum + x.lines, 0)) throw new Changed()
  return made.id
}

/** Undoes a payout that isn't marked as paid: its lines are due again. */
export async function undoPayout(s: Context, payout: number): Promise<Saved> {
  const at = new Date(await s.clock.now())
  return s.db.transaction(async (tx): Promise<Saved> => {
    await oneAtATime(tx)
    const p = await tx.row<{ state: string }>("SELECT state FROM payout WHERE id = ? FOR UPDATE", [payout])
    if (!p) return { refused: refusals.gone.thing }
    if (p.state === "paid") return { refused: refusals.affiliate.payoutPaid }
    if (p.state === "undone") return ok
    await tx.write("DELETE FROM payout_line WHERE payout_id = ?", [payout])
    await tx.update("payout", payout, { state: "undone", undone_at: at })
    return ok
  })
}

/**
 * Marks a payout as paid: numbers its credit notes without a gap, books it, and has each who was paid written to. A second
 * time changes nothing.
 */
export async function markPaid(s: Context, payout: number): Promise<Saved> {
  const now = await s.clock.now()
  const at = new Date(now)
  return s.db.transaction(async (tx): Promise<Saved> => {
    await oneAtATime(tx)
    const p = await tx.row<{ state: string; currency: string; people: number }>(
      "SELECT state, currency, people FROM payout WHERE id = ? FOR UPDATE",
      [payout],
    )
    if (!p) return { refused: refusals.gone.thing }
    if (p.state === "undone") return { refused: refusals.affiliate.payoutUndone }
    if (p.state === "paid") return ok
    const { notePrefix } = await affiliateRules(tx)
    const day = dayKey(now, await schoolZone(tx))
    const year = Number(day.slice(0, 4))
    await tx.insert("note_number", { year, last: 0 }, "ON DUPLICATE KEY UPDATE last = last")
    const { last } = (await tx.row<{ last: number }>("SELECT last FROM note_number WHERE year = ? FOR UPDATE", [year]))!
    const begin = noteNumber(notePrefix, year, 0).slice(0, -4)
    await tx.write(
      `UPDATE payout_to t JOIN (SELECT id, ROW_NUMBER() OVER (ORDER BY id) AS n FROM payout_to WHERE payout_id = ?) k ON k.id = t.id
       SET t.note_number = CONCAT(?, IF(k.n + ? < 10000, LPAD(k.n + ?, 4, '0'), k.n + ?))`,
      [payout, begin, last, last, last],
    )
    await tx.write("UPDATE note_number SET last = last + ? WHERE year = ?", [p.people, year])
    await tx.write(
      "UPDATE payout p JOIN school s ON s.id = 1 SET p.state = 'paid', p.paid_at = ?, p.paid_day = ?, p.from_name = s.name, p.from_postal = s.postal_address WHERE p.id = ?",
      [at, day, payout],
    )
    // For each who was paid an entry of its own: what was owed, and the tax on it, against the bank.
    await tx.write(
      `INSERT INTO journal (once, at, payout_id, account, amount, currency, recorded_at)
       SELECT CONCAT('payout:', t.id, ':', a.account), ?, ?, a.account, CASE a.account WHEN 'affiliates' THEN t.net WHEN 'tax' THEN t.tax ELSE -t.gross END, ?, ?
       FROM payout_to t JOIN (SELECT 'affiliates' AS account UNION ALL SELECT 'tax' UNION ALL SELECT 'bank') a
       WHERE t.payout_id = ? AND NOT (a.account = 'tax' AND t.tax = 0)`,
      [at, payout, p.currency, new Date(), payout],
    )
    return ok
  })
}

/** Why an affiliate can't be paid what is due to them now, by currency; null where nothing is in the way. */
export async function obstaclesOf(
  db: Db,
  affiliate: number,
  now: number,
): Promise<readonly { currency: string; why: Obstacle | null }[]> {
  const { least } = await affiliateRules(db)
  const payee = (await payeesOf(db, [affiliate])).get(affiliate)
  const sums = (await sumsOfOne(db, affiliate, now)).filter((x) => x.amount !== 0)
  return sums.map((x) => ({ currency: x.currency, why: payee ? obstacle(payee, x.amount, { least }) : "ended-nobody" }))
}

async function sumsOfOne(db: Db, affiliate: number, now: number): Promise<{ currency: string; amount: number }[]> {
  const rows = await db.rows<{ currency: string; amount: number }>(
    "SELECT c.currency, SUM(c.amount) AS amount FROM commission c JOIN commission_open o ON o.commission_id = c.id AND o.left_out IS NULL WHERE c.affiliate_id = ? AND c.due_at <= ? GROUP BY c.currency",
    [affiliate, new Date(now)],
  )
  return rows.map((r) => ({ currency: r.currency, amount: r.amount }))
}
