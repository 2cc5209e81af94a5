// Who waits for a course: asked for on a catalogue, told once when it opens.
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { happen } from "../happen"
import { queueMail } from "../queue-mail"
import { gone, ok, type Saved } from "../saved"
import { setTimer, type TimerWork } from "../timer"

/** Somebody whose mailbox has said yes waits for a course. `page`: where they asked, with its slash. */
export async function waitFor(
  tx: Db,
  person: number,
  wants: { readonly course: number; readonly page: string },
  at: number,
): Promise<void> {
  const course = await tx.row<{ title: string }>("SELECT title FROM course WHERE id = ?", [wants.course])
  if (!course) return
  await tx.insert(
    "waiting",
    { person_id: person, course_id: wants.course, page: wants.page, since_at: new Date(at) },
    "ON DUPLICATE KEY UPDATE page = VALUES(page), since_at = VALUES(since_at), told_at = NULL",
  )
  await happen(tx, { kind: "waits", at, person, subject: wants.course, words: course.title })
}

/** How many wait for a course and haven't been told. */
export async function waitingFor(db: Db, course: number): Promise<number> {
  const row = await db.row<{ n: number }>("SELECT COUNT(*) AS n FROM waiting WHERE course_id = ? AND told_at IS NULL", [
    course,
  ])
  return row?.n ?? 0
}

/** Has everybody told who waits for a course. */
export async function tellWhoWaits(tx: Db, course: number, at: number): Promise<void> {
  await setTimer(tx, { kind: "tell-waiting", about: course, dueAt: at })
}

/** The same, by the press of a button. */
export async function tellNow(s: Context, course: number): Promise<Saved> {
  if (!(await s.db.row("SELECT 1 FROM course WHERE id = ?", [course]))) return gone
  await tellWhoWaits(s.db, course, await s.clock.now())
  return ok
}

const atOnce = 1_000

/** Writes to those who wait, a thousand at a time; whoever can't be written to, or has left, has been told all the same. */
export const tellWaiting: TimerWork = async (tx, course, at) => {
  const rows = await tx.rows<{ person: number; since: Date; email: string; name: string; silent: 0 | 1 }>(
    `SELECT w.person_id AS person, w.since_at AS since, p.email, p.name, EXISTS (SELECT 1 FROM address a WHERE a.person_id = p.id AND a.email = p.email AND a.suppressed IS NOT NULL) AS silent
     FROM waiting w JOIN person p ON p.id = w.person_id WHERE w.course_id = ? AND w.told_at IS NULL ORDER BY w.since_at, w.person_id LIMIT ${atOnce} FOR UPDATE`,
    [course],
  )
  if (!rows.length) return
  await queueMail(
    tx,
    rows
      .filter((r) => !r.silent)
      .map((r) => ({
        once: `course-opens:${course}:${r.person}:${r.since.getTime()}`,
        kind: "course-opens",
        person_id: r.person,
        to_email: r.email,
        to_name: r.name,
        course_id: course,
        due_at: new Date(at),
      })),
  )
  await tx.write("UPDATE waiting SET told_at = ? WHERE course_id = ? AND person_id IN (?)", [
    new Date(at),
    course,
    rows.map((r) => r.person),
  ])
  if (rows.length === atOnce) await tellWhoWaits(tx, course, at)
}
