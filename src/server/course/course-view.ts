// Courses as they are chosen from in the studio.
import type { Db } from "../db/pool"

export type CourseNamed = { readonly id: number; readonly title: string; readonly state: "draft" | "live" }

/** By title; at most 200. */
export function courseNames(db: Db): Promise<CourseNamed[]> {
  return db.rows<CourseNamed>("SELECT id, title, state FROM course ORDER BY title LIMIT 200")
}
