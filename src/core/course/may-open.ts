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
  /** Theirs, but by the plan it opens only when their access, at `at`, is over. */
  | { readonly open: false; readonly why: "too-late"; readonly at: number }
  /** There is no such lesson in the course now. */
  | { readonly open: false; readonly why: "gone" }

type Opening = { readonly at: number | null; readonly because: Because }

/** Whether an admission is running at an instant. */
export const runs = (a: Pick<AdmissionTo, "from" | "until">, at: number) =>
  a.from <= at && (a.until === null || a.until > at)

/** The same as SQL asks of a row of `admission`, by the name that it has there; the instant is given twice. */
export const runsSql = (a = "admission") => `${a}.from_at <= ? AND (${a}.until_at IS NULL OR ${a}.until_at > ?)`

/** Whether an admission is to a lesson as a plan places it: a lesson belongs to the module that holds it then. */
const covers = (a: AdmissionTo, l: PlanLesson) =>
  a.lesson ? a.lesson === l.id : a.module === null || a.module === l.module

/**
 * Decides for one lesson. Open is what is a taste, or what an admission that runs now is to, and that opened at some instant
 * while an admission to it ran, by the plan that was in force then; or was looked at before.
 *
 * More admissions never show less; time alone closes only what has an end; changing the plan takes nothing back, also where
 * the lesson has come to stand in another module.
 */
export function mayOpen(asking: Asking, lesson: number): MayOpen {
  const { at } = asking
  const plan = asking.plans.at(-1)?.plan
  const found = plan && lessonOf(plan, lesson)
  if (!plan || !found) return { open: false, why: "gone" }
  if (asking.openToAll) return { open: true, by: "all" }
  if (found.free) return { open: true, by: "taste" }
  const covering = asking.admissions.filter((a) => covers(a, found))
  const opened = asking.admissions.filter((a) => hadOpen(asking, lesson, a))
  const seen = asking.admissions.filter((a) => hadSeen(asking, found, a))
  const running = [...covering, ...opened, ...seen].filter((a) => runs(a, at))
  if (!running.length) return notTheirs(asking, [...covering, ...opened], opened.length > 0 || seen.length > 0, lesson)
  // What was given by itself waits for no other lesson, and no day of the course.
  if (opened.length || seen.length || running.some((a) => a.lesson)) return { open: true, by: "admission" }
  return whenItOpens(asking, plan, found, covering)
}

/** The first instant at which an admission that covers it opens it while it runs; those that are still to come count, too. */
function whenItOpens(
  asking: Asking,
  plan: CoursePlan,
  lesson: PlanLesson,
  covering: readonly AdmissionTo[],
): Extract<MayOpen, { open: false }> {
  const { at } = asking
  const ahead = covering.filter((a) => a.until === null || a.until > at)
  const openings = ahead.flatMap((a): Opening[] => {
    const o: Opening = a.lesson ? { at: a.from, because: { kind: "admission" } } : opening(asking, plan, lesson, a)
    if (o.at === null) return [o]
    return a.until === null || Math.max(o.at, at) < a.until ? [o] : []
  })
  if (!openings.length) return { open: false, why: "too-late", at: Math.max(...ahead.map((a) => a.until ?? 0)) }
  const next = soonest(openings)
  return { open: false, why: "not-yet", at: next.at, because: next.because }
}

function notTheirs(
  asking: Asking,
  covering: readonly AdmissionTo[],
  hadIt: boolean,
  lesson: number,
): Extract<MayOpen, { open: false }> {
  const coming = covering.filter((a) => a.from > asking.at)
  if (coming.length) {
    // Whatever opened it before opens it with the first of them.
    const from = Math.min(...coming.map((a) => a.from))
    if (hadIt) return { open: false, why: "not-yet", at: from, because: { kind: "admission" } }
    const { plan } = asking.plans.at(-1)!
    return whenItOpens(asking, plan, lessonOf(plan, lesson)!, coming)
  }
  const ends = covering.map((a) => a.until ?? 0)
  if (ends.length) return { open: false, why: "ended", at: Math.max(...ends) }
  return { open: false, why: asking.known ? "outside" : "stranger" }
}

/** The plans, each with the time in which it was in force up to now; the first one held for whatever was before it, too. */
const inForce = ({ plans, at }: Asking): readonly { plan: CoursePlan; begin: number; end: number }[] =>
  plans.map(({ plan, from }, i) => {
    const last = i === plans.length - 1
    return {
      plan,
      begin: i === 0 ? Number.NEGATIVE_INFINITY : last ? Math.min(from, at) : from,
      end: last ? at + 1 : Math.min(plans[i + 1]!.from, at),
    }
  })

/** Whether there was an instant up to now at which an admission ran, was to the lesson, and the plan of then had opened it. */
function hadOpen(asking: Asking, lesson: number, a: AdmissionTo): boolean {
  return inForce(asking).some(({ plan, begin, end }) => {
    const l = lessonOf(plan, lesson)
    if (!l || a.lesson || !covers(a, l)) return false
    const from = Math.max(a.from, begin)
    const until = Math.min(end, a.until ?? Number.POSITIVE_INFINITY)
    if (from >= until) return false
    const o = opening(asking, plan, l, a)
    return o.at !== null && Math.max(o.at, from) < until
  })
}

/** Whether it was looked at, and an admission is to it as it stands now, or ran then and was to it as it stood then. */
function hadSeen(asking: Asking, now: PlanLesson, a: AdmissionTo): boolean {
  const seen = asking.progress.seen.get(now.id)
  if (seen === undefined || seen > asking.at) return false
  if (covers(a, now)) return true
  const then = inForce(asking).find(({ begin, end }) => begin <= seen && seen < end)
  const was = then && lessonOf(then.plan, now.id)
  return was !== undefined && runs(a, seen) && covers(a, was)
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
