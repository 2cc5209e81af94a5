// What learners say of a course: asked for where it is done, shown once they agreed and the school chose it.
import * as v from "valibot"
import type { QuoteCard } from "@/core/page/quotes"
import { refusals } from "@/core/words/refusals"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import type { Row } from "../db/row"
import { type PictureRow, pictureColumns, pictureOf } from "../pictures"
import { refusal, type Saved } from "../saved"

/** One as the studio looks after it. */
export type QuoteRead = Pick<Row<"quote">, "id" | "person_id" | "name" | "words" | "media_id" | "consent" | "state"> & {
  readonly at: number
}

/** Those of a course, what is new first, then the latest. At most 500. */
export async function quotesOfCourse(db: Db, course: number): Promise<QuoteRead[]> {
  const rows = await db.rows<Row<"quote">>(
    "SELECT * FROM quote WHERE course_id = ? ORDER BY state = 'new' DESC, at DESC, id DESC LIMIT 500",
    [course],
  )
  return rows.map((q) => ({
    id: q.id,
    person_id: q.person_id,
    name: q.name,
    words: q.words,
    media_id: q.media_id,
    consent: q.consent,
    state: q.state,
    at: q.at.getTime(),
  }))
}

/** Those that are shown, by course, the latest first: twelve of each. */
export async function quotesShown(db: Db): Promise<Record<number, QuoteCard[]>> {
  const rows = await db.rows<PictureRow & { course: number; words: string; name: string }>(
    `SELECT q.course_id AS course, q.words, q.name, ${pictureColumns}
     FROM (SELECT *, ROW_NUMBER() OVER (PARTITION BY course_id ORDER BY at DESC, id DESC) AS n FROM quote WHERE state = 'shown') q
     LEFT JOIN media m ON m.id = q.media_id WHERE q.n <= 12 ORDER BY q.course_id, q.n`,
  )
  const found: Record<number, QuoteCard[]> = {}
  for (const r of rows) {
    found[r.course] ??= []
    found[r.course]!.push({ words: r.words, name: r.name, portrait: pictureOf(r) })
  }
  return found
}

const words = v.pipe(
  v.string(),
  v.trim(),
  v.nonEmpty(refusals.quote.words),
  v.maxLength(600, refusals.value.longest(600)),
)
const name = v.pipe(v.string(), v.trim(), v.maxLength(120, refusals.value.longest(120)))

const own = v.object({
  course: v.number(),
  words,
  name,
  agrees: v.literal(true, refusals.quote.consent),
  consent: v.string(),
})

/** A learner says something of a course, in place of what they said before; it is shown to nobody until the school has chosen it. */
export async function sayOfCourse(s: Context, person: number, typed: unknown): Promise<Saved> {
  const read = v.safeParse(own, typed)
  if (!read.success) return refusal(read.issues)
  const { course, words, name, consent } = read.output
  const at = new Date(await s.clock.now())
  await s.db.write(
    `INSERT INTO quote (course_id, person_id, name, words, consent, at) VALUES (?, ?, ?, ?, ?, ?)
     ON DUPLICATE KEY UPDATE name = VALUES(name), words = VALUES(words), consent = VALUES(consent), at = VALUES(at), state = 'new'`,
    [course, person, name, words, consent.slice(0, 600), at],
  )
  return { ok: true }
}

/** What somebody said of a course and may still change, or null. */
export async function ownQuote(
  db: Db,
  person: number,
  course: number,
): Promise<{ words: string; name: string } | null> {
  const row = await db.row<{ words: string; name: string }>(
    "SELECT words, name FROM quote WHERE person_id = ? AND course_id = ?",
    [person, course],
  )
  return row ?? null
}

/** They take it back: it is gone, and from every page with the next look. */
export async function takeQuoteBack(s: Context, person: number, course: number): Promise<void> {
  await s.db.write("DELETE FROM quote WHERE person_id = ? AND course_id = ?", [person, course])
}

const typedIn = v.object({
  course: v.number(),
  words,
  name,
  media: v.nullable(v.number()),
  consent: v.pipe(v.string(), v.trim(), v.nonEmpty(refusals.quote.how), v.maxLength(600, refusals.value.longest(600))),
})

/** One that was said elsewhere is typed in, with how the school knows that it may be shown. */
export async function addQuote(s: Context, typed: unknown): Promise<Saved> {
  const read = v.safeParse(typedIn, typed)
  if (!read.success) return refusal(read.issues)
  const q = read.output
  if (!(await s.db.row("SELECT 1 FROM course WHERE id = ?", [q.course]))) return { refused: refusals.gone.course }
  await s.db.insert("quote", {
    course_id: q.course,
    name: q.name,
    words: q.words,
    media_id: q.media,
    consent: q.consent,
    state: "shown",
    at: new Date(await s.clock.now()),
  })
  return { ok: true }
}

/** Shown on pages, or not. */
export async function chooseQuote(s: Context, quote: number, shown: boolean): Promise<void> {
  await s.db.write("UPDATE quote SET state = ? WHERE id = ?", [shown ? "shown" : "not-shown", quote])
}

/** A portrait beside it; null: none. */
export async function portrayQuote(s: Context, quote: number, media: number | null): Promise<Saved> {
  if (media !== null && !(await s.db.row("SELECT 1 FROM media WHERE id = ? AND kind = 'picture'", [media])))
    return { refused: refusals.school.logo }
  await s.db.write("UPDATE quote SET media_id = ? WHERE id = ?", [media, quote])
  return { ok: true }
}
