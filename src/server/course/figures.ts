// What is counted of courses, for pages that say it.
import { showsNames } from "@/core/page/block/figures"
import { type CourseFigures, firstNameShown, namesTo } from "@/core/page/figures"
import type { Db } from "../db/pool"
import { countsBy } from "../tally"
import { courseRatings } from "./survey"

/** Of every course. `at`: business time, ms; whoever was let in counts once, whether their access goes on or not. */
export async function courseFigures(db: Db, at: number): Promise<Record<number, CourseFigures>> {
  const month = [new Date(at - 30 * 86_400_000), new Date(at)]
  const learners = await countsBy(db, "learners")
  const lately = await db.rows<{ course: number; n: number }>(
    "SELECT course_id AS course, COUNT(DISTINCT person_id) AS n FROM admission WHERE from_at BETWEEN ? AND ? AND course_id IS NOT NULL GROUP BY course_id",
    month,
  )
  const lessons = await db.rows<{ course: number; lessons: number; minutes: number }>(
    "SELECT course_id AS course, COUNT(*) AS lessons, SUM(takes) AS minutes FROM lesson WHERE state = 'live' GROUP BY course_id",
  )
  const names = await db.rows<{ course: number; name: string }>(
    `SELECT d.course_id AS course, p.name FROM (SELECT course_id, person_id, from_at FROM admission WHERE from_at BETWEEN ? AND ? AND course_id IS NOT NULL ORDER BY from_at DESC LIMIT 5000) d
     JOIN person p ON p.id = d.person_id WHERE p.name_shown_at IS NOT NULL GROUP BY d.course_id, p.id ORDER BY MAX(d.from_at) DESC LIMIT 2000`,
    month,
  )
  const ratings = await courseRatings(db)
  const courses = new Set([...learners.keys(), ...lessons.map((l) => l.course)])
  return Object.fromEntries(
    [...courses].map((course) => {
      const what = lessons.find((l) => l.course === course)
      return [
        course,
        {
          learners: learners.get(course) ?? 0,
          lately: lately.find((l) => l.course === course)?.n ?? 0,
          lessons: what?.lessons ?? 0,
          names: names.flatMap((n) => (n.course === course ? (firstNameShown(n.name) ?? []) : [])).slice(0, namesTo),
          hours: (what?.minutes ?? 0) / 60,
          rating: ratings.get(course) ?? null,
        },
      ]
    }),
  )
}

/** Whether any page says who joined. */
export const namesAreShown = async (db: Db): Promise<boolean> =>
  (await db.row("SELECT 1 FROM reference WHERE say = ? LIMIT 1", [showsNames])) !== undefined

/** Lets pages say somebody's first name, or no longer. */
export async function showName(db: Db, person: number, shown: boolean, now: number): Promise<void> {
  await db.update("person", person, { name_shown_at: shown ? new Date(now) : null })
}
