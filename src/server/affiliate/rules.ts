// What holds for every affiliate of the school.
import * as v from "valibot"
import type { AttributionRule } from "@/core/affiliate/attribution"
import { readBic, readIban } from "@/core/affiliate/iban"
import { ibanTroubles } from "@/core/affiliate/words"
import { mostMoney } from "@/core/offer/money"
import { refusals } from "@/core/words/refusals"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { ok, refusal, type Saved } from "../saved"

export type AffiliateRules = {
  readonly mention: AttributionRule
  /** Whether somebody is asked before a mention is remembered on their device. */
  readonly consent: "not-needed" | "asked"
  /** Days from a payment to when its commission is due. */
  readonly dueDays: number
  /** Less is not paid out yet; minor units of any currency. */
  readonly least: number
  /** Days of the month on which is paid. */
  readonly payDays: readonly number[]
  readonly withTax: boolean
  readonly holder: string
  readonly iban: string
  readonly bic: string
  readonly notePrefix: string
  readonly changes: number
}

export async function affiliateRules(db: Db): Promise<AffiliateRules> {
  const r = (await db.row<{
    mention_days: number
    which: "last" | "first"
    consent: "not-needed" | "asked"
    due_days: number
    least: number
    pay_days: string
    with_tax: number
    holder: string
    iban: string
    bic: string
    note_prefix: string
    changes: number
  }>("SELECT * FROM affiliate_rules WHERE id = 1"))!
  return {
    mention: { days: r.mention_days, which: r.which },
    consent: r.consent,
    dueDays: r.due_days,
    least: r.least,
    payDays: r.pay_days.split(",").map(Number),
    withTax: Boolean(r.with_tax),
    holder: r.holder,
    iban: r.iban,
    bic: r.bic,
    notePrefix: r.note_prefix,
    changes: r.changes,
  }
}

const whole = (least: number, most: number) =>
  v.pipe(
    v.number(refusals.affiliate.days(least, most)),
    v.integer(refusals.affiliate.days(least, most)),
    v.minValue(least, refusals.affiliate.days(least, most)),
    v.maxValue(most, refusals.affiliate.days(least, most)),
  )

const input = v.object({
  days: whole(1, 365),
  which: v.picklist(["last", "first"]),
  consent: v.picklist(["not-needed", "asked"]),
  dueDays: whole(0, 180),
  least: v.pipe(v.number(refusals.affiliate.amount), v.integer(), v.minValue(0), v.maxValue(mostMoney)),
  payDays: v.pipe(v.array(whole(1, 31)), v.minLength(1, refusals.affiliate.payDays), v.maxLength(6)),
  withTax: v.boolean(),
  holder: v.pipe(v.string(), v.trim(), v.maxLength(140, refusals.value.longest(140))),
  iban: v.pipe(v.string(), v.maxLength(80)),
  bic: v.pipe(v.string(), v.maxLength(30)),
  notePrefix: v.pipe(v.string(), v.trim(), v.regex(/^[A-Z0-9-]{1,12}$/, refusals.affiliate.prefix)),
})

export async function saveAffiliateRules(s: Context, typed: unknown): Promise<Saved> {
  const read = v.safeParse(input, typed)
  if (!read.success) return refusal(read.issues)
  const r = read.output
  const account = readIban(r.iban)
  if ("trouble" in account && account.trouble !== "empty")
    return { refused: ibanTroubles[account.trouble], field: "iban" }
  const bic = readBic(r.bic)
  if (bic === null) return { refused: refusals.affiliate.bic, field: "bic" }
  await s.db.write(
    `UPDATE affiliate_rules SET mention_days = ?, which = ?, consent = ?, due_days = ?, least = ?, pay_days = ?, with_tax = ?, holder = ?, iban = ?, bic = ?,
       note_prefix = ?, changes = changes + 1 WHERE id = 1`,
    [
      r.days,
      r.which,
      r.consent,
      r.dueDays,
      r.least,
      [...new Set(r.payDays)].sort((a, b) => a - b).join(","),
      r.withTax,
      r.holder,
      "iban" in account ? account.iban : "",
      bic,
      r.notePrefix,
    ],
  )
  return ok
}

/** One payout is made, undone or paid, or a line of one changed, at a time: to be called first in such a transaction. */
export const oneAtATime = (tx: Db) => tx.row("SELECT id FROM affiliate_rules WHERE id = 1 FOR UPDATE")

/** What visitors may see of an affiliate has changed: every front looks again. */
export const changed = (tx: Db) => tx.write("UPDATE affiliate_rules SET changes = changes + 1 WHERE id = 1")
