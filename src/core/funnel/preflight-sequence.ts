// What preflight knows of a sequence that a step begins: that its mails come, lead somewhere, can be left, and still fit the
// course they bring.

import { type Finding, type Fix, found } from "../finding"
import type { SequenceMail } from "../sequence/mail"
import { type Funnel, type Sequence, type Step, stepById } from "./draft"
import type { PreflightContext } from "./finding"
import { countsWrong } from "./lesson-mail"

export function checkSequence(
  sequence: Sequence,
  { step, funnel, context }: { step: Step; funnel: Funnel; context: PreflightContext },
): Finding[] {
  const { name } = sequence
  const of = { where: name }
  const at: Fix = { go: "sequence", sequence: sequence.id }
  const list: Finding[] = []
  const blank = sequence.mails.find((m) => !m.subject.trim() || !m.body.replace(/<[^>]*>/g, "").trim())
  if (sequence.mails.length === 0)
    list.push(found("sequence-not-ready", step, { why: "empty", sequence: name }, at, of))
  else if (blank) {
    const lacks = blank.subject.trim() ? "text" : "subject"
    list.push(found("sequence-not-ready", step, { why: "blank", sequence: name, lacks }, at, of))
  }
  if (sequence.mails.length > 0 && sequence.state === "draft") {
    const live: Fix = { act: "sequence-live", sequence: sequence.id }
    list.push(found("sequence-not-ready", step, { why: "draft", sequence: name }, live, of))
  }
  for (const mail of sequence.mails) list.push(...checkMailButton(funnel, mail, step, name, at))
  if (!sequence.leaveLine.trim()) list.push(found("sequence-cannot-be-left", step, { sequence: name }, at, of))
  if (!context.sender.email || !context.sender.name)
    list.push(found("sequence-without-sender", step, { sequence: name }, { go: "settings" }, of))
  return [...list, ...checkLessons(funnel, sequence, step)]
}

/** Where a mail's button leads: a lesson that is there, and live. */
function checkMailButton(funnel: Funnel, mail: SequenceMail, step: Step, where: string, fix: Fix): Finding[] {
  const subject = mail.subject || "an e-mail"
  const course = funnel.courses.find((c) => c.lessons.some((l) => l.id === mail.lessonId))
  if (mail.button && !course && !stepById(funnel, mail.stepId))
    return [found("button-without-target", step, { button: mail.button, on: { mail: subject } }, fix, { where })]
  const lesson = course?.lessons.find((l) => l.id === mail.lessonId)
  // Where no lesson is live at all, the course says so itself.
  if (lesson?.state !== "draft" || !course?.lessons.some((l) => l.state === "live")) return []
  const data = { why: "lesson-draft", mail: subject, lesson: lesson.title } as const
  return [found("course-not-ready", step, data, { go: "course", course: course.id }, { where })]
}

/** A sequence that brings a course lesson by lesson, and the lessons that have come since. */
function checkLessons(funnel: Funnel, sequence: Sequence, step: Step): Finding[] {
  const brought = new Set(sequence.mails.flatMap((m) => m.lessonId ?? []))
  const course = funnel.courses.find((c) => c.lessons.some((l) => brought.has(l.id)))
  if (!course || brought.size < 2) return []
  const of = { weight: "advice", where: sequence.name } as const
  const list = course.lessons
    .filter((lesson) => !brought.has(lesson.id))
    .map((lesson) => {
      const live = lesson.state === "live"
      return found(
        "lesson-without-mail",
        step,
        { lesson: lesson.title, course: course.title, sequence: sequence.name, live },
        live ? { act: "write-mail", sequence: sequence.id, lesson: lesson.id } : { go: "course", course: course.id },
        of,
      )
    })
  const lessonMails = sequence.mails.filter((m) => m.lessonId !== null)
  const wrong = lessonMails.find((m, i) => countsWrong(m.subject, i, lessonMails.length))
  if (!wrong) return list
  const data = { mail: wrong.subject, sequence: sequence.name, mails: lessonMails.length }
  return [...list, found("wrong-sum", step, data, { act: "count-mails", sequence: sequence.id }, of)]
}
