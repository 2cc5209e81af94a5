// Files that a learner may take away.

import { runsSql } from "@/core/course/may-open"
import { refsOfPage } from "@/core/page/block/list"
import type { Context } from "../context"
import { shownLesson } from "../page/kept"
import { addressesOf } from "../page/links"
import { type Admitted, admittedAs } from "../person/session"
import type { LessonRow } from "./course"
import { markLessonOpened } from "./in-lesson"
import type { LearnCourse, OpenLesson } from "./learn"
import { mediaOf } from "./lesson-page"

export type MyFile = { readonly id: number; readonly name: string; readonly stored: string; readonly size: number }
/** Files that a person may take away, by what they were let into. */
export async function myFiles(s: Context, who: Admitted): Promise<MyFile[]> {
  const now = new Date(await s.clock.now())
  return s.db.rows<MyFile>(
    `SELECT DISTINCT m.id, m.name, m.stored, m.size FROM admission a JOIN media m ON m.id = a.media_id WHERE a.person_id = ? AND ${runsSql("a")} AND (? IS NULL OR FIND_IN_SET(a.order_id, ?)) ORDER BY m.name LIMIT 200`,
    [admittedAs(who), now, now, who.scope, who.scope],
  )
}
/** A file that they may take away; undefined where they may not, or not any more. */
export async function myFile(s: Context, who: Admitted, id: number): Promise<MyFile | undefined> {
  return (await myFiles(s, who)).find((f) => f.id === id)
}
export type OpenFiles = Pick<OpenLesson, "lesson" | "page" | "media" | "addresses">
/** What is open to them of a course of files, in its order: looked at all at once. */
export async function openFiles(s: Context, who: Admitted | null, course: LearnCourse): Promise<OpenFiles[]> {
  const open = course.lessons.filter((l) => l.may.open)
  const rows = await s.db.rows<LessonRow>("SELECT * FROM lesson WHERE id IN (?) AND state = 'live'", [
    [0, ...open.map((l) => l.id)],
  ])
  const found: OpenFiles[] = []
  for (const lesson of open) {
    const row = rows.find((r) => r.id === lesson.id)
    if (!row) continue
    if (who && course.mine) await markLessonOpened(s, who, row)
    const page = await shownLesson(s.db, row)
    const addresses = await addressesOf(s.db, refsOfPage(page))
    found.push({ lesson, page, addresses, media: await mediaOf(s.db, page) })
  }
  return found
}
