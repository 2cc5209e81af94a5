// Whether somebody may open a lesson. The one place where that is decided: the learning area, files, mails, the members' list
// and preflight ask it, and no query decides by itself.
import { daysAfter, instantOf } from "./opens"
import { type CoursePlan, lessonOf, type PlanLesson, type PlanVersion, ruleOf } from "./plan"

export type AdmissionTo = {
  /** The module it opens; null: the whole course. */
  readonly module: number | null
  /** The one lesson it opens, whenever that opens by the plan; not given: all of them. */
  readonly lesson?: number | null
  /** Instants, ms; `until` null: without an end. */
  readonly from: number
  readonly until: number | null
}

export type LessonProgress = {
  /** When a lesson was first looked at, by lesson, ms. */
  readonly seen: ReadonlyMap<number, number>
  /** When it was done. */
  readonly done: ReadonlyMap<number, number>
}

export const noProgress: LessonProgress = { seen: new Map(), done: new Map() }

export type Asking = {
  /** Whether anybody is signed in. */
  readonly known: boolean
  readonly admissions: readonly AdmissionTo[]
  /** Every version of the plan, the oldest first; the last one is in force. */
  readonly plans: readonly PlanVersion[]
  /** The whole course is open to everybody, without signing in. */
  readonly openToAll: boolean
  readonly progress: LessonProgress
  /** IANA zone of the learner. */
  readonly zone: string
  /** The instant that is asked about, ms. */
  readonly at: number
}

/** What a lesson that isn't open yet waits for. */
export type Because =
  | { readonly kind: "days"; readonly days: number }
  | { readonly kind: "date" }
  | { readonly kind: "starts" }
  | { readonly kind: "admission" }
  | { readonly kind: "lesson"; readonly lesson: number }

export type MayOpen =
  | { readonly open: true; readonly by: "admission" | "taste" | "all" }
  /** `at` null: when something is done, not at an instant. */
  | { readonly open: false; readonly why: "not-yet"; readonly at: number | null; readonly because: Because }
  /** Not theirs: nobody is signed in, they were never let in, or what let them in is over since `at`. */
  | { readonly open: false; readonly why: "stranger" | "outside" }
  | { readonly open: false; readonly why: "ended"; readonly at: number }
  /** There is no such lesson in the course now. */
  | { readonly open: false; readonly why: "gone" }

type Opening = { readonly at: number | null; readonly because: Because }

const runs = (a: AdmissionTo, at: number) => a.from <= at && (a.until === null || a.until > at)

/**
 * Decides for one lesson. Open is what is a taste, or what an admission that runs now covers and that either opens by the plan
 * now, or opened for this person by a plan that was in force then, or was looked at before.
 *
 * More admissions never show less; time alone closes only what has an end; changing the plan takes nothing back.
 */
export function mayOpen(asking: Asking, lesson: number): MayOpen {
  const { at } = asking
  const plan = asking.plans.at(-1)?.plan
  const found = plan && lessonOf(plan, lesson)
  if (!plan || !found) return { open: false, why: "gone" }
  if (asking.openToAll) return { open: true, by: "all" }
  if (found.free) return { open: true, by: "taste" }
  const covering = asking.admissions.filter((a) =>
    a.lesson ? a.lesson === lesson : a.module === null || a.module === found.module,
  )
  const running = covering.filter((a) => runs(a, at))
  if (!running.length) return notTheirs(asking, covering)
  // What was given by itself waits for no other lesson, and no day of the course.
  if (running.some((a) => a.lesson)) return { open: true, by: "admission" }
  if ((asking.progress.seen.get(lesson) ?? Number.POSITIVE_INFINITY) <= at) return { open: true, by: "admission" }
  // One that is over counts with what it opened while it ran and this plan was in force; the first plan always was.
  const since = asking.plans.length > 1 ? asking.plans.at(-1)!.from : Number.NEGATIVE_INFINITY
  const opened = (a: AdmissionTo, o: Opening) => {
    if (o.at === null || o.at > at) return false
    return a.until === null || Math.max(o.at, since) < a.until
  }
  const begun = covering.filter((a) => a.from <= at).map((a) => [a, opening(asking, plan, found, a)] as const)
  if (begun.some(([a, o]) => opened(a, o))) return { open: true, by: "admission" }
  if (hadOpen(asking, lesson, covering)) return { open: true, by: "admission" }
  const next = soonest(begun.filter(([a]) => runs(a, at)).map(([, o]) => o))
  return { open: false, why: "not-yet", at: next.at, because: next.because }
}

function notTheirs(asking: Asking, covering: readonly AdmissionTo[]): MayOpen {
  const coming = covering.filter((a) => a.from > asking.at)
  if (coming.length) {
    const from = Math.min(...coming.map((a) => a.from))
    return { open: false, why: "not-yet", at: from, because: { kind: "admission" } }
  }
  const ends = covering.map((a) => a.until ?? 0)
  if (ends.length) return { open: false, why: "ended", at: Math.max(...ends) }
  return { open: false, why: asking.known ? "outside" : "stranger" }
}

/** Whether it opened under a plan before the one in force, while that was in force and an admission ran. */
function hadOpen(asking: Asking, lesson: number, covering: readonly AdmissionTo[]): boolean {
  const { plans, at } = asking
  for (const [i, version] of plans.slice(0, -1).entries()) {
    const end = Math.min(plans[i + 1]!.from, at)
    const was = lessonOf(version.plan, lesson)
    if (!was) continue
    for (const a of covering) {
      // The first plan holds for whatever was before it, too.
      const begin = Math.max(a.from, i === 0 ? 0 : version.from)
      if (begin >= end || (a.until !== null && a.until <= begin)) continue
      const o = opening(asking, version.plan, was, a)
      if (o.at === null) continue
      const opened = Math.max(o.at, begin)
      if (opened < end && (a.until === null || opened < a.until)) return true
    }
  }
  return false
}

/** The instant from which a plan opens a lesson to an admission; null while something is still to be done. */
function opening(asking: Asking, plan: CoursePlan, lesson: PlanLesson, a: AdmissionTo): Opening {
  let last = byRule(asking, plan, lesson, a)
  if (last.at !== null && last.at < a.from) last = { at: a.from, because: { kind: "admission" } }
  if (plan.starts !== null)
    last = later(last, { at: instantOf(plan.starts, "00:00", asking.zone), because: { kind: "starts" } })
  return plan.inOrder ? later(last, inOrder(asking, plan, lesson, a)) : last
}

function byRule(asking: Asking, plan: CoursePlan, lesson: PlanLesson, a: AdmissionTo): Opening {
  const rule = ruleOf(plan, lesson)
  switch (rule.kind) {
    case "at-once":
      return { at: a.from, because: { kind: "admission" } }
    case "after-days":
      return { at: daysAfter(a.from, rule.days, rule.at, asking.zone), because: { kind: "days", days: rule.days } }
    case "on-date":
      return { at: instantOf(rule.date, rule.at, asking.zone), because: { kind: "date" } }
    case "after-lesson":
      return whenDone(asking, plan, rule.lesson, a)
  }
}

/** One that is no longer there, or that this admission doesn't open, holds nobody up. */
function whenDone(asking: Asking, plan: CoursePlan, lesson: number, a: AdmissionTo): Opening {
  const because: Because = { kind: "lesson", lesson }
  const waited = lessonOf(plan, lesson)
  if (!waited || (a.module !== null && a.module !== waited.module && !waited.free)) return { at: a.from, because }
  return { at: asking.progress.done.get(lesson) ?? null, because }
}

/** In order, the first that is required before it and not done holds it up. */
function inOrder(asking: Asking, plan: CoursePlan, lesson: PlanLesson, a: AdmissionTo): Opening {
  let at = a.from
  for (const before of plan.lessons) {
    if (before.id === lesson.id) break
    if (!before.required) continue
    const done = asking.progress.done.get(before.id)
    if (done !== undefined && done <= at) continue
    const o = whenDone(asking, plan, before.id, a)
    if (o.at === null) return o
    at = Math.max(at, o.at)
  }
  return { at, because: { kind: "admission" } }
}

/** Both must have come: the later of them, or what is still to be done. */
const later = (a: Opening, b: Opening) => (a.at === null ? a : b.at === null || b.at > a.at ? b : a)

/** One is enough: the first of them. */
function soonest(all: readonly Opening[]): Opening {
  return all.reduce((a, b) => (b.at === null ? a : a.at === null || b.at < a.at ? b : a))
}
