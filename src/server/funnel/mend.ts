// The acts by which a finding of preflight is mended at once.

import * as v from "valibot"
import type { Funnel, Sequence } from "@/core/funnel/draft"
import { addMail, changeSequence } from "@/core/funnel/edit"
import { lessonMail, numbered } from "@/core/funnel/lesson-mail"
import { refusals } from "@/core/words/refusals"
import { courseForRecipe } from "../course/course"
import type { Db } from "../db/pool"
import { id, ok, type Saved } from "../saved"
import type { Surroundings } from "../surroundings"
import { change } from "./change"
import { leadOutcome } from "./steps"

const act = v.variant("act", [
  v.object({ act: v.literal("lead-on"), step: id, outcome: v.string(), to: id }),
  v.object({ act: v.literal("course-live"), course: id }),
  v.object({ act: v.literal("sequence-live"), sequence: id }),
  v.object({ act: v.literal("write-mail"), sequence: id, lesson: id }),
  v.object({ act: v.literal("count-mails"), sequence: id }),
])

export async function mend(s: Surroundings, typed: unknown): Promise<Saved> {
  const read = v.safeParse(act, typed)
  if (!read.success) return { refused: refusals.gone.mend }
  const fix = read.output
  switch (fix.act) {
    case "lead-on":
      return leadOutcome(s, fix)
    case "course-live":
      await s.db.write("UPDATE course SET state = 'live', revision = revision + 1 WHERE id = ?", [fix.course])
      return ok
    case "sequence-live":
      return change(s, {
        of: fix,
        change: (f) => changeSequence(f, fix.sequence, (q) => ({ ...q, state: "live" })),
      })
    case "write-mail":
      return change(s, { of: fix, change: (f, tx) => withLessonMail(tx, f, fix.sequence, fix.lesson) })
    case "count-mails":
      return change(s, { of: fix, change: (f) => changeSequence(f, fix.sequence, counted) })
  }
}

/** The mail for a lesson that has come since, after the mails of the lessons before it; all count anew. */
async function withLessonMail(tx: Db, f: Funnel, sequence: number, lesson: number): Promise<Funnel | null> {
  const mails = f.sequences.find((q) => q.id === sequence)?.mails ?? []
  const of = await tx.row<{ course_id: number }>("SELECT course_id FROM lesson WHERE id = ?", [lesson])
  const course = of && (await courseForRecipe(tx, of.course_id))
  const card = course?.lessons.find((l) => l.id === lesson)
  if (!course || !card || mails.some((m) => m.lessonId === lesson)) return f
  const before = new Set(course.lessons.slice(0, course.lessons.indexOf(card)).map((l) => l.id))
  const at = mails.findLastIndex((m) => m.lessonId !== null && before.has(m.lessonId)) + 1
  const mail = lessonMail(course, card, at, Math.max(2, mails.length + 1))
  const added = addMail(f, sequence, { ...mail, stepId: null }, at)
  return added && changeSequence(added, sequence, counted)
}

/** The mails that bring lessons counted anew, where any of them counts. */
function counted(q: Sequence): Sequence {
  const lessons = q.mails.filter((m) => m.lessonId !== null)
  if (!lessons.some((m) => /^\d+ of \d+: /.test(m.subject))) return q
  const place = new Map(lessons.map((m, i) => [m.id, i]))
  return {
    ...q,
    mails: q.mails.map((m) => {
      const i = place.get(m.id)
      return i === undefined ? m : { ...m, subject: numbered(m.subject, i, lessons.length).slice(0, 200) }
    }),
  }
}
