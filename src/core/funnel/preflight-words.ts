// What preflight knows of words and mails: that nothing is published which was left to be said, that mails can go out at all,
// and that what was made from a course still fits the course.
import { allBlocks, type Block } from "../page/document"
import { isPlaceholder } from "../page/placeholder"
import { type CourseCard, type Funnel, type Sequence, type Step, streamTo } from "./draft"
import { outcomesOf, stepKinds } from "./kinds"
import type { Finding } from "./preflight"
import { countsWrong, numberWords } from "./recipe"

/** How mail goes out: well, through no server at all, or what the server answered to the last test. */
export type MailState = "well" | "none" | { readonly refused: string }

export function checkWords(funnel: Funnel, mail: MailState): Finding[] {
  return [
    ...checkMailServer(funnel, mail),
    ...funnel.steps.flatMap((step) => [...unwritten(step), ...wrongSums(funnel, step)]),
    ...unreached(funnel),
    ...funnel.sequences.flatMap((q) => checkLessons(funnel, q)),
  ]
}

function checkMailServer(funnel: Funnel, mail: MailState): Finding[] {
  const step = funnel.steps.find((s) => s.kind === "inbox" || s.kind === "optin" || s.kind === "checkout")
  if (mail === "well" || !step) return []
  const waits =
    step.kind === "checkout"
      ? "no receipt and no sign-in link would come"
      : "nobody could ever confirm, and no e-mail would come"
  return [
    {
      rule: "no-mail-server",
      weight: "stop",
      step: step.id,
      where: "Mail",
      suffers:
        mail === "none"
          ? `No mail server is connected: ${waits}.`
          : `The mail server takes nothing (${mail.refused}): ${waits}.`,
      fix: { go: "mail" },
      says: mail === "none" ? "See how to connect one" : "Look at the mail server",
    },
  ]
}

/** What a block still leaves to be said, in words, or null. */
function gapOf(b: Block): string | null {
  switch (b.kind) {
    case "headline":
      return isPlaceholder(b.text)
        ? b.text.trim()
          ? `its headline still says “${b.text.trim()}”`
          : "a headline is empty"
        : null
    case "text":
      return isPlaceholder(b.html) ? "a text on it is still to be written" : null
    case "list":
      return b.items.some((i) => isPlaceholder(i)) ? "a list on it is still to be written" : null
    case "picture":
      return b.media === null ? "a picture on it is missing" : null
    case "video":
      return b.media === null ? "a video on it is missing" : null
    case "button":
      return b.says.trim() ? null : "a button on it says nothing"
    case "form":
      return b.says.trim() ? null : "the button of its form says nothing"
    case "decision":
      return b.accept.trim() && b.decline.trim() ? null : "its yes or its no says nothing"
    case "lessons":
      return b.course === null ? "its lesson list is of no course" : null
    default:
      return null
  }
}

function unwritten(step: Step): Finding[] {
  return [...allBlocks(step.page?.blocks ?? [])].flatMap((b): Finding[] => {
    const gap = gapOf(b)
    if (!gap) return []
    return [
      {
        rule: "words-to-write",
        weight: "stop",
        step: step.id,
        where: step.name,
        suffers: `Visitors of “${step.name}” would see an unfinished page: ${gap}.`,
        fix: { go: "page", step: step.id, block: b.id },
        says: b.kind === "picture" || b.kind === "video" ? "Choose one, or remove it" : "Finish it",
      },
    ]
  })
}

/** "Three short lessons" where there are four by now. */
function wrongSums(funnel: Funnel, step: Step): Finding[] {
  const learning = funnel.steps.find((s) => s.kind === "learning")
  const course = funnel.courses.find((c) => c.id === learning?.courseId)
  const live = liveOf(course).length
  if (!course || live === 0) return []
  const said = new RegExp(`\\b(${numberWords.join("|")}|\\d{1,3}) (?:short )?lessons?\\b`, "i")
  return [...allBlocks(step.page?.blocks ?? [])].flatMap((b): Finding[] => {
    const text = b.kind === "text" ? b.html.replace(/<[^>]*>/g, "") : b.kind === "headline" ? b.text : ""
    const found = said.exec(text)
    if (!found) return []
    const word = found[1]!.toLowerCase()
    const n = numberWords.includes(word) ? numberWords.indexOf(word) : Number(word)
    if (n === live) return []
    return [
      {
        rule: "wrong-sum",
        weight: "advice",
        step: step.id,
        where: step.name,
        suffers: `“${step.name}” speaks of “${found[0]}”, and “${course.title}” has ${live}.`,
        fix: { go: "page", step: step.id, block: b.id },
        says: "Correct it",
      },
    ]
  })
}

const liveOf = (course: CourseCard | undefined) => course?.lessons.filter((l) => l.state === "live") ?? []

/** Steps that no way leads to from where a funnel begins. */
function unreached(funnel: Funnel): Finding[] {
  const seen = new Set(funnel.steps.filter((s) => stepKinds[s.kind].entry).map((s) => s.id))
  const next = [...seen]
  for (let at = next.pop(); at !== undefined; at = next.pop()) {
    const step = funnel.steps.find((s) => s.id === at)
    for (const o of step ? outcomesOf(step.kind) : []) {
      const to = streamTo(funnel, at, o)?.id
      if (to !== undefined && !seen.has(to)) {
        seen.add(to)
        next.push(to)
      }
    }
  }
  // A way that is cut at an outcome is told there.
  const cut = funnel.steps.some((s) =>
    outcomesOf(s.kind).some((o) => seen.has(s.id) && o !== "stopped" && !streamTo(funnel, s.id, o)),
  )
  if (cut) return []
  return funnel.steps
    .filter((s) => !seen.has(s.id))
    .map((s) => ({
      rule: "nobody-reaches-it" as const,
      weight: "advice" as const,
      step: s.id,
      where: s.name,
      suffers: `Nobody can reach “${s.name}”: no outcome leads to it.`,
      fix: { go: "wiring" as const, step: s.id },
      says: "Lead somebody there, or remove it",
    }))
}

/** A sequence that brings a course lesson by lesson, and the lessons that have come since. */
function checkLessons(funnel: Funnel, sequence: Sequence): Finding[] {
  const brought = new Set(sequence.mails.flatMap((m) => m.lessonId ?? []))
  const begins = funnel.effects.find((e) => e.kind === "begin-sequence" && e.subject === sequence.id)
  const course = funnel.courses.find((c) => c.lessons.some((l) => brought.has(l.id)))
  if (!course || !begins || brought.size < 2) return []
  const base = { weight: "advice", step: begins.step, where: sequence.name } as const
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
