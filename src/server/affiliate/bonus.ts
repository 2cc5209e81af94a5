// Bonuses: what whoever buys through an affiliate gets as well. An admission like any other, so that it ends with what it came
// with; chosen by the affiliate from what the school allows, or theirs and approved.
import * as v from "valibot"
import { refusals } from "@/core/words/refusals"
import { mayTry } from "../attempt"
import type { Context } from "../context"
import { admit } from "../course/admission"
import type { Db } from "../db/pool"
import { removeMedia, type StoredMedia, storeMedia } from "../media/store"
import { origin } from "../origin"
import { id, type Made, ok, refusal, type Saved } from "../saved"

export type Bonus = {
  readonly id: number
  readonly offer: number
  readonly affiliate: number | null
  readonly state: "allowed" | "asked" | "approved" | "refused"
  readonly course: number | null
  readonly lesson: number | null
  readonly media: number | null
  readonly name: string
}

const columns =
  "b.id, b.offer_id AS offer, b.affiliate_id AS affiliate, b.state, b.course_id AS course, b.lesson_id AS lesson, b.media_id AS media, b.name"

/** What a programme allows, and what its affiliates have handed in. */
export const bonusesOf = (db: Db, offer: number) =>
  db.rows<Bonus>(`SELECT ${columns} FROM bonus b WHERE b.offer_id = ? ORDER BY b.id LIMIT 500`, [offer])

/** What an affiliate may choose from, with what they have chosen; their own that wait or were refused stand among them. */
export async function bonusesFor(
  db: Db,
  affiliate: number,
): Promise<(Bonus & { readonly chosen: boolean; readonly stored: string | null })[]> {
  const rows = await db.rows<Bonus & { chosen: number; stored: string | null }>(
    `SELECT ${columns}, m.stored, (b.state = 'approved' OR EXISTS (SELECT 1 FROM bonus_chosen c WHERE c.bonus_id = b.id AND c.affiliate_id = ?)) AS chosen FROM bonus b
     JOIN affiliate_part i ON i.offer_id = b.offer_id AND i.affiliate_id = ? LEFT JOIN media m ON m.id = b.media_id WHERE b.affiliate_id IS NULL OR b.affiliate_id = ? ORDER BY b.id LIMIT 200`,
    [affiliate, affiliate, affiliate],
  )
  return rows.map((r) => ({ ...r, chosen: Boolean(r.chosen) }))
}

/** Whoever bought gets what comes with it through whom they bought. In the transaction of the sale. */
export async function giveBonuses(
  tx: Db,
  b: { readonly story: number; readonly order: number; readonly person: number; readonly at: number },
): Promise<void> {
  const rows = await tx.rows<Bonus & { line: number }>(
    `SELECT ${columns}, l.id AS line FROM sale s JOIN order_line l ON l.order_id = ? JOIN bonus b ON b.offer_id = l.offer_id
     WHERE s.order_id = ? AND ((b.state = 'approved' AND b.affiliate_id = s.affiliate_id)
       OR (b.state = 'allowed' AND EXISTS (SELECT 1 FROM bonus_chosen c WHERE c.bonus_id = b.id AND c.affiliate_id = s.affiliate_id)))`,
    [b.order, b.story],
  )
  for (const r of rows) {
    const opens =
      r.course !== null ? { course: r.course } : r.media !== null ? { media: r.media } : await lessonOf(tx, r.lesson!)
    if (opens)
      await admit(tx, {
        person: b.person,
        opens,
        origin: origin.line(r.line),
        story: b.story,
        at: b.at,
        title: `“${r.name}”`,
      })
  }
}

/** A lesson by itself. */
async function lessonOf(tx: Db, lesson: number): Promise<{ course: number; lesson: number } | undefined> {
  const row = await tx.row<{ course_id: number }>("SELECT course_id FROM lesson WHERE id = ?", [lesson])
  return row && { course: row.course_id, lesson }
}

const allowing = v.pipe(
  v.object({
    course: v.nullable(id),
    lesson: v.nullable(id),
    media: v.nullable(id),
  }),
  v.check((b) => [b.course, b.lesson, b.media].filter((x) => x !== null).length === 1, refusals.affiliate.bonus),
)

/** The school allows something as a bonus. */
export async function allowBonus(s: Context, offer: number, typed: unknown): Promise<Made> {
  const read = v.safeParse(allowing, typed)
  if (!read.success) return refusal(read.issues)
  const b = read.output
  const at = new Date(await s.clock.now())
  return s.db.transaction(async (tx): Promise<Made> => {
    if (!(await tx.row("SELECT 1 FROM programme WHERE offer_id = ?", [offer]))) return { refused: refusals.gone.thing }
    const named = await tx.row<{ name: string }>(
      "SELECT title AS name FROM course WHERE id = ? UNION ALL SELECT title FROM lesson WHERE id = ? UNION ALL SELECT name FROM media WHERE id = ?",
      [b.course ?? 0, b.lesson ?? 0, b.media ?? 0],
    )
    if (!named) return { refused: refusals.gone.thing }
    const made = await tx.insert("bonus", {
      offer_id: offer,
      state: "allowed",
      course_id: b.course,
      lesson_id: b.lesson,
      media_id: b.media,
      name: named.name.slice(0, 120),
      at,
    })
    return { ok: true, id: made.id }
  })
}

/** What was given stays; nobody gets it from now on. */
export async function removeBonus(s: Context, offer: number, bonus: number): Promise<void> {
  await s.db.write("DELETE FROM bonus WHERE id = ? AND offer_id = ?", [bonus, offer])
}

/** An affiliate chooses what their buyers get as well, or no longer. */
export async function chooseBonus(s: Context, affiliate: number, bonus: number, on: boolean): Promise<Saved> {
  if (!on) {
    await s.db.write("DELETE FROM bonus_chosen WHERE affiliate_id = ? AND bonus_id = ?", [affiliate, bonus])
    return ok
  }
  const done = await s.db.write(
    `INSERT IGNORE INTO bonus_chosen (affiliate_id, bonus_id) SELECT ?, b.id FROM bonus b JOIN affiliate_part i ON i.offer_id = b.offer_id AND i.affiliate_id = ?
     WHERE b.id = ? AND b.state = 'allowed'`,
    [affiliate, affiliate, bonus],
  )
  return done.affected ? ok : { refused: refusals.gone.thing }
}

const mostWaiting = 5

/** Why an affiliate may not hand in a file for a programme just now; null where they may. */
async function bonusTrouble(db: Db, affiliate: number, offer: number): Promise<string | null> {
  const part = await db.row(
    "SELECT 1 FROM affiliate_part i JOIN affiliate a ON a.id = i.affiliate_id AND a.state = 'active' WHERE i.affiliate_id = ? AND i.offer_id = ?",
    [affiliate, offer],
  )
  if (!part) return refusals.gone.thing
  const waiting = await db.rows("SELECT id FROM bonus WHERE affiliate_id = ? AND state = 'asked' LIMIT ?", [
    affiliate,
    mostWaiting,
  ])
  return waiting.length < mostWaiting ? null : refusals.affiliate.tooManyBonuses
}

/** Keeps a file that an affiliate hands in for the school to approve; what may not be handed in isn't kept. */
export async function handInBonus(
  s: Context,
  affiliate: number,
  offer: number,
  name: string,
  body: Buffer | AsyncIterable<Uint8Array>,
): Promise<StoredMedia> {
  const trouble = await bonusTrouble(s.db, affiliate, offer)
  if (trouble) return { refused: trouble }
  if (!(await mayTry(s.db, `bonus:${affiliate}`, { most: 20, windowMs: 3_600_000 })))
    return { refused: refusals.account.tooMany }
  const stored = await storeMedia(s, "handed-in", name, body)
  if ("refused" in stored) return stored
  const at = new Date(await s.clock.now())
  const refused = await s.db.transaction(async (tx) => {
    await tx.row("SELECT id FROM affiliate WHERE id = ? FOR UPDATE", [affiliate])
    const meanwhile = await bonusTrouble(tx, affiliate, offer)
    if (meanwhile) return meanwhile
    await tx.write(
      "INSERT INTO bonus (offer_id, affiliate_id, state, media_id, name, at) SELECT ?, ?, 'asked', id, LEFT(name, 120), ? FROM media WHERE id = ?",
      [offer, affiliate, at, stored.id],
    )
    return null
  })
  if (refused === null) return stored
  await removeMedia(s, stored)
  return { refused }
}

/** The school approves what was handed in, or not: approved, it is a file of the school's like any other. */
export async function judgeBonus(s: Context, bonus: number, approved: boolean): Promise<Saved> {
  return s.db.transaction(async (tx): Promise<Saved> => {
    const b = await tx.row<{ media_id: number }>(
      "SELECT media_id FROM bonus WHERE id = ? AND affiliate_id IS NOT NULL FOR UPDATE",
      [bonus],
    )
    if (!b) return { refused: refusals.gone.thing }
    await tx.update("bonus", bonus, { state: approved ? "approved" : "refused" })
    if (approved) await tx.update("media", b.media_id, { kind: "file" })
    return ok
  })
}
