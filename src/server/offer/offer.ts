// Offers as they are stored: read into the core's value, written from the studio.

import * as v from "valibot"
import {
  type Gift,
  type GiftKind,
  giftAsTyped,
  giftSchema,
  keepGift,
  offerWithin,
  readGift,
  refsOfGift,
} from "@/core/offer/gift/list"
import { currencies, isCurrency } from "@/core/offer/money"
import type { Offer } from "@/core/offer/offer"
import type { TaxRule } from "@/core/offer/tax"
import { termsSchema } from "@/core/offer/terms"
import { refTo } from "@/core/reference"
import { refusals } from "@/core/words/refusals"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { type PictureRow, pictureColumns, pictureOf } from "../pictures"
import { writeReferences } from "../reference"
import { type Made, ok, type Saved } from "../saved"
import { schoolRow } from "../school-view"
import { type Before, reconcile } from "../shared"
import { soldIn } from "./sold-in"

type OfferRow = {
  id: number
  public_name: string
  internal_name: string
  promise: string
  picture_id: number | null
  currency: string
  pieces: number | null
  per_person: number | null
  from_at: Date | null
  until_at: Date | null
  hidden: number
  after_failure: "ends" | "stays"
  refund_days: number | null
} & PictureRow

type GiftRow = {
  offer_id: number
  kind: GiftKind
  course_id: number | null
  media_id: number | null
  part_id: number | null
  words: string
  course: string | null
  state: "draft" | "live" | null
  lessons: number
  media: string | null
  part: string | null
}

/** All offers that can still be had, by id; with what is within bundles. At most 2,000. */
export async function loadOffers(db: Db): Promise<Map<number, Offer>> {
  const rows = await db.rows<OfferRow>(
    `SELECT o.*, ${pictureColumns} FROM offer o LEFT JOIN media m ON m.id = o.picture_id WHERE o.removed_at IS NULL ORDER BY o.id LIMIT 2000`,
  )
  const gifts = await db.rows<GiftRow>(
    `SELECT g.offer_id, g.kind, g.course_id, g.media_id, g.part_id, g.words, c.title AS course, IF(c.state = 'draft', 'draft', 'live') AS state, (SELECT COUNT(*) FROM lesson x WHERE x.course_id = g.course_id AND x.state = 'live') AS lessons, m.name AS media, p.public_name AS part
     FROM offer_gift g LEFT JOIN course c ON c.id = g.course_id LEFT JOIN media m ON m.id = g.media_id LEFT JOIN offer p ON p.id = g.part_id ORDER BY g.position, g.id`,
  )
  const terms = await db.rows<{ id: number; offer_id: number; name: string; terms: string }>(
    "SELECT id, offer_id, name, terms FROM offer_terms ORDER BY position, id",
  )
  return new Map(
    rows.map((o): [number, Offer] => [
      o.id,
      {
        id: o.id,
        publicName: o.public_name,
        internalName: o.internal_name,
        promise: o.promise,
        pictureId: o.picture_id,
        picture: pictureOf(o),
        currency: isCurrency(o.currency) ? o.currency : "EUR",
        gifts: gifts.filter((g) => g.offer_id === o.id).map(giftOf),
        terms: terms
          .filter((t) => t.offer_id === o.id)
          .map((t) => ({ id: t.id, name: t.name, terms: v.parse(termsSchema, JSON.parse(t.terms)) })),
        pieces: o.pieces,
        perPerson: o.per_person,
        from: o.from_at?.getTime() ?? null,
        until: o.until_at?.getTime() ?? null,
        hidden: Boolean(o.hidden),
        afterFailure: o.after_failure,
        refundDays: o.refund_days,
      },
    ]),
  )
}

function giftOf(g: GiftRow): Gift {
  return readGift(g.kind, {
    course: g.course_id,
    media: g.media_id,
    part: g.part_id,
    words: g.words,
    title: g.course ?? g.media ?? g.part ?? "",
    state: g.state ?? "draft",
    lessons: g.lessons,
  })
}

/** Pieces gone of each limited offer: sold, or held while somebody pays. */
export async function piecesGone(db: Db): Promise<Map<number, number>> {
  // One statement, so that a piece that is just being paid for is seen once, as held or as sold.
  const rows = await db.rows<{ offer: number; n: number }>(
    `SELECT f.id AS offer, SUM(g.n) AS n FROM offer f JOIN (
       SELECT about AS offer, n FROM tally WHERE what = 'sold' UNION ALL SELECT about, n FROM tally_change WHERE what = 'sold'
       UNION ALL SELECT l.offer_id, 1 FROM orders o JOIN order_line l ON l.order_id = o.id WHERE o.state IN ('open', 'confirming')
     ) g ON g.offer = f.id WHERE f.pieces IS NOT NULL GROUP BY f.id`,
  )
  return new Map(rows.map((r) => [r.offer, r.n]))
}

export type SellingRules = {
  readonly currency: string
  readonly tax: TaxRule
  readonly zone: string
  readonly statement: string
}

export async function sellingRules(db: Db): Promise<SellingRules> {
  const row = await schoolRow(db)
  return {
    currency: row?.currency ?? "EUR",
    tax: { rate: row?.tax_rate ?? 0, included: Boolean(row?.tax_included ?? 1) },
    zone: row?.zone ?? "UTC",
    statement: row?.statement ?? "",
  }
}

export type OfferSaved =
  /** `terms`: the numbers of the offer's terms, in their order; `merged`: another window's changes came in. */
  | {
      readonly ok: true
      readonly id: number
      readonly terms: readonly number[]
      readonly revision: number
      readonly merged: boolean
    }
  | {
      readonly refused: string
      readonly field?: string
      readonly clash?: readonly string[]
      readonly revision?: number
    }

const id = v.pipe(v.number(), v.integer(), v.minValue(1))
const line = (most: number) =>
  v.pipe(
    v.string(),
    v.trim(),
    v.maxLength(most, refusals.value.longest(most)),
    v.check((t) => !/\p{Cc}/u.test(t), refusals.value.oneLine),
  )
const limit = v.nullable(
  v.pipe(
    v.number(),
    v.integer(refusals.value.wholeNumber),
    v.minValue(1, refusals.value.atLeastOne),
    v.maxValue(1_000_000),
  ),
)
const instant = v.nullable(v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(8.64e15)))

const offerInput = v.pipe(
  v.object({
    id: v.nullable(id),
    publicName: v.pipe(line(120), v.nonEmpty(refusals.offer.name)),
    internalName: line(120),
    promise: line(400),
    pictureId: v.nullable(id),
    currency: v.picklist(currencies, refusals.value.currency),
    gifts: v.pipe(v.array(giftSchema), v.maxLength(40, refusals.offer.fortyThings)),
    terms: v.pipe(
      v.array(v.object({ id: v.nullable(id), name: line(80), terms: termsSchema })),
      v.minLength(1, refusals.offer.terms),
      v.maxLength(8, refusals.offer.eightTerms),
    ),
    pieces: limit,
    perPerson: limit,
    from: instant,
    until: instant,
    hidden: v.boolean(),
    afterFailure: v.picklist(["ends", "stays"]),
    refundDays: v.optional(
      v.nullable(
        v.pipe(
          v.number(),
          v.integer(refusals.value.wholeDays),
          v.minValue(1, refusals.value.atLeastOne),
          v.maxValue(365, refusals.offer.refundDays(365)),
        ),
      ),
      null,
    ),
  }),
  v.forward(
    v.check((o) => o.from === null || o.until === null || o.from < o.until, refusals.value.endFirst),
    ["until"],
  ),
)

export type OfferInput = v.InferInput<typeof offerInput>

/** Writes an offer, new where its id is null. A bundle may not hold itself, by whatever way round. */
export async function saveOffer(s: Context, typed: unknown, before?: Before): Promise<OfferSaved> {
  const read = v.safeParse(offerInput, typed)
  if (!read.success) {
    const issue = read.issues[0]
    return { refused: issue.message, field: v.getDotPath(issue) ?? undefined }
  }
  const at = new Date(await s.clock.now())
  return s.db.transaction(async (tx): Promise<OfferSaved> => {
    let o = read.output
    let merged = false
    if (o.id !== null) {
      const there = await tx.row<{ revision: number }>(
        "SELECT revision FROM offer WHERE id = ? AND removed_at IS NULL FOR UPDATE",
        [o.id],
      )
      if (!there) return { refused: refusals.gone.offer }
      const stored = { revision: there.revision, value: typedOffer((await loadOffers(tx)).get(o.id)!) }
      const done = reconcile(o, stored, before)
      if ("clash" in done) return { ...done, refused: refusals.twoWindows.offer }
      merged = JSON.stringify(done.write) !== JSON.stringify(o)
      o = done.write
    }
    if (o.until !== null && o.until <= at.getTime() && o.until !== (await untilOf(tx, o.id)))
      return { refused: refusals.value.endOver, field: "until" }
    const columns = {
      public_name: o.publicName,
      internal_name: o.internalName,
      promise: o.promise,
      picture_id: o.pictureId,
      currency: o.currency,
      pieces: o.pieces,
      per_person: o.perPerson,
      from_at: o.from === null ? null : new Date(o.from),
      until_at: o.until === null ? null : new Date(o.until),
      hidden: o.hidden,
      after_failure: o.afterFailure,
      refund_days: o.refundDays,
      changed_at: at,
    }
    let offer = o.id
    if (offer === null) offer = (await tx.insert("offer", { ...columns, made_at: at })).id
    else {
      await tx.update("offer", offer, columns)
      await tx.write("UPDATE offer SET revision = revision + 1 WHERE id = ?", [offer])
    }
    const parts = o.gifts.flatMap((g) => offerWithin(g) ?? [])
    if (await holdsItself(tx, offer, parts)) return { refused: refusals.offer.inItself, field: "gifts" }
    await tx.write("DELETE FROM offer_gift WHERE offer_id = ?", [offer])
    await tx.insert(
      "offer_gift",
      o.gifts.map((g, position) => {
        const { course, media, part, words } = keepGift(g)
        return { offer_id: offer, position, kind: g.kind, course_id: course, media_id: media, part_id: part, words }
      }),
    )
    const kept = o.terms.flatMap((t) => (t.id === null ? [] : [t.id]))
    await tx.write("DELETE FROM offer_terms WHERE offer_id = ? AND id NOT IN (?)", [offer, [0, ...kept]])
    const terms: number[] = []
    for (const [i, t] of o.terms.entries()) {
      const json = JSON.stringify(t.terms)
      if (t.id !== null && (await changeTerms(tx, [i, t.name, json, t.id, offer]))) terms.push(t.id)
      else terms.push((await tx.insert("offer_terms", { offer_id: offer, position: i, name: t.name, terms: json })).id)
    }
    await referOffer(tx, offer, o)
    const now = await tx.row<{ revision: number }>("SELECT revision FROM offer WHERE id = ?", [offer])
    return { ok: true, id: offer, terms, revision: now!.revision, merged }
  })
}

/** Writes what an offer refers to. */
export async function referOffer(
  tx: Db,
  offer: number,
  o: Pick<v.InferOutput<typeof offerInput>, "pictureId" | "gifts">,
): Promise<void> {
  const refs = [...refTo("media", o.pictureId, "shows it"), ...o.gifts.flatMap(refsOfGift)]
  await writeReferences(
    tx,
    { offer },
    refs.map((ref) => ({ from: { offer }, ref })),
  )
}

async function untilOf(tx: Db, offer: number | null): Promise<number | null> {
  const row = await tx.row<{ until_at: Date | null }>("SELECT until_at FROM offer WHERE id = ?", [offer ?? 0])
  return row?.until_at?.getTime() ?? null
}

export async function offerRevision(db: Db, offer: number): Promise<number> {
  return (await db.row<{ revision: number }>("SELECT revision FROM offer WHERE id = ?", [offer]))?.revision ?? 1
}

/** An offer as it is typed. */
export function typedOffer(o: Offer): v.InferOutput<typeof offerInput> {
  return {
    id: o.id,
    publicName: o.publicName,
    internalName: o.internalName,
    promise: o.promise,
    pictureId: o.pictureId,
    currency: o.currency,
    gifts: o.gifts.map(giftAsTyped),
    terms: o.terms.map((t) => ({ id: t.id, name: t.name, terms: t.terms })),
    pieces: o.pieces,
    perPerson: o.perPerson,
    from: o.from,
    until: o.until,
    hidden: o.hidden,
    afterFailure: o.afterFailure,
    refundDays: o.refundDays,
  }
}

async function changeTerms(tx: Db, values: unknown[]): Promise<number> {
  await tx.write("UPDATE offer_terms SET position = ?, name = ?, terms = ? WHERE id = ? AND offer_id = ?", values)
  return (await tx.rows("SELECT 1 FROM offer_terms WHERE id = ? AND offer_id = ?", values.slice(3))).length
}

async function holdsItself(tx: Db, offer: number, parts: readonly number[]): Promise<boolean> {
  const seen = new Set<number>()
  let next = [...parts]
  while (next.length) {
    if (next.includes(offer)) return true
    for (const n of next) seen.add(n)
    const inner = await tx.rows<{ part_id: number }>(
      "SELECT part_id FROM offer_gift WHERE part_id IS NOT NULL AND offer_id IN (?)",
      [next],
    )
    next = inner.map((r) => r.part_id).filter((n) => !seen.has(n))
  }
  return false
}

/** Takes an offer off: nobody can have it any more, and what was sold of it stays. Refused while a funnel sells it. */
export async function removeOffer(s: Context, offer: number): Promise<Made> {
  const used = (await soldIn(s.db)).find((u) => u.offer === offer)
  if (used)
    return {
      refused: refusals.offer.usedIn(used.name, used.use),
    }
  const part = await s.db.row<{ public_name: string }>(
    "SELECT o.public_name FROM offer_gift g JOIN offer o ON o.id = g.offer_id AND o.removed_at IS NULL WHERE g.part_id = ? LIMIT 1",
    [offer],
  )
  if (part) return { refused: refusals.offer.partOf(part.public_name) }
  const at = new Date(await s.clock.now())
  await s.db.update("offer", offer, { removed_at: at, changed_at: at })
  return { ok: true, id: offer }
}

/** Moves the beginning or the end of an offer, and leaves the rest of it. @param at ms */
export async function moveOffer(s: Context, offer: number, which: "from" | "until", at: number): Promise<Saved> {
  const there = (await loadOffers(s.db)).get(offer)
  if (!there) return { refused: refusals.gone.offer }
  const done = await saveOffer(s, { ...typedOffer(there), [which]: at })
  return "ok" in done ? ok : { refused: done.refused }
}
