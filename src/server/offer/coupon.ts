// Coupons: written in the studio, typed or linked at a checkout, counted while somebody pays, and a report of what each
// place where they were given out has sold.

import * as v from "valibot"
import { type Coupon, type CouponUse, couponKey } from "@/core/offer/coupon"
import { currencies, mostMoney } from "@/core/offer/money"
import { mailboxOf } from "@/core/person/address"
import { connectionOf } from "@/core/person/connection"
import { refusals } from "@/core/words/refusals"
import { mayStillTry, mayTry } from "../attempt"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { type Made, ok, type Refused, type Saved } from "../saved"
import { countsOf } from "../tally"

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
  for_seats: number
  for_affiliate: string | null
}

const readCoupon = `SELECT k.*, EXISTS (SELECT 1 FROM webinar w WHERE w.coupon_id = k.id) AS for_seats,
  (SELECT a.code FROM affiliate a WHERE a.id = k.affiliate_id) AS for_affiliate FROM coupon k`

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
    forSeats: Boolean(row.for_seats),
  }
}

/** The coupon of a typed code; locked where it is about to be used, so that the last one is used by one only. */
export async function couponByCode(db: Db, typed: string, lock = false): Promise<Coupon | undefined> {
  const key = couponKey(typed)
  if (!key) return undefined
  const row = await db.row<CouponRow>(`${readCoupon} WHERE k.code_key = ?${lock ? " FOR UPDATE" : ""}`, [key])
  return row && couponOf(db, row)
}

/** Until when a seat gives a coupon, as it was told; null: it doesn't. */
export async function seatGives(db: Db, seat: number, coupon: number): Promise<number | null> {
  const row = await db.row<{ until: Date | null }>(
    "SELECT r.deal_until AS until FROM registration r JOIN webinar w ON w.id = r.webinar_id WHERE r.id = ? AND w.coupon_id = ? AND r.state = 'registered'",
    [seat, coupon],
  )
  return row?.until?.getTime() ?? null
}

/** By what somebody's share is counted: their mailbox, or, where they have proved nothing, the device in their hand. */
export type Taker =
  | { readonly mailbox: string; readonly visitor?: undefined }
  | { readonly visitor: Buffer; readonly mailbox?: undefined }

export const takerOf = (canonical: string): Taker => ({ mailbox: mailboxOf(canonical) })

/** How often it was used, or is being used by somebody who pays just now; by this taker, too. */
export async function couponUses(db: Db, coupon: number, by: Taker): Promise<CouponUse> {
  const row = await db.row<{ used: number; them: number | null }>(
    "SELECT COUNT(*) AS used, SUM(mailbox = ? OR visitor = ?) AS them FROM orders WHERE coupon_id = ? AND state IN ('open', 'confirming', 'paid', 'refunded')",
    [by.mailbox ?? null, by.visitor ?? null, coupon],
  )
  return { used: row?.used ?? 0, usedByThem: row?.them ?? 0 }
}

/** Whether a taker has used the coupon as often as one may. */
export async function usedByThem(db: Db, coupon: Coupon | null, by: Taker): Promise<boolean> {
  if (coupon === null || coupon.usesPerPerson === null) return false
  return (await couponUses(db, coupon.id, by)).usedByThem >= coupon.usesPerPerson
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

const uses = v.pipe(
  v.number(refusals.coupon.limit),
  v.integer(refusals.coupon.limit),
  v.minValue(1, refusals.coupon.limitLeast),
  v.maxValue(1_000_000, refusals.coupon.limitMost),
)

const couponInput = v.pipe(
  v.object({
    code: v.pipe(
      v.string(),
      v.trim(),
      v.maxLength(40, refusals.value.longest(40)),
      v.check((c) => couponKey(c).length >= 3, refusals.coupon.code),
    ),
    givenOut: v.pipe(
      v.string(),
      v.trim(),
      v.nonEmpty(refusals.coupon.place),
      v.maxLength(120, refusals.value.longest(120)),
    ),
    kind: v.picklist(["percent", "amount"]),
    value: v.pipe(
      v.number(refusals.coupon.howMuch),
      v.integer(refusals.value.twoDigits),
      v.minValue(1, refusals.value.moreThanNothing),
      v.maxValue(mostMoney, refusals.coupon.tooMuch),
    ),
    currency: v.nullable(v.picklist(currencies)),
    on: v.picklist(["first", "all"]),
    offers: v.pipe(v.array(v.pipe(v.number(), v.integer(), v.minValue(1))), v.maxLength(200)),
    from: v.nullable(v.pipe(v.number(), v.integer())),
    until: v.nullable(v.pipe(v.number(), v.integer())),
    usesInAll: v.nullable(uses),
    usesPerPerson: v.nullable(uses),
    /** The code of the affiliate for whom it counts; empty: for nobody. */
    affiliate: v.optional(v.pipe(v.string(), v.trim(), v.toLowerCase(), v.maxLength(40)), ""),
  }),
  v.forward(
    v.check((c) => c.kind !== "percent" || c.value <= 10_000, refusals.value.wholePercent),
    ["value"],
  ),
  v.forward(
    v.check((c) => c.kind !== "amount" || c.currency !== null, refusals.coupon.amountCurrency),
    ["currency"],
  ),
)

type CouponInput = v.InferOutput<typeof couponInput>

function readInput(typed: unknown, now: number, before: number | null): CouponInput | Refused {
  const read = v.safeParse(couponInput, typed)
  if (!read.success) {
    const issue = read.issues[0]
    return { refused: issue.message, field: v.getDotPath(issue) ?? undefined }
  }
  const c = read.output
  if (c.until !== null && c.until <= now && c.until !== before)
    return { refused: refusals.value.endOver, field: "until" }
  if (c.from !== null && c.until !== null && c.from >= c.until)
    return { refused: refusals.value.endFirst, field: "until" }
  return c
}

/** The affiliate whose code was typed; null for none. */
async function affiliateIn(tx: Db, c: CouponInput): Promise<number | null | Refused> {
  if (!c.affiliate) return null
  const row = await tx.row<{ id: number }>("SELECT id FROM affiliate WHERE code = ?", [c.affiliate])
  return row?.id ?? { refused: refusals.affiliate.noSuchCode, field: "affiliate" }
}

const columnsOf = (c: CouponInput, affiliate: number | null) => ({
  affiliate_id: affiliate,
  code: c.code,
  code_key: couponKey(c.code),
  given_out: c.givenOut,
  kind: c.kind,
  value: c.value,
  currency: c.kind === "amount" ? c.currency : null,
  on_charges: c.on,
  from_at: c.from === null ? null : new Date(c.from),
  until_at: c.until === null ? null : new Date(c.until),
  uses_in_all: c.usesInAll,
  uses_per_person: c.usesPerPerson,
})

/** A code whose coupon is over is free again: the old one keeps its orders and gives up the key. */
async function freeCode(tx: Db, code: string, except: number, at: Date): Promise<boolean> {
  const other = await tx.row<{ id: number; until_at: Date | null }>(
    "SELECT id, until_at FROM coupon WHERE code_key = ? AND id <> ? FOR UPDATE",
    [couponKey(code), except],
  )
  if (!other) return true
  if (other.until_at === null || other.until_at > at) return false
  await tx.write("UPDATE coupon SET code_key = CONCAT('#', id) WHERE id = ?", [other.id])
  return true
}

async function writeOffers(tx: Db, coupon: number, offers: readonly number[]): Promise<void> {
  await tx.write("DELETE FROM coupon_offer WHERE coupon_id = ?", [coupon])
  await tx.insert(
    "coupon_offer",
    offers.map((o) => ({ coupon_id: coupon, offer_id: o })),
  )
}

const taken: Refused = { refused: refusals.coupon.there, field: "code" }

export async function makeCoupon(s: Context, typed: unknown): Promise<Made> {
  const now = await s.clock.now()
  const at = new Date(now)
  const c = readInput(typed, now, null)
  if ("refused" in c) return c
  return s.db.transaction(async (tx): Promise<Made> => {
    const affiliate = await affiliateIn(tx, c)
    if (typeof affiliate === "object" && affiliate) return affiliate
    if (!(await freeCode(tx, c.code, 0, at))) return taken
    const made = await tx.insert("coupon", { ...columnsOf(c, affiliate), made_at: at }, "ignore")
    if (!made.affected) return taken
    await writeOffers(tx, made.id, c.offers)
    return { ok: true, id: made.id }
  })
}

/** Changes a coupon for whoever uses it from now on; orders keep what they were agreed with. */
export async function changeCoupon(s: Context, coupon: number, typed: unknown): Promise<Made> {
  const now = await s.clock.now()
  return s.db.transaction(async (tx): Promise<Made> => {
    const before = await tx.row<{ until_at: Date | null }>("SELECT until_at FROM coupon WHERE id = ? FOR UPDATE", [
      coupon,
    ])
    if (!before) return { refused: refusals.gone.coupon }
    const c = readInput(typed, now, before.until_at?.getTime() ?? null)
    if ("refused" in c) return c
    const affiliate = await affiliateIn(tx, c)
    if (typeof affiliate === "object" && affiliate) return affiliate
    if (!(await freeCode(tx, c.code, coupon, new Date(now)))) return taken
    await tx.update("coupon", coupon, columnsOf(c, affiliate))
    await writeOffers(tx, coupon, c.offers)
    return { ok: true, id: coupon }
  })
}

/** Ends a coupon now; what was bought with it stays. */
export async function endCoupon(s: Context, coupon: number): Promise<void> {
  const at = new Date(await s.clock.now())
  await s.db.write("UPDATE coupon SET until_at = ? WHERE id = ? AND (until_at IS NULL OR until_at > ?)", [
    at,
    coupon,
    at,
  ])
}

export type CouponReport = Coupon & {
  readonly givenOut: string
  /** The code of the affiliate for whom it counts; empty: for nobody. */
  readonly affiliate: string
  readonly sold: number
  /** Paid on the first day by those who used it, by currency. */
  readonly money: readonly { readonly currency: string; readonly gross: number }[]
}

/** Every coupon with where it was given out and what it sold, newest first; at most 500. */
export async function couponReport(db: Db): Promise<CouponReport[]> {
  const rows = await db.rows<CouponRow>(`${readCoupon} ORDER BY k.id DESC LIMIT 500`)
  const sold = await countsOf(db, "coupon")
  return Promise.all(
    rows.map(async (r) => {
      const of = sold.filter((x) => x.about === r.id && x.n !== 0)
      return {
        ...(await couponOf(db, r)),
        givenOut: r.given_out,
        affiliate: r.for_affiliate ?? "",
        sold: of.reduce((sum, x) => sum + x.n, 0),
        money: of.map((x) => ({ currency: x.part, gross: x.money })),
      }
    }),
  )
}

/** Moves the beginning or the end of a coupon, and leaves the rest of it. @param at ms */
export async function moveCoupon(s: Context, id: number, which: "from" | "until", at: number): Promise<Saved> {
  const row = await s.db.row<CouponRow>(`${readCoupon} WHERE k.id = ?`, [id])
  if (!row) return { refused: refusals.gone.coupon }
  const { discount, offers, ...c } = await couponOf(s.db, row)
  const done = await changeCoupon(s, id, {
    ...c,
    ...discount,
    givenOut: row.given_out,
    affiliate: row.for_affiliate ?? "",
    offers: offers ?? [],
    [which]: at,
  })
  return "ok" in done ? ok : { refused: done.refused }
}
