// Where things of a funnel stand: the address of a step, the course at its end, and where a button leads.

import type { CourseCard } from "../course/card"
import { formOf } from "../page/block/form"
import type { ButtonTarget } from "../page/block/kind"
import { type Funnel, type Step, type Stream, stepById, streamTo } from "./draft"
import { courseAt, hasPage, type Outcome, outcomes, stepKinds } from "./step/list"

/** The course that a funnel leads to. */
export function courseOf(funnel: Funnel): CourseCard | undefined {
  const courses = new Set(funnel.steps.map((s) => courseAt(s)))
  return funnel.courses.find((c) => courses.has(c.id))
}

/** Where a person who opens this step stands: a page of ours, or the course in the learning area. */
export function addressOf(funnel: Funnel, step: Step): string {
  if (hasPage(step.kind)) return `/${step.path}`
  const { stands } = stepKinds[step.kind]
  if (stands) return stands
  const course = funnel.courses.find((c) => c.id === courseAt(step))
  return course ? `/learn/${course.slug}` : "/learn"
}

/** The end of a funnel, where what was promised opens: its first step without a page. */
export function endOf(funnel: Funnel): Step | undefined {
  return funnel.steps.find((s) => !hasPage(s.kind))
}

/** Where a button on this step leads, as an address, or null where it leads nowhere. */
export function targetAddress(target: ButtonTarget | null, step: Step, funnel: Funnel): string | null {
  if (!target || target.to === "link") return null
  if (target.to === "form") return formOf(step.page) ? "#join" : null
  const to = target.to === "step" ? stepById(funnel, target.step) : streamTo(funnel, step.id, target.outcome as Outcome)
  return to ? `${addressOf(funnel, to)}${target.to === "outcome" && opensCourse(to) ? beginQuery : ""}` : null
}

/** What takes whoever follows a way into a course straight to the lesson that is next for them. */
export const beginQuery = "?begin"
const opensCourse = (step: Step) => !hasPage(step.kind) && courseAt(step) !== null

/** Where somebody begins who has strayed into the middle of a funnel: the page they are most gladly sent to. */
export function beginningOf(funnel: Funnel): Step | undefined {
  const gate = (s: Step) => stepKinds[s.kind].gate ?? 0
  return [...funnel.steps].sort((a, b) => gate(b) - gate(a))[0]
}

/** The ways to a step that somebody has gone who looks at its page. */
export function waysByLooking(funnel: Funnel, to: number): Stream[] {
  return funnel.streams.filter((t) => t.to === to && outcomes[t.outcome].byLooking)
}
