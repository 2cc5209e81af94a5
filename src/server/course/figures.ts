// What is counted of courses, for pages that say it.
import type { CourseFigures } from "@/core/page/figures"
import type { Db } from "../db/pool"
import { courseRatings } from "./survey"

/** Of every course. `at`: business time, ms; whoever was let in counts once, whether their access goes on or not. */
export async function courseFigures(db: Db, at: number): Promise<Record<number, CourseFigures>> {
  const people = await db.rows<{ course: number; learners: number; lately: number }>(
    "SELECT course_id AS course, COUNT(DISTINCT person_id) AS learners, COUNT(DISTINCT IF(from_at >= ?, person_id, NULL)) AS lately FROM admission WHERE course_id IS NOT NULL GROUP BY course_id",
    [new Date(at - 30 * 86_400_000)],
  )
  const lessons = await db.rows<{ course: number; lessons: number; minutes: number }>(
    "SELECT course_id AS course, COUNT(*) AS lessons, SUM(takes) AS minutes FROM lesson WHERE state = 'live' GROUP BY course_id",
  )
  const ratings = await courseRatings(db)
  const courses = new Set([...people, ...lessons].map((r) => r.course))
  return Object.fromEntries(
    [...courses].map((course) => {
      const who = people.find((p) => p.course === course)
      const what = lessons.find((l) => l.course === course)
      return [
        course,
        {
          learners: who?.learners ?? 0,
          lately: who?.lately ?? 0,
          lessons: what?.lessons ?? 0,
          hours: (what?.minutes ?? 0) / 60,
          rating: ratings.get(course) ?? null,
        },
      ]
    }),
  )
}
