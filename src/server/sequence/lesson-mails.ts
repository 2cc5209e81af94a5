// The e-mails of a sequence that bring a course lesson by lesson: one for a lesson that has come since, and their counting.
import { lessonMail, numbered } from "@/core/funnel/lesson-mail"
import { mailsInOrder } from "@/core/sequence/document"
import { allSteps, freshId, insertFlowStep, type Spot } from "@/core/sequence/flow"
import { mailOf, type SequenceStep } from "@/core/sequence/step/list"
import type { Context } from "../context"
import { courseForRecipe } from "../course/course"
import type { Db } from "../db/pool"
import { gone, ok, type Saved } from "../saved"
import { insertLetter, lockedSequence, storeFlow, updateLetter } from "./store"

/** Writes the e-mail for a lesson, after those of the lessons before it; all count anew. */
export async function writeLessonMail(s: Context, sequence: number, lesson: number): Promise<Saved> {
  return s.db.transaction(async (tx): Promise<Saved> => {
    const q = await lockedSequence(tx, sequence)
    const of = await tx.row<{ course_id: number }>("SELECT course_id FROM lesson WHERE id = ?", [lesson])
    const course = of && (await courseForRecipe(tx, of.course_id))
    const card = course?.lessons.find((l) => l.id === lesson)
    if (!q || !course || !card) return gone
    const mails = mailsInOrder(q.flow.steps, q.mails)
    if (mails.some((m) => m.lessonId === lesson)) return ok
    const before = new Set(course.lessons.slice(0, course.lessons.indexOf(card)).map((l) => l.id))
    const at = mails.findLastIndex((m) => m.lessonId !== null && before.has(m.lessonId)) + 1
    const { afterDays, atMinute, ...letter } = lessonMail(course, card, at, Math.max(2, mails.length + 1))
    const mail = await insertLetter(tx, sequence, { ...letter, stepId: null })
    const from = freshId(q.flow.steps)
    const last = at === 0 ? undefined : allSteps(q.flow.steps).find((x) => mailOf(x) === mails[at - 1]!.id)
    const spot: Spot = last ? { after: last.id } : { first: null }
    const send: SequenceStep = { id: from, kind: "send", mail }
    const wait: SequenceStep = { id: from + 1, kind: "wait", wait: { for: "days", days: afterDays, at: atMinute } }
    const sent = insertFlowStep(q.flow.steps, spot, send)
    const steps = sent && (afterDays || atMinute !== null) ? insertFlowStep(sent, spot, wait) : sent
    if (!steps) return gone
    await storeFlow(tx, sequence, { ...q.flow, steps })
    await tx.write("UPDATE sequence SET revision = revision + 1 WHERE id = ?", [sequence])
    return countMails(tx, sequence)
  })
}

/** Counts the e-mails that bring lessons anew, where any of them counts. */
export async function countMails(tx: Db, sequence: number): Promise<Saved> {
  const q = await lockedSequence(tx, sequence)
  if (!q) return gone
  const lessons = mailsInOrder(q.flow.steps, q.mails).filter((m) => m.lessonId !== null)
  if (!lessons.some((m) => /^\d+ of \d+: /.test(m.subject))) return ok
  for (const [i, m] of lessons.entries()) {
    const subject = numbered(m.subject, i, lessons.length).slice(0, 200)
    if (subject !== m.subject) await updateLetter(tx, { ...q.mails.find((x) => x.id === m.id)!, subject })
  }
  return ok
}
