// What a learner does in a lesson: looks at it for the first time, plays it, marks it as done.

import type { Context } from "../context"
import { happen, onceKey } from "../happen"
import { type Admitted, admittedAs } from "../person/session"
import { markHere } from "./away"
import type { LessonRow } from "./course"
import { completePart, setDone } from "./done"
import { courseFor, lessonSeenAs, myCourse, type OpenLesson, openForLearner } from "./learn"

/** A lesson that is open to them; nobody signed in sees free previews and what is open to all. */
export async function openLesson(
  s: Context,
  who: Admitted | null,
  slug: string,
  lesson: number,
): Promise<OpenLesson | undefined> {
  const course = await courseFor(s, who, slug)
  const asked = course?.lessons.find((l) => l.id === lesson)
  const open = course && asked && (await lessonSeenAs(s.db, course, asked))
  if (!open) return undefined
  const { row } = open
  // What they look at as a free preview alone is not yet a way through the course.
  if (who && course.mine) {
    await markLessonOpened(s, who, row)
    if (open.doneBy === "opened" && !course.done.has(lesson)) await setDone(s, who, asked, true)
  }
  return open
}
/** The first look at a lesson happens once; of a device that is only let into what it has just taken, once for that. */
export async function markLessonOpened(s: Context, who: Admitted, lesson: LessonRow): Promise<void> {
  const { scope } = who
  const person = admittedAs(who)
  const once = scope === null ? `opened:${person}:${lesson.id}` : `opened:order:${scope}:${lesson.id}`
  const at = await s.clock.now()
  if (await s.db.row("SELECT 1 FROM fact WHERE once = ?", [onceKey(once)])) {
    if (scope === null) {
      await s.db.write("UPDATE lesson_seen SET last_at = ? WHERE person_id = ? AND lesson_id = ?", [
        new Date(at),
        person,
        lesson.id,
      ])
      await markHere(s.db, person, lesson.course_id, at)
    }
    return
  }
  await s.db.transaction(async (tx) => {
    if (scope === null) {
      await markHere(tx, person, lesson.course_id, at)
      await tx.insert(
        "lesson_seen",
        { person_id: person, lesson_id: lesson.id, at: new Date(at), last_at: new Date(at) },
        "ON DUPLICATE KEY UPDATE last_at = VALUES(last_at)",
      )
    }
    await happen(tx, {
      kind: "lesson-opened",
      at,
      once,
      person,
      subject: lesson.id,
      words: lesson.title,
      ...(scope === null ? {} : { data: { orders: scope } }),
    })
    if (scope === null) await completePart(tx, "course-begun", lesson.course_id, person, at)
  })
}
/** Marks a lesson as done, or not, by a press; false where it isn't open to them, or is done by something else. */
export async function markDone(
  s: Context,
  who: Admitted,
  slug: string,
  lesson: number,
  done: boolean,
): Promise<boolean> {
  const found = (await myCourse(s, who, slug))?.lessons.find((l) => l.id === lesson)
  const row = found?.may.open ? await openForLearner(s.db, lesson) : undefined
  if (!found || row?.done_by !== "pressed") return false
  await setDone(s, who, found, done)
  return true
}
/** A lesson's video was watched to its end: that makes it done where the lesson wants that, and nothing elsewhere. */
export async function markWatched(s: Context, who: Admitted, slug: string, lesson: number): Promise<void> {
  const found = (await myCourse(s, who, slug))?.lessons.find((l) => l.id === lesson)
  const row = found?.may.open ? await openForLearner(s.db, lesson) : undefined
  if (found && row?.done_by === "watched") await setDone(s, who, found, true)
}
