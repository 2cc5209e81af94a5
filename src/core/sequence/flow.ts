// What a sequence does, as a tree of steps read from top to bottom: both sides of a split stand below one another and meet
// again behind it, unless one of them ends. Changes go from one value to another; a change that can't be made gives null.
import type { Segment } from "../person/segment/segment"
import { mailOf, type SequenceStep, sidesOf, withSide } from "./step/list"

export type Steps = readonly SequenceStep[]

export type Flow = {
  /** Whoever is this is at the goal: they leave from anywhere in it, and don't begin. Null: there is none. */
  readonly goal: Segment | null
  readonly steps: Steps
}

/** Every step, in the order in which they are read. */
export function allSteps(steps: Steps): SequenceStep[] {
  return steps.flatMap((s) => [s, ...sidesOf(s).flatMap((side) => allSteps(side.steps))])
}

export const stepOf = (flow: Flow, id: number): SequenceStep | undefined =>
  allSteps(flow.steps).find((s) => s.id === id)

/** The step that sends an e-mail. */
export const sendStepOf = (flow: Flow, mail: number): SequenceStep | undefined =>
  allSteps(flow.steps).find((s) => mailOf(s) === mail)

/** The step met after one; null where it was the last. Whoever comes to the end of a side goes on behind the split. */
export function stepAfter(flow: Flow, id: number): SequenceStep | null {
  const look = (steps: Steps, behind: SequenceStep | null): SequenceStep | null | undefined => {
    for (const [i, s] of steps.entries()) {
      const next = steps[i + 1] ?? behind
      if (s.id === id) return next
      for (const side of sidesOf(s)) {
        const found = look(side.steps, next)
        if (found !== undefined) return found
      }
    }
    return undefined
  }
  return look(flow.steps, null) ?? null
}

/** Where somebody goes on who has had an e-mail: behind the step that sends it; behind `step` where none does any more. */
export function behindMail(flow: Flow, mail: number, step: number | null): number | null {
  const sent = sendStepOf(flow, mail)?.id ?? step
  return sent === null ? null : (stepAfter(flow, sent)?.id ?? null)
}

/** The first step of a side; behind the split where that side is empty. */
export function stepInto(flow: Flow, split: SequenceStep, side: "yes" | "no"): SequenceStep | null {
  return sidesOf(split).find((x) => x.side === side)?.steps[0] ?? stepAfter(flow, split.id)
}

/** A place to put a step: after another, or first at a side of a split, or first of all. */
export type Spot =
  | { readonly after: number }
  | { readonly first: null }
  | { readonly first: number; readonly side: "yes" | "no" }

const map = (steps: Steps, change: (steps: Steps) => Steps): Steps =>
  change(steps.map((s) => sidesOf(s).reduce((t, { side, steps: inner }) => withSide(t, side, map(inner, change)), s)))

/** Puts a step in. Null where the spot isn't there, or lies within the step itself. */
export function insertFlowStep(steps: Steps, spot: Spot, step: SequenceStep): Steps | null {
  if ("after" in spot) {
    if (!allSteps(steps).some((s) => s.id === spot.after)) return null
    return map(steps, (list) => list.flatMap((s) => (s.id === spot.after ? [s, step] : [s])))
  }
  if (spot.first === null) return [step, ...steps]
  const { first, side } = spot
  const split = allSteps(steps).find((s) => s.id === first)
  const inner = split && sidesOf(split).find((x) => x.side === side)
  if (!split || !inner) return null
  return changeFlowStep(steps, first, (s) => withSide(s, side, [step, ...inner.steps]))
}

export function removeFlowStep(steps: Steps, id: number): Steps {
  return map(steps, (list) => list.filter((s) => s.id !== id))
}

/** Changes one step, wherever it is. */
export function changeFlowStep(steps: Steps, id: number, change: (s: SequenceStep) => SequenceStep): Steps {
  return map(steps, (list) => list.map((s) => (s.id === id ? change(s) : s)))
}

export function moveFlowStep(steps: Steps, id: number, spot: Spot): Steps | null {
  const step = allSteps(steps).find((s) => s.id === id)
  if (!step) return null
  const within = new Set(allSteps([step]).map((s) => s.id))
  const at = "after" in spot ? spot.after : spot.first
  if (at !== null && within.has(at)) return null
  return insertFlowStep(removeFlowStep(steps, id), spot, step)
}

/** Where a step goes to when it is moved up or down by one among its neighbours; null at the edge. */
export function spotBeside(steps: Steps, id: number, by: "up" | "down"): Spot | null {
  const look = (list: Steps, first: Spot): Spot | null | undefined => {
    const i = list.findIndex((s) => s.id === id)
    if (i >= 0) {
      if (by === "down") return list[i + 1] ? { after: list[i + 1]!.id } : null
      if (i === 0) return null
      return i === 1 ? first : { after: list[i - 2]!.id }
    }
    for (const s of list)
      for (const { side, steps: inner } of sidesOf(s)) {
        const found = look(inner, { first: s.id, side })
        if (found !== undefined) return found
      }
    return undefined
  }
  return look(steps, { first: null }) ?? null
}

/** A number that no step has yet. */
export const freshId = (steps: Steps): number => Math.max(0, ...allSteps(steps).map((s) => s.id)) + 1

/** A copy of a step with all that is in it: with numbers of its own, from `from` on, and its e-mails' as `mail` says. */
export function copyOf(step: SequenceStep, from: number, mail: (id: number) => number): SequenceStep {
  let next = from
  const copy = (s: SequenceStep): SequenceStep => {
    const id = next++
    const own = { ...s, id, ...(mailOf(s) === null ? {} : { mail: mail(mailOf(s)!) }) } as SequenceStep
    return sidesOf(s).reduce((t, { side, steps }) => withSide(t, side, steps.map(copy)), own)
  }
  return copy(step)
}
