// Who hasn't been in a course for a while: one row a person and course with their last look, and the instant at which they count
// as away, where the course says after how many days.

import { runsSql } from "@/core/course/may-open"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import type { Due } from "../due"
import { type Happening, happen } from "../happen"
import type { Listener } from "../tx-context"

/** They are here: now, or let in now. Whoever looks again counts their days anew. To be called inside a transaction. */
export async function markHere(db: Db, person: number, course: number, at: number): Promise<void> {
  await allHere(db, [person], course, at)
}

async function allHere(db: Db, people: readonly number[], course: number, now: number): Promise<void> {
  const at = new Date(now)
  await db.write(
    `INSERT INTO presence (person_id, course_id, last_at, away_at) SELECT p.id, c.id, ?, ? + INTERVAL c.away_days DAY FROM course c JOIN person p ON p.id IN (?) WHERE c.id = ?
     ON DUPLICATE KEY UPDATE last_at = GREATEST(last_at, VALUES(last_at)), away_at = VALUES(away_at)`,
    [at, at, people, course],
  )
}

async function awaitAll(tx: Db, happenings: readonly Happening[]): Promise<void> {
  const [first] = happenings
  const people = happenings.flatMap((h) => h.person ?? [])
  if (first?.subject && people.length) await allHere(tx, people, first.subject, first.at)
}

/** Whoever is let in is waited for. */
export const awaitComing: Listener = {
  to: ["admitted"],
  hear: awaitAll,
}

/**
 * After the days were changed: those whose moment is still to come wait for it. Whoever was gone before is left alone, so that
 * switching it on doesn't set something off for everybody at once.
 */
export async function countDaysAnew(tx: Db, course: number, days: number | null, now: number): Promise<void> {
  await tx.write(
    "UPDATE presence SET away_at = IF(last_at + INTERVAL ? DAY > ?, last_at + INTERVAL ? DAY, NULL) WHERE course_id = ?",
    [days, new Date(now), days, course],
  )
}

export const away: Due = {
  name: "away",
  async nextAt(s) {
    const row = await s.db.row<{ at: Date | null }>("SELECT MIN(away_at) AS at FROM presence")
    return row?.at?.getTime() ?? null
  },
  waits: (_, at) => [["SELECT 1 FROM presence WHERE away_at <= ?", [at.business]]],
  async run(s) {
    while (await sayNext(s));
  },
  // One is said within its transaction: it is either still to come or over.
  inHand: async () => false,
}

/** Says of the first whose days are over that they are away, once; false where there is none. */
async function sayNext(s: Context): Promise<boolean> {
  const now = new Date(await s.clock.now())
  return s.db.transaction(async (tx) => {
    const row = await tx.row<{ person_id: number; course_id: number; last_at: Date }>(
      "SELECT person_id, course_id, last_at FROM presence WHERE away_at <= ? ORDER BY away_at LIMIT 1 FOR UPDATE SKIP LOCKED",
      [now],
    )
    if (!row) return false
    await tx.write("UPDATE presence SET away_at = NULL WHERE person_id = ? AND course_id = ?", [
      row.person_id,
      row.course_id,
    ])
    // Whoever has done all of it, or can't come in any more, isn't missed.
    const course = await tx.row<{ title: string }>(
      `SELECT c.title FROM course c WHERE c.id = ? AND c.state IN ('live', 'closed')
       AND EXISTS (SELECT 1 FROM admission a WHERE a.person_id = ? AND a.course_id = c.id AND ${runsSql("a")})
       AND NOT EXISTS (SELECT 1 FROM fact f WHERE f.person_id = ? AND f.kind = 'course-done' AND f.subject_id = c.id)`,
      [row.course_id, row.person_id, now, now, row.person_id],
    )
    if (course)
      await happen(tx, {
        kind: "away",
        at: now.getTime(),
        once: `away:${row.person_id}:${row.course_id}:${row.last_at.getTime()}`,
        person: row.person_id,
        subject: row.course_id,
        words: course.title,
      })
    return true
  })
}
