// Courses as they are chosen from in the studio.
import type { Db } from "../db/pool"
import type { CourseState } from "./course"

export type CourseNamed = { readonly id: number; readonly title: string; readonly state: "draft" | "live" }

/** By title; at most 200. */
export function courseNames(db: Db): Promise<CourseNamed[]> {
  return db.rows<CourseNamed>(
    "SELECT id, title, IF(state = 'draft', 'draft', 'live') AS state FROM course ORDER BY title LIMIT 200",
  )
}

export function courseTitle(db: Db, id: number): Promise<{ title: string; state: CourseState } | undefined> {
  return db.row("SELECT title, state FROM course WHERE id = ?", [id])
}

export async function courseOfLesson(db: Db, lesson: number): Promise<number | undefined> {
  return (await db.row<{ course_id: number }>("SELECT course_id FROM lesson WHERE id = ?", [lesson]))?.course_id
}
