// Courses as pages and e-mails speak of them.
import type { CourseCard } from "@/core/course/card"
import { readJson, strings } from "@/core/json"
import type { Ref, Referred } from "@/core/reference"
import type { Db } from "../db/pool"

/** What a course promises, as it is kept, without empty lines. */
export const promisesOf = (json: string): string[] => readJson(strings, json).filter((p) => p.trim())

/** The courses that any of these speak of, by themselves or by one of their lessons. */
export async function loadCourseCards(db: Db, refs: readonly Ref[]): Promise<CourseCard[]> {
  const ids = (to: Referred) => [0, ...new Set(refs.filter((r) => r.to === to).map((r) => r.id))]
  const courses = await db.rows<Omit<CourseCard, "lessons" | "promises"> & { promises: string }>(
    "SELECT id, slug, title, promise, teacher, promises, IF(state = 'draft', 'draft', 'live') AS state FROM course WHERE id IN (?) OR id IN (SELECT course_id FROM lesson WHERE id IN (?)) ORDER BY id",
    [ids("course"), ids("lesson")],
  )
  // A lesson stands in the module that was opened last before it.
  const lessons = await db.rows<Omit<CourseCard["lessons"][number], "free"> & { course_id: number; free: number }>(
    `SELECT l.id, l.course_id, l.title, l.takes AS minutes, l.state, l.free,
       COALESCE((SELECT m.title FROM module m WHERE m.course_id = l.course_id AND m.removed_at IS NULL AND m.position < l.position ORDER BY m.position DESC LIMIT 1), '') AS module
     FROM lesson l WHERE l.course_id IN (?) AND l.state <> 'removed' ORDER BY l.position, l.id`,
    [[0, ...courses.map((c) => c.id)]],
  )
  return courses.map((c) => ({
    ...c,
    promises: promisesOf(c.promises),
    lessons: lessons
      .filter((l) => l.course_id === c.id)
      .map(({ course_id: _, free, ...l }) => ({ ...l, free: free === 1 })),
  }))
}
