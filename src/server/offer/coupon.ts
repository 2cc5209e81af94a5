// Coupons: written in the studio, typed or linked at a checkout, counted while somebody pays, and a report of what each
// place where they were given out has sold.
import * as v from "valibot"
import { type Coupon, couponKey } from "@/core/offer/coupon"
import { currencies, mostMoney } from "@/core/offer/money"
import { connectionOf } from "@/core/person/connection"
import { mayStillTry, mayTry } from "../attempt"
import { type Db, number } from "../db/pool"
import type { Surroundings } from "../surroundings"
import { countsOf } from "../tally"
import type { Saved } from "./offer"

type CouponRow = {
  id: number
  code: string
  given_out: string
  kind: "percent" | "amount"
  value: number
  currency: string | null
  on_charges: "first" | "all"
  from_at: Date | null
  until_at: Date | null
  uses_in_all: number | null
  uses_per_person: number | null
}

async function couponOf(db: Db, row: CouponRow): Promise<Coupon> {
  const offers = await db.rows<{ offer_id: number }>("SELECT offer_id FROM coupon_offer WHERE coupon_id = ?", [row.id])
  return {
    id: row.id,
    code: row.code,
    discount: { kind: row.kind, value: row.value, on: row.on_charges },
    currency: row.currency,
    offers: offers.length ? offers.map((o) => o.offer_id) : null,
    from: row.from_at?.getTime() ?? null,
    until: row.until_at?.getTime() ?? null,
    usesInAll: row.uses_in_all,
    usesPerPerson: row.uses_per_person,
  }
}

/** The coupon of a typed code; locked where it is about to be used, so that the last one is used by one only. */
export async function couponByCode(db: Db, typed: string, lock = false): Promise<Coupon | undefined> {
  const key = couponKey(typed)
  if (!key) return undefined
  const row = await db.row<CouponRow>(`SELECT * FROM coupon WHERE code_key = ?${lock ? " FOR UPDATE" : ""}`, [key])
  return row && couponOf(db, row)
}

/** How often it was used, or is being used by somebody who pays just now; by this address, too. */
export async function couponUses(
  db: Db,
  coupon: number,
  canonical: string,
): Promise<{ used: number; usedByThem: number }> {
  const row = await db.row<{ used: string; them: string | null }>(
    "SELECT COUNT(*) AS used, SUM(canonical = ?) AS them FROM orders WHERE coupon_id = ? AND state IN ('open', 'confirming', 'paid', 'refunded')",
    [canonical, coupon],
  )
  return { used: number(row?.used), usedByThem: number(row?.them) }
}

/** Codes that aren't known, by one visitor and from one connection, in ten minutes. */
const guesses = { visitor: { most: 10, windowMs: 600_000 }, ip: { most: 40, windowMs: 600_000 } }
type Guesser = { readonly ip: string; readonly visitor: Buffer }
const buckets = (who: Guesser) =>
  [
    [`code:${who.visitor.toString("base64url")}`, guesses.visitor],
    [`code-ip:${connectionOf(who.ip)}`, guesses.ip],
  ] as const

/** Whether somebody may have another code looked up: whoever got too many wrong may not for a while. */
export async function mayGuess(db: Db, who: Guesser): Promise<boolean> {
  for (const [bucket, limit] of buckets(who)) if (!(await mayStillTry(db, bucket, limit))) return false
  return true
}

/** A code that isn't known was tried. */
export async function guessed(db: Db, who: Guesser): Promise<void> {
  for (const [bucket, limit] of buckets(who)) await mayTry(db, bucket, limit)
}

const couponInput = v.pipe(
  v.object({
    code: v.pipe(
      v.string(),
      v.trim(),
      v.maxLength(40, "Keep it to 40 characters."),
      v.check((c) => couponKey(c).length >= 3, "At least three letters or digits."),
    ),
    givenOut: v.pipe(
      v.string(),
      v.trim(),
      v.nonEmpty("Say where it is given out: that is how you learn which place sells."),
      v.maxLength(120, "Keep it to 120 characters."),
    ),
    kind: v.picklist(["percent", "amount"]),
    value: v.pipe(v.number("How much?"), v.integer(), v.minValue(1, "More than nothing."), v.maxValue(mostMoney)),
    currency: v.nullable(v.picklist(currencies)),
    on: v.picklist(["first", "all"]),
    offers: v.pipe(v.array(v.pipe(v.number(), v.integer(), v.minValue(1))), v.maxLength(200)),
    from: v.nullable(v.pipe(v.number(), v.integer())),
    until: v.nullable(v.pipe(v.number(), v.integer())),
    usesInAll: v.nullable(v.pipe(v.number(), v.integer(), v.minValue(1, "At least one."))),
    usesPerPerson: v.nullable(v.pipe(v.number(), v.integer(), v.minValue(1, "At least one."))),
  }),
  v.forward(
    v.check((c) => c.kind !== "percent" || c.value <= 10_000, "At most 100 %."),
    ["value"],
  ),
  v.forward(
    v.check((c) => c.kind !== "amount" || c.currency !== null, "An amount needs its currency."),
    ["currency"],
  ),
)

export async function makeCoupon(s: Surroundings, typed: unknown): Promise<Saved> {
  const read = v.safeParse(couponInput, typed)
  if (!read.success) {
    const issue = read.issues[0]
    return { refused: issue.message, field: v.getDotPath(issue) ?? undefined }
  }
  const c = read.output
  const at = new Date(await s.clock.now())
  return s.db.transaction(async (tx): Promise<Saved> => {
    const made = await tx.write(
      "INSERT IGNORE INTO coupon (code, code_key, given_out, kind, value, currency, on_charges, from_at, until_at, uses_in_all, uses_per_person, made_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
      [
        c.code,
        couponKey(c.code),
        c.givenOut,
        c.kind,
        c.value,
        c.kind === "amount" ? c.currency : null,
        c.on,
        c.from === null ? null : new Date(c.from),
        c.until === null ? null : new Date(c.until),
        c.usesInAll,
        c.usesPerPerson,
        at,
      ],
    )
    if (!made.affected) return { refused: "This code is there already.", field: "code" }
    if (c.offers.length)
      await tx.write("INSERT INTO coupon_offer (coupon_id, offer_id) VALUES ?", [c.offers.map((o) => [made.id, o])])
    return { ok: true, id: made.id }
  })
}

/** Ends a coupon now; what was bought with it stays. */
export async function endCoupon(s: Surroundings, coupon: number): Promise<void> {
  const at = new Date(await s.clock.now())
  await s.db.write("UPDATE coupon SET until_at = ? WHERE id = ? AND (until_at IS NULL OR until_at > ?)", [
    at,
    coupon,
    at,
  ])
}

export type CouponReport = Coupon & {
  readonly givenOut: string
  readonly sold: number
  /** Paid on the first day by those who used it, by currency. */
  readonly money: readonly { readonly currency: string; readonly gross: number }[]
}

/** Every coupon with where it was given out and what it sold, newest first; at most 500. */
export async function couponReport(db: Db): Promise<CouponReport[]> {
  const rows = await db.rows<CouponRow>("SELECT * FROM coupon ORDER BY id DESC LIMIT 500")
  const sold = await countsOf(db, "coupon")
  return Promise.all(
    rows.map(async (r) => {
      const of = sold.filter((x) => x.about === r.id && x.n !== 0)
      return {
        ...(await couponOf(db, r)),
        givenOut: r.given_out,
        sold: of.reduce((sum, x) => sum + x.n, 0),
        money: of.map((x) => ({ currency: x.part, gross: x.money })),
      }
    }),
  )
}
