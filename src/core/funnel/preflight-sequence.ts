// What preflight knows of a sequence that a step begins: that its mails come, lead somewhere, can be left, and still fit the
// course they bring.
import { type Funnel, type Sequence, type SequenceMail, type Step, stepById } from "./draft"
import type { Finding, Fix, PreflightContext } from "./finding"
import { countsWrong } from "./lesson-mail"

export function checkSequence(
  sequence: Sequence,
  { step, funnel, context }: { step: Step; funnel: Funnel; context: PreflightContext },
): Finding[] {
  const base = { weight: "stop", step: step.id, where: sequence.name } as const
  const at: Fix = { go: "sequence", sequence: sequence.id }
  const found: Finding[] = []
  const blank = sequence.mails.find((m) => !m.subject.trim() || !m.body.replace(/<[^>]*>/g, "").trim())
  if (sequence.mails.length === 0)
    found.push({
      ...base,
      rule: "sequence-not-ready",
      suffers: `“${sequence.name}” begins, and no e-mail ever comes: it is empty.`,
      fix: at,
      says: "Write the first e-mail",
    })
  else if (blank)
    found.push({
      ...base,
      rule: "sequence-not-ready",
      suffers: `An e-mail of “${sequence.name}” would come without ${blank.subject.trim() ? "a word in it" : "a subject"}.`,
      fix: at,
      says: "Finish it",
    })
  if (sequence.mails.length > 0 && sequence.state === "draft")
    found.push({
      ...base,
      rule: "sequence-not-ready",
      suffers: `“${sequence.name}” is still a draft: the promised e-mails don't come.`,
      fix: { act: "sequence-live", sequence: sequence.id },
      says: "Put the sequence live",
    })
  for (const mail of sequence.mails) found.push(...checkMailButton(funnel, mail, base, at))
  if (!sequence.leaveLine.trim())
    found.push({
      ...base,
      rule: "sequence-cannot-be-left",
      suffers: `Readers of “${sequence.name}” find no link to unsubscribe.`,
      fix: at,
      says: "Write the line of the link",
    })
  if (!context.sender.email || !context.sender.name)
    found.push({
      ...base,
      rule: "sequence-without-sender",
      suffers: `Nobody can tell who “${sequence.name}” comes from: the school has no sender yet.`,
      fix: { go: "settings" },
      says: "Enter the sender",
    })
  return [...found, ...checkLessons(funnel, sequence, step)]
}

/** Where a mail's button leads: a lesson that is there, and live. */
function checkMailButton(
  funnel: Funnel,
  mail: SequenceMail,
  base: Pick<Finding, "weight" | "step" | "where">,
  fix: Fix,
): Finding[] {
  const subject = mail.subject || "an e-mail"
  const course = funnel.courses.find((c) => c.lessons.some((l) => l.id === mail.lessonId))
  if (mail.button && !course && !stepById(funnel, mail.stepId))
    return [
      {
        ...base,
        rule: "button-without-target",
        suffers: `The button “${mail.button}” in “${subject}” leads nowhere, and is left out.`,
        fix,
        says: "Choose where it leads",
      },
    ]
  const lesson = course?.lessons.find((l) => l.id === mail.lessonId)
  // Where no lesson is live at all, the course says so itself.
  if (lesson?.state !== "draft" || !course?.lessons.some((l) => l.state === "live")) return []
  return [
    {
      ...base,
      rule: "course-not-ready",
      suffers: `“${subject}” sends people to the lesson “${lesson.title}”, which is still a draft: they stand before a closed door.`,
      fix: { go: "course", course: course.id },
      says: "Put the lesson live",
    },
  ]
}

/** A sequence that brings a course lesson by lesson, and the lessons that have come since. */
function checkLessons(funnel: Funnel, sequence: Sequence, step: Step): Finding[] {
  const brought = new Set(sequence.mails.flatMap((m) => m.lessonId ?? []))
  const course = funnel.courses.find((c) => c.lessons.some((l) => brought.has(l.id)))
  if (!course || brought.size < 2) return []
  const base = { weight: "advice", step: step.id, where: sequence.name } as const
  const found: Finding[] = []
  for (const lesson of course.lessons) {
    if (brought.has(lesson.id)) continue
    if (lesson.state === "live")
      found.push({
        ...base,
        rule: "lesson-without-mail",
        suffers: `“${lesson.title}” is live in “${course.title}”, and no e-mail of “${sequence.name}” brings it.`,
        fix: { act: "write-mail", sequence: sequence.id, lesson: lesson.id },
        says: "Write the mail for the new lesson",
      })
    else
      found.push({
        ...base,
        rule: "lesson-without-mail",
        suffers: `“${lesson.title}” is still a draft in “${course.title}”, so it was left out: nobody sees it, and no e-mail brings it.`,
        fix: { go: "course", course: course.id },
        says: "Look at the lesson",
      })
  }
  const lessonMails = sequence.mails.filter((m) => m.lessonId !== null)
  const wrong = lessonMails.find((m, i) => countsWrong(m.subject, i, lessonMails.length))
  if (wrong)
    found.push({
      ...base,
      rule: "wrong-sum",
      suffers: `The e-mail “${wrong.subject}” counts wrong: ${lessonMails.length} e-mails of “${sequence.name}” bring lessons.`,
      fix: { act: "count-mails", sequence: sequence.id },
      says: "Count them anew",
    })
  return found
}
