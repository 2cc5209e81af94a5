// A funnel as it was measured: how many came to each step and went out by which outcome, as a chain with what is known of each rate.
import type { Funnel } from "../funnel/draft"
import { kindsThat, type Outcome, outcomes, stepKinds, waysOf } from "../funnel/step/list"
import { type Proportion, proportion } from "../proportion"
import { type ChainStep, type Expected, expected, type Lever, levers } from "./chain"
import { type Beta, known, meanOf, quantile } from "./rate"
import type { UnsureStep } from "./simulate"

/** So many who came to a step by an outcome of another; `from` 0: from outside. */
export type Passed = { readonly from: number; readonly outcome: string; readonly step: number; readonly n: number }

/** What each brought on average, and what some of them did, from the least to the most; minor units. */
export type StepBrings = { readonly mean: number; readonly some: readonly number[] }

export type MeasuredOutcome = {
  readonly name: Outcome
  readonly done: string
  readonly rate: Proportion
  readonly belief: Beta
  /** What each who takes it brings at this step, minor units. */
  readonly brings: number
  /** What some of them brought, the least first; empty: nobody did. */
  readonly amounts: readonly number[]
  readonly to: number | null
  /** Whether something is sold by it: first in a story, or more after that. */
  readonly sells: "first" | "more" | null
  readonly instead: Outcome | undefined
  /** Whether somebody turns something down by it: nobody wants more of that. */
  readonly turned: boolean
}

export type MeasuredStep = {
  readonly id: number
  readonly name: string
  readonly comes: number
  readonly visits: number
  readonly outcomes: readonly MeasuredOutcome[]
}

/**
 * The steps of a funnel with what was counted at them. What passed a step that is no longer there isn't reckoned; who came from such a
 * step counts as come from outside.
 *
 * @param brings what those who bought at a step brought by it, by the step's number
 */
export function measured(
  funnel: Pick<Funnel, "steps" | "streams">,
  passed: readonly Passed[],
  brings: ReadonlyMap<number, StepBrings>,
): MeasuredStep[] {
  const ids = new Set(funnel.steps.map((s) => s.id))
  const sum = (which: (p: Passed) => boolean) => passed.filter(which).reduce((n, p) => n + p.n, 0)
  return funnel.steps.map((s) => {
    const visits = sum((p) => p.step === s.id)
    const { sells } = stepKinds[s.kind]
    return {
      id: s.id,
      name: s.name,
      comes: sum((p) => p.step === s.id && !ids.has(p.from)),
      visits,
      outcomes: waysOf(s.kind).map((name): MeasuredOutcome => {
        const took = passed.filter((p) => p.from === s.id && p.outcome === name && ids.has(p.step))
        const n = Math.min(
          visits,
          took.reduce((all, p) => all + p.n, 0),
        )
        const most = took.toSorted((a, b) => b.n - a.n)[0]?.step
        return {
          name,
          done: outcomes[name].done,
          rate: proportion(n, visits),
          belief: known({ hits: n, of: visits }),
          brings: name === sells?.took ? (brings.get(s.id)?.mean ?? 0) : 0,
          amounts: name === sells?.took ? (brings.get(s.id)?.some ?? []) : [],
          to: most ?? funnel.streams.find((x) => x.from === s.id && x.outcome === name)?.to ?? null,
          sells: name === sells?.took ? sells.as : null,
          instead: name === sells?.took ? (sells.turned ?? undefined) : undefined,
          turned: name === sells?.turned,
        }
      }),
    }
  })
}

/** The outcomes of a further offer of which nothing is known. */
export function unknownFurther(): readonly MeasuredOutcome[] {
  const [kind] = kindsThat((k) => k.sells?.as === "more")
  const step = { id: 0, kind: kind!, name: "", path: "", page: null, settings: {} }
  return measured({ steps: [step], streams: [] }, [], new Map())[0]!.outcomes
}

const counted = (p: Proportion) => (p.of === 0 ? 0 : p.hits / p.of)

/** The measured rates as if they were known exactly. Those of a step that come to more than one are brought down to it. */
export const chainOf = (steps: readonly MeasuredStep[]): ChainStep[] =>
  steps.map((s) => {
    const over = Math.max(
      1,
      s.outcomes.reduce((sum, o) => sum + counted(o.rate), 0),
    )
    return { ...s, outcomes: s.outcomes.map((o) => ({ ...o, rate: counted(o.rate) / over })) }
  })

/** The same with how unsure each rate is; `times` as many come. */
export const unsureOf = (steps: readonly MeasuredStep[], times = 1): UnsureStep[] =>
  steps.map((s) => ({
    id: s.id,
    comes: s.comes * times,
    outcomes: s.outcomes.map((o) => ({ name: o.name, rate: o.belief, brings: o.brings, amounts: o.amounts, to: o.to })),
  }))

export type FirstToChange = Lever & {
  readonly name: string
  readonly outcomeOf: MeasuredOutcome
  /** What raising it to the better quarter of what it may truly be would bring, minor units, and that rate. */
  readonly better: { readonly rate: number; readonly brings: number }
}

/**
 * What to change first: what one more of a hundred at each outcome would have brought, the most first. Outcomes at steps to which nobody
 * came say nothing, nor do those by which something is turned down.
 */
export function whatFirst(steps: readonly MeasuredStep[]): { first: FirstToChange[]; of: Expected } {
  const chain = chainOf(steps)
  const of = expected(chain)
  const first = levers(chain, of).flatMap((l): FirstToChange[] => {
    const step = steps.find((s) => s.id === l.step)!
    const outcomeOf = step.outcomes.find((o) => o.name === l.outcome)!
    if (outcomeOf.turned || step.visits === 0) return []
    const rate = Math.max(meanOf(outcomeOf.belief), quantile(outcomeOf.belief, 0.75))
    return [{ ...l, name: step.name, outcomeOf, better: { rate, brings: raised(chain, l, rate) - of.total } }]
  })
  return { first, of }
}

/** The total with one rate raised, from those who leave or from the outcome that they took instead; as far as there are any. */
function raised(chain: readonly ChainStep[], l: Lever, to: number): number {
  return expected(
    chain.map((s) => {
      if (s.id !== l.step) return s
      const lifted = s.outcomes.find((o) => o.name === l.outcome)!
      const instead = s.outcomes.find((o) => o.name === lifted.instead)
      const free = instead ? instead.rate : 1 - s.outcomes.reduce((sum, o) => sum + o.rate, 0)
      const by = Math.max(0, Math.min(to - lifted.rate, free))
      return {
        ...s,
        outcomes: s.outcomes.map((o) =>
          o === lifted ? { ...o, rate: o.rate + by } : o === instead ? { ...o, rate: o.rate - by } : o,
        ),
      }
    }),
  ).total
}
