// What makes a lesson done: a default for the course, and a choice of its own for a lesson.

export const doneBys = ["opened", "pressed", "watched", "passed", "accepted"] as const

/**
 * Opened: looked at. Pressed: the learner says so. Watched: its video to the end. Passed: its quiz. Accepted: what was handed in.
 * The last three are cmi5's *completed*, *passed*, and a *passed* that a person judges.
 */
export type DoneBy = (typeof doneBys)[number]

const isDoneBy = (name: string | null): name is DoneBy => doneBys.includes(name as DoneBy)

/** The lesson's own choice, or the course's; what nobody knows any more is a press. */
export function doneByOf(lesson: string | null, course: string): DoneBy {
  if (isDoneBy(lesson)) return lesson
  return isDoneBy(course) ? course : "pressed"
}

/**
 * Whether a part is done: everything required in it, or all of it where nothing is. What has no lesson is never done.
 */
export function isComplete(
  lessons: readonly { readonly id: number; readonly required: boolean }[],
  done: ReadonlySet<number>,
): boolean {
  const required = lessons.filter((l) => l.required)
  const wanted = required.length ? required : lessons
  return wanted.length > 0 && wanted.every((l) => done.has(l.id))
}
