// A learner's way through a course: what comes before and after, how far they are, where to go on.

export type PathProgress = { readonly done: number; readonly of: number }

export function progressOf(lessons: readonly { id: number }[], done: ReadonlySet<number>): PathProgress {
  return { done: lessons.filter((l) => done.has(l.id)).length, of: lessons.length }
}

/** The first lesson not done yet; the first of all when everything is. Undefined for an empty course. */
export function nextLesson<L extends { id: number }>(lessons: readonly L[], done: ReadonlySet<number>): L | undefined {
  return lessons.find((l) => !done.has(l.id)) ?? lessons[0]
}

export function neighbours<L extends { id: number }>(lessons: readonly L[], id: number): { before?: L; after?: L } {
  const at = lessons.findIndex((l) => l.id === id)
  if (at < 0) return {}
  return { before: lessons[at - 1], after: lessons[at + 1] }
}
