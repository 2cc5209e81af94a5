// What learners hand in, and what the teacher answers: accepted, or again.

import * as v from "valibot"
import { allBlocks } from "@/core/page/document"
import { lessonPage } from "@/core/page/lesson"
import { refusals } from "@/core/words/refusals"
import { mayTry } from "../attempt"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import type { Row } from "../db/row"
import { happen } from "../happen"
import { removeMedia, type StoredMedia, storeMedia } from "../media/store"
import type { Learner } from "../person/session"
import { queueWayIn } from "../person/way-in"
import { refusal, type Saved } from "../saved"
import type { LessonRow } from "./course"
import { setDone } from "./done"
import { myCourse, openForLearner } from "./learn"

export type HandIn = {
  readonly block: string
  readonly body: string
  /** A file that came with it. */
  readonly file: { readonly name: string; readonly stored: string } | null
  readonly state: "waiting" | "accepted" | "again"
  readonly answer: string
}

/** The assignments of a lesson, by their block, and whether each takes a file. */
const assignmentsOf = (row: LessonRow): { readonly id: string; readonly file: boolean }[] =>
  [...allBlocks(lessonPage(row).blocks)].flatMap((b) => ("asks" in b ? [{ id: b.id, file: b.file }] : []))

type WithFile<T> = Omit<T, "file"> & { file_name: string | null; file_stored: string | null }

const withFile = <T extends { file: unknown }>({ file_name, file_stored, ...row }: WithFile<T>): T =>
  ({ ...row, file: file_name && file_stored ? { name: file_name, stored: file_stored } : null }) as unknown as T

/** What a learner has handed in for a lesson. */
export async function handInsOf(db: Db, person: number, lesson: number): Promise<HandIn[]> {
  const rows = await db.rows<WithFile<HandIn>>(
    "SELECT h.block, h.body, h.state, h.answer, m.name AS file_name, m.stored AS file_stored FROM hand_in h LEFT JOIN media m ON m.id = h.media_id WHERE h.person_id = ? AND h.lesson_id = ?",
    [person, lesson],
  )
  return rows.map(withFile<HandIn>)
}

const input = v.object({
  body: v.pipe(v.string(), v.trim(), v.maxLength(20_000, refusals.value.longest(20_000))),
  /** A file that was sent up before; null: none. */
  file: v.nullable(v.pipe(v.number(), v.integer(), v.minValue(1))),
})

export type AtAssignment = { readonly slug: string; readonly lesson: number; readonly block: string }

/** The lesson of an assignment that somebody may hand in to; undefined where they may not. */
async function mayHandIn(s: Context, who: Learner, at: AtAssignment) {
  const lesson = (await myCourse(s, who, at.slug))?.lessons.find((l) => l.id === at.lesson)
  const row = lesson?.may.open ? await openForLearner(s.db, at.lesson) : undefined
  const assignment = row && assignmentsOf(row).find((a) => a.id === at.block)
  return lesson && assignment ? { lesson, assignment } : undefined
}

/** Keeps a file that is about to be handed in; twenty an hour by one person. */
export async function takeHandedIn(
  s: Context,
  who: Learner,
  at: AtAssignment,
  name: string,
  body: AsyncIterable<Uint8Array>,
): Promise<StoredMedia> {
  if (!(await mayHandIn(s, who, at))?.assignment.file) return { refused: refusals.gone.lesson }
  if (!(await mayTry(s.db, `hand-in:${who.person}`, { most: 20, windowMs: 3_600_000 })))
    return { refused: refusals.account.tooMany }
  return storeMedia(s, "handed-in", name, body, who.person)
}

/** Forgets files that were sent up and not handed in, or handed in anew since, after a day. */
export async function sweepHandedIn(s: Context): Promise<void> {
  const rows = await s.db.rows<{ id: number; stored: string }>(
    "SELECT m.id, m.stored FROM media m WHERE m.kind = 'handed-in' AND m.made_at < ? AND NOT EXISTS (SELECT 1 FROM hand_in h WHERE h.media_id = m.id) AND NOT EXISTS (SELECT 1 FROM bonus b WHERE b.media_id = m.id) LIMIT 100",
    [new Date((await s.clock.now()) - 86_400_000)],
  )
  for (const m of rows) await removeMedia(s, m)
}

/** Hands something in; as often as one likes until it is accepted. */
export async function handIn(s: Context, who: Learner, at: AtAssignment, typed: unknown): Promise<Saved> {
  const read = v.safeParse(input, typed)
  if (!read.success) return refusal(read.issues)
  const { body, file } = read.output
  const found = await mayHandIn(s, who, at)
  if (!found) return { refused: refusals.gone.lesson }
  const { lesson } = found
  if (!body && file === null) return { refused: refusals.value.empty }
  const theirs =
    file === null ||
    (await s.db.row("SELECT 1 FROM media WHERE id = ? AND kind = 'handed-in' AND person_id = ?", [file, who.person]))
  if (!theirs) return { refused: refusals.gone.thing }
  const now = await s.clock.now()
  return s.db.transaction(async (tx): Promise<Saved> => {
    const done = await tx.insert(
      "hand_in",
      {
        person_id: who.person,
        lesson_id: at.lesson,
        block: at.block,
        body,
        media_id: file,
        state: "waiting",
        at: new Date(now),
      },
      "ON DUPLICATE KEY UPDATE body = IF(state = 'accepted', body, VALUES(body)), media_id = IF(state = 'accepted', media_id, VALUES(media_id)), at = IF(state = 'accepted', at, VALUES(at)), state = IF(state = 'accepted', state, 'waiting')",
    )
    if (done.affected)
      await happen(tx, { kind: "handed-in", at: now, person: who.person, subject: at.lesson, words: lesson.title })
    return { ok: true }
  })
}

export type HandInListed = {
  readonly id: number
  readonly person: number
  readonly name: string
  readonly lesson: number
  readonly title: string
  readonly body: string
  readonly file: HandIn["file"]
  readonly state: HandIn["state"]
  readonly answer: string
  readonly at: Date
}

/** What was handed in for a course: what waits first, the oldest of it first; at most 200. */
export async function listHandIns(db: Db, course: number): Promise<HandInListed[]> {
  const rows = await db.rows<WithFile<HandInListed>>(
    `SELECT h.id, h.person_id AS person, COALESCE(NULLIF(p.name, ''), p.email) AS name, l.id AS lesson, l.title, h.body, h.state, h.answer, h.at, m.name AS file_name, m.stored AS file_stored
     FROM hand_in h JOIN lesson l ON l.id = h.lesson_id JOIN person p ON p.id = h.person_id LEFT JOIN media m ON m.id = h.media_id
     WHERE l.course_id = ? ORDER BY h.state = 'waiting' DESC, IF(h.state = 'waiting', h.at, NULL), h.answered_at DESC LIMIT 200`,
    [course],
  )
  return rows.map(withFile<HandInListed>)
}

const answerInput = v.object({
  accepted: v.boolean(),
  answer: v.pipe(v.string(), v.trim(), v.maxLength(4_000, refusals.value.longest(4_000))),
})

/**
 * The teacher answers, and the learner is told by mail. With the last assignment of a lesson accepted it is done, where the
 * lesson wants that.
 */
export async function answerHandIn(s: Context, id: number, typed: unknown): Promise<Saved> {
  const read = v.safeParse(answerInput, typed)
  if (!read.success) return refusal(read.issues)
  const { accepted, answer } = read.output
  const now = await s.clock.now()
  const found = await s.db.transaction(async (tx) => {
    const row = await tx.row<
      Pick<Row<"hand_in">, "person_id" | "lesson_id"> &
        Pick<Row<"person">, "email" | "name"> & { title: string; slug: string }
    >(
      `SELECT h.person_id, h.lesson_id, l.title, c.slug, p.email, p.name FROM hand_in h JOIN lesson l ON l.id = h.lesson_id JOIN course c ON c.id = l.course_id
       JOIN person p ON p.id = h.person_id WHERE h.id = ? AND h.state = 'waiting' FOR UPDATE`,
      [id],
    )
    if (!row) return undefined
    await tx.update("hand_in", id, { state: accepted ? "accepted" : "again", answer, answered_at: new Date(now) })
    if (accepted)
      await happen(tx, {
        kind: "hand-in-accepted",
        at: now,
        person: row.person_id,
        subject: row.lesson_id,
        words: row.title,
      })
    const leadsTo = `/learn/${row.slug}/${row.lesson_id}`
    await queueWayIn(tx, { person: row.person_id, email: row.email, name: row.name, leadsTo, at: now }, "hand-in")
    return row
  })
  if (!found) return { refused: refusals.gone.thing }
  const lesson = accepted ? await openForLearner(s.db, found.lesson_id) : undefined
  if (lesson?.done_by === "accepted" && (await allAccepted(s.db, found.person_id, lesson)))
    await setDone(s, { person: found.person_id, scope: null }, { id: lesson.id, title: lesson.title }, true)
  return { ok: true }
}

async function allAccepted(db: Db, person: number, row: LessonRow): Promise<boolean> {
  const accepted = new Set(
    (await handInsOf(db, person, row.id)).filter((h) => h.state === "accepted").map((h) => h.block),
  )
  return assignmentsOf(row).every((a) => accepted.has(a.id))
}

/** How many hand-ins wait for an answer, by course; at most three courses. */
export function waitingHandIns(db: Db): Promise<{ n: string; course: number; title: string }[]> {
  return db.rows(
    "SELECT COUNT(*) AS n, c.id AS course, c.title FROM hand_in h JOIN lesson l ON l.id = h.lesson_id JOIN course c ON c.id = l.course_id WHERE h.state = 'waiting' GROUP BY c.id ORDER BY c.id LIMIT 3",
  )
}
