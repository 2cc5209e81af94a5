// What leads on from what: an occasion sets off effects, an effect makes other occasions come about, and a sequence that is begun
// does things of its own at once and later. So that it can be seen, and so that no circle runs without a wait in it.

import { type EffectKind, effectKinds, sequenceBegun } from "../sequence/effect/list"
import type { Flow } from "../sequence/flow"
import { type SequenceStep, sequenceStepKinds, sidesOf } from "../sequence/step/list"
import { type Occasion, occasions } from "./occasion/list"

export type EffectOf = { readonly kind: EffectKind; readonly settings: object }

/** An occasion with what it is about: `tagged:5`, `joined:0`. */
export type OccasionKey = `${Occasion}:${number}`

/** Everything of a school that sets anything off. */
export type Wires = {
  readonly on: ReadonlyMap<OccasionKey, readonly EffectOf[]>
  readonly sequences: ReadonlyMap<number, Flow>
}

export type ChainLink = {
  readonly effect: EffectOf
  /** After a wait within the sequence that it is a step of. */
  readonly later: boolean
  /** The step of a sequence asks first: it isn't done for everybody. */
  readonly maybe: boolean
  /** What follows from it, in order. */
  readonly follows: readonly ChainLink[]
  /** It has been shown above: it isn't followed again. */
  readonly again: boolean
}

/** What becomes of the school by an effect: the occasions that it is, and the sequence that it begins. */
function leadsTo(e: EffectOf): { readonly occasions: readonly OccasionKey[]; readonly sequence: number | null } {
  const is = effectKinds[e.kind].happens?.(e.settings)
  const keys = is
    ? (Object.keys(occasions) as Occasion[])
        .filter((o) => occasions[o].happens === is.kind)
        .map((o): OccasionKey => `${o}:${occasions[o].about === null ? 0 : is.about}`)
    : []
  return { occasions: keys, sequence: sequenceBegun(e) }
}

type Done = { readonly effect: EffectOf; readonly later: boolean; readonly maybe: boolean }

/** What the steps of a sequence do, in order, and whether its end can be come to without waiting. */
function doneIn(flow: Flow): { readonly done: readonly Done[]; readonly endsAtOnce: boolean } {
  const done: Done[] = []
  /** Gives whether what comes behind is met only after a wait. */
  const walk = (steps: readonly SequenceStep[], later: boolean, maybe: boolean): boolean => {
    for (const step of steps) {
      if ("effect" in step) done.push({ effect: step.effect as EffectOf, later, maybe })
      const sides = sidesOf(step).map((side) => walk(side.steps, later, true))
      if (sides.length) later = later || sides.every(Boolean)
      else if (sequenceStepKinds[step.kind].waits) later = true
    }
    return later
  }
  const waits = walk(flow.steps, false, flow.goal !== null)
  return { done, endsAtOnce: !waits }
}

/** Everything that follows from some effects, as deep as it goes. */
export function whatFollows(wires: Wires, effects: readonly EffectOf[]): ChainLink[] {
  const seen = new Set<string>()
  const follow = (all: readonly Done[]): ChainLink[] =>
    all.map(({ effect, later, maybe }): ChainLink => {
      const key = JSON.stringify([effect.kind, effect.settings])
      const again = seen.has(key)
      seen.add(key)
      if (again) return { effect, later, maybe, follows: [], again: leads(wires, effect).length > 0 }
      return { effect, later, maybe, follows: follow(leads(wires, effect)), again: false }
    })
  return follow(effects.map((effect) => ({ effect, later: false, maybe: false })))
}

/** What comes right after an effect. */
function leads(wires: Wires, effect: EffectOf): Done[] {
  const { occasions: keys, sequence } = leadsTo(effect)
  const own = keys.flatMap((k) => wires.on.get(k) ?? []).map((e) => ({ effect: e, later: false, maybe: false }))
  const flow = sequence === null ? undefined : wires.sequences.get(sequence)
  if (!flow) return own
  const { done, endsAtOnce } = doneIn(flow)
  const atEnd = wires.on.get(`sequence-ended:${sequence!}`) ?? []
  return [...own, ...done, ...atEnd.map((e) => ({ effect: e, later: !endsAtOnce, maybe: false }))]
}

/** Whether an effect does something each time: a tag that is on isn't put on again, and most sequences begin once. */
const canRepeat = (e: EffectOf, circle: readonly EffectOf[]): boolean => {
  const undone = effectKinds[e.kind].undoneBy
  const about = effectKinds[e.kind].refs(e.settings)[0]?.id
  if (undone) return circle.some((x) => x.kind === undone && effectKinds[x.kind].refs(x.settings)[0]?.id === about)
  return sequenceBegun(e) === null || (e.settings as { again?: string }).again !== "no"
}

/** A circle that would go round in an instant, without end: its effects in order; null: there is none. */
export function circleIn(wires: Wires): readonly EffectOf[] | null {
  const every: EffectOf[] = [
    ...[...wires.on.values()].flat(),
    ...[...wires.sequences.values()].flatMap((flow) => doneIn(flow).done.map((d) => d.effect)),
  ]
  const keyOf = (e: EffectOf) => JSON.stringify([e.kind, e.settings])
  for (const start of every) {
    const look = (e: EffectOf, way: readonly EffectOf[]): readonly EffectOf[] | null => {
      if (way.length > 40) return null
      for (const next of leads(wires, e)) {
        if (next.later) continue
        if (keyOf(next.effect) === keyOf(start)) {
          if (way.every((x) => canRepeat(x, way))) return way
          continue
        }
        if (way.some((x) => keyOf(x) === keyOf(next.effect))) continue
        const found = look(next.effect, [...way, next.effect])
        if (found) return found
      }
      return null
    }
    const found = look(start, [start])
    if (found) return found
  }
  return null
}
