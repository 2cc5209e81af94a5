// Courses as pages and e-mails speak of them.
import type { CourseCard } from "@/core/course/card"
import type { Ref, Referred } from "@/core/reference"
import type { Db } from "../db/pool"

/** The courses that any of these speak of, by themselves or by one of their lessons. */
export async function loadCourseCards(db: Db, refs: readonly Ref[]): Promise<CourseCard[]> {
  const ids = (to: Referred) => [0, ...new Set(refs.filter((r) => r.to === to).map((r) => r.id))]
  const courses = await db.rows<Omit<CourseCard, "lessons">>(
    "SELECT id, slug, title, promise, teacher, IF(state = 'draft', 'draft', 'live') AS state FROM course WHERE id IN (?) OR id IN (SELECT course_id FROM lesson WHERE id IN (?)) ORDER BY id",
    [ids("course"), ids("lesson")],
  )
  const lessons = await db.rows<CourseCard["lessons"][number] & { course_id: number }>(
    "SELECT id, course_id, title, takes AS minutes, state FROM lesson WHERE course_id IN (?) AND state <> 'removed' ORDER BY position, id",
    [[0, ...courses.map((c) => c.id)]],
  )
  return courses.map((c) => ({
    ...c,
    lessons: lessons.filter((l) => l.course_id === c.id).map(({ course_id: _, ...l }) => l),
  }))
}
