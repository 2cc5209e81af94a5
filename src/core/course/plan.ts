// The plan of a course: which lessons there are, in which order, and when each opens. One value, with every version of it
// that was ever in force, so that what somebody has had open stays open when the marketer thinks again.
import type { Opens } from "./opens"

export type PlanLesson = {
  readonly id: number
  /** The module it stands in; null: before the first one. */
  readonly module: number | null
  /** Null: as its module, and that as the course. */
  readonly opens: Opens | null
  /** A taste: open to everybody. */
  readonly free: boolean
  /** Must be done before what comes after it, where the course goes in order, and for the certificate. */
  readonly required: boolean
}

export type CoursePlan = {
  readonly opens: Opens
  /** Nothing opens before this day on the learner's calendar, at midnight; null: it has begun. */
  readonly starts: string | null
  /** A lesson opens when those required before it are done. */
  readonly inOrder: boolean
  readonly modules: readonly { readonly id: number; readonly opens: Opens | null }[]
  /** What is live, in the order in which it is shown. */
  readonly lessons: readonly PlanLesson[]
}

/** A plan and the instant from which it has been in force, ms; the next one's is its end. */
export type PlanVersion = { readonly from: number; readonly plan: CoursePlan }

/** What a lesson waits for: its own rule, its module's, or the course's. */
export function ruleOf(plan: CoursePlan, lesson: PlanLesson): Opens {
  return lesson.opens ?? plan.modules.find((m) => m.id === lesson.module)?.opens ?? plan.opens
}

const indexes = new WeakMap<CoursePlan, ReadonlyMap<number, PlanLesson>>()

/** A lesson of a plan; undefined where it has none of that number. */
export function lessonOf(plan: CoursePlan, lesson: number): PlanLesson | undefined {
  let index = indexes.get(plan)
  if (!index) {
    index = new Map(plan.lessons.map((l) => [l.id, l]))
    indexes.set(plan, index)
  }
  return index.get(lesson)
}

/**
 * Whether a plan only adds to the one before, so that it can take its place: every lesson that was there has its rule, and
 * its place among those that were. Kept apart, a course written lesson by lesson would leave hundreds of versions.
 */
export function onlyAdds(before: CoursePlan, after: CoursePlan): boolean {
  if (before.starts !== after.starts || before.inOrder !== after.inOrder) return false
  const known = new Map(before.lessons.map((l) => [l.id, l]))
  const stayed = after.lessons.filter((l) => known.has(l.id))
  if (stayed.length !== before.lessons.length) return false
  // In order, something new among the old would stand before them.
  const compared = after.inOrder ? after.lessons.slice(0, before.lessons.length) : stayed
  return compared.every((l, i) => {
    const was = before.lessons[i]!
    return (
      was.id === l.id &&
      was.module === l.module &&
      was.free === l.free &&
      was.required === l.required &&
      JSON.stringify(ruleOf(before, was)) === JSON.stringify(ruleOf(after, l))
    )
  })
}

/**
 * Lessons that can never open, with why: they wait for one that is gone, for themselves, or in a circle.
 *
 * @returns by lesson, in the order of the course
 */
export function neverOpens(plan: CoursePlan): ReadonlyMap<number, "gone" | "circle"> {
  const found = new Map<number, "gone" | "circle">()
  const at = new Map(plan.lessons.map((l, i) => [l.id, i]))
  // What a lesson waits for directly: the lesson of its rule, and in order those required before it.
  const waitsFor = (i: number): number[] => {
    const rule = ruleOf(plan, plan.lessons[i]!)
    const named = rule.kind === "after-lesson" ? (at.get(rule.lesson) ?? []) : []
    const before = plan.inOrder ? plan.lessons.slice(0, i).findLastIndex((l) => l.required) : -1
    return [...[named].flat(), ...(before < 0 ? [] : [before])]
  }
  // A lesson opens once all it waits for can open: what is left over after that has gone round is in a circle, or behind one.
  const opens = new Set<number>()
  let before = -1
  while (opens.size !== before) {
    before = opens.size
    for (let i = 0; i < plan.lessons.length; i++)
      if (!opens.has(i) && waitsFor(i).every((w) => opens.has(w))) opens.add(i)
  }
  for (const [i, l] of plan.lessons.entries()) {
    const rule = ruleOf(plan, l)
    if (rule.kind === "after-lesson" && !at.has(rule.lesson)) found.set(l.id, "gone")
    else if (!opens.has(i)) found.set(l.id, "circle")
  }
  return found
}
