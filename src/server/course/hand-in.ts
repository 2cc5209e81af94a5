// What learners hand in, and what the teacher answers: accepted, or again.
import * as v from "valibot"
import { lessonPage } from "@/core/course/lesson-page"
import { allBlocks } from "@/core/page/document"
import { refusals } from "@/core/words/refusals"
import type { Db } from "../db/pool"
import { happen } from "../happen"
import type { Learner } from "../person/session"
import { queueWayIn } from "../person/way-in"
import { refusal, type Saved } from "../saved"
import type { Surroundings } from "../surroundings"
import type { LessonRow } from "./course"
import { myCourse, openForLearner, setDone } from "./learn"

export type HandIn = {
  readonly block: string
  readonly body: string
  readonly state: "waiting" | "accepted" | "again"
  readonly answer: string
}

/** The assignments of a lesson, by their block. */
const assignmentsOf = (row: LessonRow): string[] =>
  [...allBlocks(lessonPage(row).blocks)].flatMap((b) => ("asks" in b ? [b.id] : []))

/** What a learner has handed in for a lesson. */
export function handInsOf(db: Db, person: number, lesson: number): Promise<HandIn[]> {
  return db.rows<HandIn>("SELECT block, body, state, answer FROM hand_in WHERE person_id = ? AND lesson_id = ?", [
    person,
    lesson,
  ])
}

const body = v.pipe(
  v.string(),
  v.trim(),
  v.nonEmpty(refusals.value.empty),
  v.maxLength(20_000, refusals.value.longest(20_000)),
)

/** Hands something in; as often as one likes until it is accepted. */
export async function handIn(
  s: Surroundings,
  who: Learner,
  at: { readonly slug: string; readonly lesson: number; readonly block: string },
  typed: unknown,
): Promise<Saved> {
  const read = v.safeParse(body, typed)
  if (!read.success) return refusal(read.issues)
  const lesson =
    who.scope === null ? (await myCourse(s, who, at.slug))?.lessons.find((l) => l.id === at.lesson) : undefined
  const row = lesson?.may.open ? await openForLearner(s.db, at.lesson) : undefined
  if (!lesson || !row || !assignmentsOf(row).includes(at.block)) return { refused: refusals.gone.lesson }
  const now = await s.clock.now()
  return s.db.transaction(async (tx): Promise<Saved> => {
    const done = await tx.write(
      `INSERT INTO hand_in (person_id, lesson_id, block, body, state, at) VALUES (?, ?, ?, ?, 'waiting', ?)
       ON DUPLICATE KEY UPDATE body = IF(state = 'accepted', body, VALUES(body)), at = IF(state = 'accepted', at, VALUES(at)), state = IF(state = 'accepted', state, 'waiting')`,
      [who.person, at.lesson, at.block, read.output, new Date(now)],
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
  readonly state: HandIn["state"]
  readonly answer: string
  readonly at: Date
}

/** What was handed in for a course: what waits first, the oldest of it first; at most 200. */
export function listHandIns(db: Db, course: number): Promise<HandInListed[]> {
  return db.rows<HandInListed>(
    `SELECT h.id, h.person_id AS person, COALESCE(NULLIF(p.name, ''), p.email) AS name, l.id AS lesson, l.title, h.body, h.state, h.answer, h.at
     FROM hand_in h JOIN lesson l ON l.id = h.lesson_id JOIN person p ON p.id = h.person_id
     WHERE l.course_id = ? ORDER BY h.state = 'waiting' DESC, IF(h.state = 'waiting', h.at, NULL), h.answered_at DESC LIMIT 200`,
    [course],
  )
}

const answerInput = v.object({
  accepted: v.boolean(),
  answer: v.pipe(v.string(), v.trim(), v.maxLength(4_000, refusals.value.longest(4_000))),
})

/**
 * The teacher answers, and the learner is told by mail. With the last assignment of a lesson accepted it is done, where the
 * lesson wants that.
 */
export async function answerHandIn(s: Surroundings, id: number, typed: unknown): Promise<Saved> {
  const read = v.safeParse(answerInput, typed)
  if (!read.success) return refusal(read.issues)
  const { accepted, answer } = read.output
  const now = await s.clock.now()
  const found = await s.db.transaction(async (tx) => {
    const row = await tx.row<{
      person_id: number
      lesson_id: number
      title: string
      slug: string
      email: string
      name: string
    }>(
      `SELECT h.person_id, h.lesson_id, l.title, c.slug, p.email, p.name FROM hand_in h JOIN lesson l ON l.id = h.lesson_id JOIN course c ON c.id = l.course_id
       JOIN person p ON p.id = h.person_id WHERE h.id = ? AND h.state = 'waiting' FOR UPDATE`,
      [id],
    )
    if (!row) return undefined
    await tx.write("UPDATE hand_in SET state = ?, answer = ?, answered_at = ? WHERE id = ?", [
      accepted ? "accepted" : "again",
      answer,
      new Date(now),
      id,
    ])
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
  return assignmentsOf(row).every((b) => accepted.has(b))
}

/** How many hand-ins wait for an answer, by course; at most three courses. */
export function waitingHandIns(db: Db): Promise<{ n: string; course: number; title: string }[]> {
  return db.rows(
    "SELECT COUNT(*) AS n, c.id AS course, c.title FROM hand_in h JOIN lesson l ON l.id = h.lesson_id JOIN course c ON c.id = l.course_id WHERE h.state = 'waiting' GROUP BY c.id ORDER BY c.id LIMIT 3",
  )
}
