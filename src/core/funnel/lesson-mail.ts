// The mail that brings a lesson of a course, and the counting of such mails in their subjects.

import type { CourseCard } from "../course/card"
import { escapeHtml } from "../html"
import { richChip } from "../mail/chip"
import type { SequenceMail } from "../sequence/mail"
import type { RecipeCourse } from "./step/kind"

/** Half past seven: "once a day, in the morning, where the reader is" (rule of the trade). */
export const morning = 7 * 60 + 30

/** The mail that brings lesson `i` (from 0) of so many. */
export function lessonMail(
  course: RecipeCourse,
  lesson: CourseCard["lessons"][number],
  i: number,
  of: number,
): Omit<SequenceMail, "id" | "stepId"> {
  const opening = course.openings.get(lesson.id)
  return {
    afterDays: i === 0 ? 0 : 1,
    atMinute: i === 0 ? null : morning,
    preview: "",
    plain: "",
    subject: numbered(lesson.title, i, of),
    body:
      `<p>${i === 0 ? "Hello" : "Good morning"} ${richChip("first-name", "friend")},</p>` +
      `<p>${i === 0 ? `welcome to “${escapeHtml(course.title)}”. Here is the first lesson: ` : "today’s lesson: "}<strong>${escapeHtml(lesson.title)}</strong>.</p>` +
      (opening ? `<p>${escapeHtml(opening)}</p>` : "") +
      (course.teacher ? `<p>${escapeHtml(course.teacher)}</p>` : ""),
    button: lesson.minutes ? `Open the lesson (${lesson.minutes} min)` : "Open the lesson",
    lessonId: lesson.id,
  }
}

const counted = /^(\d{1,3}) of (\d{1,3}): /

/** A subject that counts the lessons: "2 of 5: Salt". One that counted before counts anew. */
export function numbered(subject: string, i: number, of: number): string {
  const bare = subject.replace(counted, "")
  return of > 1 ? `${i + 1} of ${of}: ${bare}` : bare
}

/** Whether a subject counts, and counts wrong. */
export function countsWrong(subject: string, i: number, of: number): boolean {
  const found = counted.exec(subject)
  return found !== null && (Number(found[1]) !== i + 1 || Number(found[2]) !== of)
}
