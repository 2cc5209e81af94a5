// What a change of a live sequence means for those who are in it: where each goes on from, and what passes them by.
import { allSteps, type Flow, stepAfter, stepOf } from "./flow"
import { mailOf } from "./step/list"

/**
 * Where somebody goes on in a changed sequence who was at a step of it: the same step where it is still there, otherwise the
 * next that was to come and is; null: nothing that was to come is there any more.
 */
export function placeIn(now: Flow, was: Flow, step: number): number | null {
  for (let s = stepOf(was, step) ?? null; s; s = stepAfter(was, s.id)) if (stepOf(now, s.id)) return s.id
  return stepOf(now, step)?.id ?? null
}

/** The e-mails that may still come to somebody who is at a step, and those that lie above it. */
export function mailsFrom(flow: Flow, step: number): { readonly ahead: ReadonlySet<number>; readonly above: number[] } {
  const all = allSteps(flow.steps)
  const at = all.findIndex((s) => s.id === step)
  const ahead = new Set<number>()
  // What comes after in reading order also holds the other side of a split they stand in: that doesn't come.
  for (let s = stepOf(flow, step) ?? null; s; s = stepAfter(flow, s.id))
    for (const x of allSteps([s])) if (mailOf(x) !== null) ahead.add(mailOf(x)!)
  const above = all.slice(0, Math.max(0, at)).flatMap((s) => mailOf(s) ?? [])
  return { ahead, above: above.filter((m) => !ahead.has(m)) }
}

/** The e-mails that are new in a changed sequence and lie above a place: whoever is there doesn't get them. */
export function passedBy(now: Flow, was: Flow, step: number): number[] {
  const known = new Set(allSteps(was.steps).flatMap((s) => mailOf(s) ?? []))
  return mailsFrom(now, step).above.filter((m) => !known.has(m))
}
