// Bonuses: what whoever buys through an affiliate gets as well. An admission like any other, so that it ends with what it came
// with; chosen by the affiliate from what the school allows, or theirs and approved.
import * as v from "valibot"
import { refusals } from "@/core/words/refusals"
import { admit } from "../course/admission"
import type { Db } from "../db/pool"
import { origin } from "../origin"
import { id, type Made, ok, refusal, type Saved } from "../saved"
import type { Surroundings } from "../surroundings"

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
export async function bonusesFor(db: Db, affiliate: number): Promise<(Bonus & { readonly chosen: boolean })[]> {
  const rows = await db.rows<Bonus & { chosen: number }>(
    `SELECT ${columns}, (b.state = 'approved' OR EXISTS (SELECT 1 FROM bonus_chosen c WHERE c.bonus_id = b.id AND c.affiliate_id = ?)) AS chosen FROM bonus b
     JOIN affiliate_in i ON i.offer_id = b.offer_id AND i.affiliate_id = ? WHERE b.affiliate_id IS NULL OR b.affiliate_id = ? ORDER BY b.id LIMIT 200`,
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
export async function allowBonus(s: Surroundings, offer: number, typed: unknown): Promise<Made> {
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
    const made = await tx.write(
      "INSERT INTO bonus (offer_id, state, course_id, lesson_id, media_id, name, at) VALUES (?, 'allowed', ?, ?, ?, ?, ?)",
      [offer, b.course, b.lesson, b.media, named.name.slice(0, 120), at],
    )
    return { ok: true, id: made.id }
  })
}

/** What was given stays; nobody gets it from now on. */
export async function removeBonus(s: Surroundings, offer: number, bonus: number): Promise<void> {
  await s.db.write("DELETE FROM bonus WHERE id = ? AND offer_id = ?", [bonus, offer])
}

/** An affiliate chooses what their buyers get as well, or no longer. */
export async function chooseBonus(s: Surroundings, affiliate: number, bonus: number, on: boolean): Promise<Saved> {
  if (!on) {
    await s.db.write("DELETE FROM bonus_chosen WHERE affiliate_id = ? AND bonus_id = ?", [affiliate, bonus])
    return ok
  }
  const done = await s.db.write(
    `INSERT IGNORE INTO bonus_chosen (affiliate_id, bonus_id) SELECT ?, b.id FROM bonus b JOIN affiliate_in i ON i.offer_id = b.offer_id AND i.affiliate_id = ?
     WHERE b.id = ? AND b.state = 'allowed'`,
    [affiliate, affiliate, bonus],
  )
  return done.affected ? ok : { refused: refusals.gone.thing }
}

/** A file that an affiliate has just sent up, handed in for the school to approve. */
export async function handInBonus(s: Surroundings, affiliate: number, offer: number, media: number): Promise<Made> {
  const at = new Date(await s.clock.now())
  return s.db.transaction(async (tx): Promise<Made> => {
    const part = await tx.row("SELECT 1 FROM affiliate_in WHERE affiliate_id = ? AND offer_id = ?", [affiliate, offer])
    const file = await tx.row<{ name: string }>("SELECT name FROM media WHERE id = ? AND kind = 'file'", [media])
    if (!part || !file) return { refused: refusals.gone.thing }
    const waiting = await tx.rows("SELECT id FROM bonus WHERE affiliate_id = ? AND state = 'asked' LIMIT 5", [
      affiliate,
    ])
    if (waiting.length >= 5) return { refused: refusals.affiliate.tooManyBonuses }
    const made = await tx.write(
      "INSERT INTO bonus (offer_id, affiliate_id, state, media_id, name, at) VALUES (?, ?, 'asked', ?, ?, ?)",
      [offer, affiliate, media, file.name.slice(0, 120), at],
    )
    return { ok: true, id: made.id }
  })
}

export async function judgeBonus(s: Surroundings, bonus: number, approved: boolean): Promise<Saved> {
  const done = await s.db.write("UPDATE bonus SET state = ? WHERE id = ? AND affiliate_id IS NOT NULL", [
    approved ? "approved" : "refused",
    bonus,
  ])
  return done.affected ? ok : { refused: refusals.gone.thing }
}
