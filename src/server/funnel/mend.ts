// The acts by which a finding of preflight is mended at once.
import * as v from "valibot"
import { lessonMail, numbered } from "@/core/funnel/recipe"
import { courseForRecipe } from "../course/course"
import type { Db } from "../db/pool"
import type { Surroundings } from "../surroundings"
import type { Saved } from "./edit"
import { leadOutcome } from "./steps"

const id = v.pipe(v.number(), v.integer(), v.minValue(1))
const act = v.variant("act", [
  v.object({ act: v.literal("lead-on"), step: id, outcome: v.string(), to: id }),
  v.object({ act: v.literal("course-live"), course: id }),
  v.object({ act: v.literal("sequence-live"), sequence: id }),
  v.object({ act: v.literal("write-mail"), sequence: id, lesson: id }),
  v.object({ act: v.literal("count-mails"), sequence: id }),
])

export async function mend(s: Surroundings, typed: unknown): Promise<Saved> {
  const read = v.safeParse(act, typed)
  if (!read.success) return { refused: "This can't be fixed with one press any more. Reload the page." }
  const fix = read.output
  switch (fix.act) {
    case "lead-on":
      return leadOutcome(s, fix)
    case "course-live":
      await s.db.write("UPDATE course SET state = 'live', revision = revision + 1 WHERE id = ?", [fix.course])
      return { ok: true }
    case "sequence-live":
      await s.db.write("UPDATE sequence SET state = 'live', revision = revision + 1 WHERE id = ?", [fix.sequence])
      return { ok: true }
    case "write-mail":
      return s.db.transaction((tx) => writeLessonMail(tx, fix.sequence, fix.lesson))
    case "count-mails":
      await s.db.transaction((tx) => countMails(tx, fix.sequence))
      return { ok: true }
  }
}

/** The mail for a lesson that has come since, after the mails of the lessons before it; all count anew. */
async function writeLessonMail(tx: Db, sequence: number, lesson: number): Promise<Saved> {
  await tx.row("SELECT id FROM sequence WHERE id = ? FOR UPDATE", [sequence])
  const of = await tx.row<{ course_id: number }>("SELECT course_id FROM lesson WHERE id = ?", [lesson])
  const course = of && (await courseForRecipe(tx, of.course_id))
  const card = course?.lessons.find((l) => l.id === lesson)
  const mails = await tx.rows<{ id: number; position: number; lesson_id: number | null }>(
    "SELECT id, position, lesson_id FROM sequence_mail WHERE sequence_id = ? ORDER BY position, id",
    [sequence],
  )
  if (!course || !card || mails.some((m) => m.lesson_id === lesson)) return { ok: true }
  const before = new Set(course.lessons.slice(0, course.lessons.indexOf(card)).map((l) => l.id))
  const last = mails.findLastIndex((m) => m.lesson_id !== null && before.has(m.lesson_id))
  const mail = lessonMail(course, card, last + 1, Math.max(2, mails.length + 1))
  for (const [i, m] of mails.entries())
    await tx.write("UPDATE sequence_mail SET position = ? WHERE id = ?", [i <= last ? i : i + 1, m.id])
  await tx.write(
    "INSERT INTO sequence_mail (sequence_id, position, after_days, at_minute, subject, body, button, lesson_id) VALUES (?, ?, ?, ?, ?, ?, ?, ?)",
    [sequence, last + 1, mail.afterDays, mail.atMinute, mail.subject, mail.body, mail.button, lesson],
  )
  await countMails(tx, sequence)
  return { ok: true }
}

async function countMails(tx: Db, sequence: number): Promise<void> {
  const mails = await tx.rows<{ id: number; subject: string }>(
    "SELECT id, subject FROM sequence_mail WHERE sequence_id = ? AND lesson_id IS NOT NULL ORDER BY position, id FOR UPDATE",
    [sequence],
  )
  const counts = mails.some((m) => /^\d+ of \d+: /.test(m.subject))
  for (const [i, m] of mails.entries())
    if (counts)
      await tx.write("UPDATE sequence_mail SET subject = ?, revision = revision + 1 WHERE id = ?", [
        numbered(m.subject, i, mails.length).slice(0, 200),
        m.id,
      ])
}
