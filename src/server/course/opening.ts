// Who waits for the next part of a course: one row a person and course with the instant at which it opens, kept while there is
// something to wait for. When it opens they are told, where the course wants that.
import { mayOpen } from "@/core/course/may-open"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import type { Due } from "../due"
import type { Happening } from "../happen"
import { queueWayIn } from "../person/way-in"
import type { TimerWork } from "../timer"
import type { Listener } from "../tx-context"
import { askings } from "./learn"

/** Whether anything in a course opens by the calendar. */
const timed =
  "(c.state = 'announced' OR c.opens LIKE '%-da%' OR EXISTS (SELECT 1 FROM module m WHERE m.course_id = c.id AND m.opens LIKE '%-da%') OR EXISTS (SELECT 1 FROM lesson l WHERE l.course_id = c.id AND l.opens LIKE '%-da%'))"

/** Whoever is let in, or has done what something waits for, begins to wait for what comes next. */
export const awaitOpening: Listener = {
  to: ["admitted", "lesson-done"],
  hear: awaitAll,
}

async function awaitAll(tx: Db, happenings: readonly Happening[]): Promise<void> {
  const [h] = happenings
  const people = happenings.flatMap((x) => x.person ?? [])
  if (!h?.subject || !people.length) return
  const course = h.kind === "admitted" ? "c.id = ?" : "c.id = (SELECT course_id FROM lesson WHERE id = ?)"
  // Instants are kept from before this one, so that what opens just now isn't passed over.
  await tx.write(
    `INSERT INTO opening (person_id, course_id, since_at, due_at) SELECT p.id, c.id, ?, ? FROM course c JOIN person p ON p.id IN (?) WHERE ${course} AND ${timed}
     ON DUPLICATE KEY UPDATE due_at = LEAST(due_at, VALUES(due_at))`,
    [new Date(h.at), new Date(h.at), people, h.subject],
  )
}

/** After a plan has changed, everybody in the course waits anew; what has opened by the change itself isn't told. */
export const replan: TimerWork = async (tx, course, at) => {
  await tx.write(
    `INSERT INTO opening (person_id, course_id, since_at, due_at)
     SELECT DISTINCT d.person_id, d.course_id, ?, ? FROM admission d JOIN course c ON c.id = d.course_id
     WHERE d.course_id = ? AND (d.until_at IS NULL OR d.until_at > ?) AND ${timed}
     ON DUPLICATE KEY UPDATE since_at = VALUES(since_at), due_at = VALUES(due_at)`,
    [new Date(at), new Date(at), course, new Date(at)],
  )
}

export const openings: Due = {
  name: "openings",
  async nextAt(s) {
    const row = await s.db.row<{ at: Date | null }>("SELECT MIN(due_at) AS at FROM opening")
    return row?.at?.getTime() ?? null
  },
  waits: (_, at) => [["SELECT 1 FROM opening WHERE due_at <= ?", [at.business]]],
  async run(s) {
    while (await openNext(s));
  },
  // One is looked after within its transaction: it is either still to come or over.
  inHand: async () => false,
}

/** Looks after the first who waits and whose part opens now; false where there is none. */
async function openNext(s: Context): Promise<boolean> {
  const at = await s.clock.now()
  return s.db.transaction(async (tx) => {
    const row = await tx.row<{ person_id: number; course_id: number; since_at: Date }>(
      "SELECT person_id, course_id, since_at FROM opening WHERE due_at <= ? ORDER BY due_at LIMIT 1 FOR UPDATE SKIP LOCKED",
      [new Date(at)],
    )
    if (!row) return false
    await lookAfter(tx, row, at)
    return true
  })
}

async function lookAfter(
  tx: Db,
  row: { readonly person_id: number; readonly course_id: number; readonly since_at: Date },
  at: number,
): Promise<void> {
  const course = await tx.row<{ id: number; slug: string; state: string; tells: number; open_to_all: number }>(
    "SELECT id, slug, state, tells, open_to_all FROM course WHERE id = ?",
    [row.course_id],
  )
  const who = { person: row.person_id, scope: null }
  const asking = course && (await askings(tx, who, [course], at)).get(course.id)
  const lessons = asking?.plans.at(-1)?.plan.lessons ?? []
  const opened: number[] = []
  let next: number | null = null
  for (const l of lessons) {
    const now = mayOpen(asking!, l.id)
    if (now.open) {
      const before = mayOpen({ ...asking!, at: row.since_at.getTime() }, l.id)
      // Only what the calendar has opened: whoever has just done the lesson before is there already.
      if (
        !before.open &&
        before.why === "not-yet" &&
        before.at !== null &&
        before.because.kind !== "lesson" &&
        now.by === "admission"
      )
        opened.push(l.id)
    } else if (now.why === "not-yet" && now.at !== null && now.at > at) next = Math.min(next ?? now.at, now.at)
  }
  if (course?.tells && course.state !== "draft" && opened.length && !(await broughtByMail(tx, who.person, opened[0]!)))
    await tell(tx, who.person, `/learn/${course.slug}/${opened[0]}`, at)
  if (next === null)
    await tx.write("DELETE FROM opening WHERE person_id = ? AND course_id = ?", [row.person_id, row.course_id])
  else
    await tx.write("UPDATE opening SET since_at = ?, due_at = ? WHERE person_id = ? AND course_id = ?", [
      new Date(at),
      new Date(next),
      row.person_id,
      row.course_id,
    ])
}

/** Whether an e-mail of a sequence that somebody is in has brought them a lesson, or is to bring it. */
async function broughtByMail(tx: Db, person: number, lesson: number): Promise<boolean> {
  const row = await tx.row(
    `SELECT 1 FROM sequence_mail m JOIN enrolment e ON e.sequence_id = m.sequence_id AND e.person_id = ? JOIN sequence q ON q.id = m.sequence_id AND q.state = 'live'
     WHERE m.lesson_id = ? AND (e.ended_at IS NULL OR EXISTS (SELECT 1 FROM mail x WHERE x.person_id = e.person_id AND x.sequence_mail_id = m.id AND x.state = 'sent')) LIMIT 1`,
    [person, lesson],
  )
  return row !== undefined
}

/** The live sequences whose e-mails bring lessons of a course: whoever is in one of them isn't told a second time. */
export async function bringsLessons(db: Db, course: number): Promise<string[]> {
  const rows = await db.rows<{ name: string }>(
    "SELECT DISTINCT q.name FROM sequence_mail m JOIN sequence q ON q.id = m.sequence_id AND q.state = 'live' JOIN lesson l ON l.id = m.lesson_id WHERE l.course_id = ? ORDER BY q.name LIMIT 5",
    [course],
  )
  return rows.map((r) => r.name)
}

async function tell(tx: Db, person: number, leadsTo: string, at: number): Promise<void> {
  const who = await tx.row<{ email: string; name: string }>(
    "SELECT p.email, p.name FROM person p JOIN address a ON a.person_id = p.id AND a.email = p.email WHERE p.id = ? AND a.suppressed IS NULL",
    [person],
  )
  if (who) await queueWayIn(tx, { person, ...who, leadsTo, at }, "lesson-opens")
}

/** When a lesson opens for somebody, ms; now where it is open; null where no calendar says. */
export async function opensFor(db: Db, person: number, lesson: number, at: number): Promise<number | null> {
  const course = await db.row<{ id: number; open_to_all: number }>(
    "SELECT c.id, c.open_to_all FROM lesson l JOIN course c ON c.id = l.course_id WHERE l.id = ?",
    [lesson],
  )
  const asking = course && (await askings(db, { person, scope: null }, [course], at)).get(course.id)
  if (!asking) return null
  const may = mayOpen(asking, lesson)
  if (may.open) return at
  return may.why === "not-yet" ? may.at : null
}
