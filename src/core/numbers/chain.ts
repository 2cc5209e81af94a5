// A funnel as an absorbing Markov chain with yields: who takes no outcome of a step leaves there.
import { LuDecomposition, Matrix } from "ml-matrix"

export type ChainOutcome = {
  readonly name: string
  /** The share of who comes to the step that takes it, 0 to 1. */
  readonly rate: number
  /** What it brings for each who takes it, in minor units. */
  readonly brings: number
  /** The step that follows, by its number; null: it leads out. */
  readonly to: number | null
  /** The outcome of the same step that more of this one take from; not given: from those who leave. */
  readonly instead?: string | undefined
}

export type ChainStep = {
  readonly id: number
  /** Who comes in here from outside. */
  readonly comes: number
  readonly outcomes: readonly ChainOutcome[]
}

export type Expected = {
  /** How often each step is come to, by its number. */
  readonly visits: ReadonlyMap<number, number>
  /** What somebody at a step still brings, minor units. */
  readonly worth: ReadonlyMap<number, number>
  /** What all of them bring, minor units. */
  readonly total: number
  /** Of one who comes in; null: nobody does. */
  readonly perVisitor: number | null
}

/** What can't be reckoned, in words. */
export class ChainError extends Error {}

/**
 * Expected visits and yields, exactly: visits by the fundamental matrix N = (I − Q)⁻¹, worth as N times what a step brings.
 * Source: Grinstead and Snell, Introduction to Probability, 11.2 (theorems 11.4 and 11.5).
 * Throws ChainError for rates that are none or sum to more than one, an outcome that leads nowhere known, or steps that nobody ever leaves.
 */
export function expected(steps: readonly ChainStep[]): Expected {
  check(steps)
  const n = steps.length
  if (n === 0) return { visits: new Map(), worth: new Map(), total: 0, perVisitor: null }
  const at = new Map(steps.map((s, i) => [s.id, i]))
  const stays = Matrix.eye(n)
  for (const [i, s] of steps.entries())
    for (const o of s.outcomes) {
      const to = o.to === null ? undefined : at.get(o.to)
      if (to !== undefined) stays.set(i, to, stays.get(i, to) - o.rate)
    }
  const comes = Matrix.columnVector(steps.map((s) => s.comes))
  const brings = Matrix.columnVector(steps.map((s) => s.outcomes.reduce((sum, o) => sum + o.rate * o.brings, 0)))
  const visits = new LuDecomposition(stays.transpose()).solve(comes)
  const worth = new LuDecomposition(stays).solve(brings)
  const of = (column: Matrix) => new Map(steps.map((s, i) => [s.id, column.get(i, 0)]))
  const people = steps.reduce((sum, s) => sum + s.comes, 0)
  const total = steps.reduce((sum, s, i) => sum + s.comes * worth.get(i, 0), 0)
  return { visits: of(visits), worth: of(worth), total, perVisitor: people > 0 ? total / people : null }
}

/** A rate, and what comes of raising it. */
export type Lever = {
  readonly step: number
  readonly outcome: string
  /** What one more of a hundred would bring, minor units. */
  readonly perPoint: number
}

/**
 * What each rate is worth: the derivative of the total by it, for one hundredth. Who takes the outcome brings what it brings, and what
 * somebody at the next step still does, less what they would have brought by the outcome that they took instead. The greatest first.
 */
export function levers(steps: readonly ChainStep[], of: Expected = expected(steps)): Lever[] {
  const worthOf = (o: ChainOutcome | undefined) => (o ? o.brings + (o.to === null ? 0 : of.worth.get(o.to)!) : 0)
  return steps
    .flatMap((s) =>
      s.outcomes.map((o) => ({
        step: s.id,
        outcome: o.name,
        perPoint: (of.visits.get(s.id)! * (worthOf(o) - worthOf(s.outcomes.find((x) => x.name === o.instead)))) / 100,
      })),
    )
    .sort((a, b) => b.perPoint - a.perPoint)
}

/** Rates that come from counts may miss one by their rounding. */
const slack = 1e-9

function check(steps: readonly ChainStep[]): void {
  const known = new Set(steps.map((s) => s.id))
  for (const s of steps) {
    if (!(s.comes >= 0)) throw new ChainError("Fewer than nobody can’t come in.")
    for (const o of s.outcomes) {
      if (!(o.rate >= 0 && o.rate <= 1 + slack)) throw new ChainError("A rate lies between 0 and 100 %.")
      if (!Number.isFinite(o.brings)) throw new ChainError("What an outcome brings is a number.")
      if (o.to !== null && !known.has(o.to)) throw new ChainError("An outcome leads to a step that isn’t there.")
    }
    if (s.outcomes.reduce((sum, o) => sum + o.rate, 0) > 1 + slack)
      throw new ChainError("The rates of a step come to more than 100 %.")
  }
  const ends = new Set(steps.filter(leaves).map((s) => s.id))
  for (let grows = true; grows; ) {
    const more = steps.filter((s) => !ends.has(s.id) && s.outcomes.some((o) => o.rate > 0 && ends.has(o.to ?? -1)))
    for (const s of more) ends.add(s.id)
    grows = more.length > 0
  }
  if (ends.size < steps.length) throw new ChainError("Some steps lead only to one another: nobody ever leaves them.")
}

const leaves = (s: ChainStep) =>
  s.outcomes.some((o) => o.to === null && o.rate > 0) || s.outcomes.reduce((sum, o) => sum + o.rate, 0) < 1 - slack
