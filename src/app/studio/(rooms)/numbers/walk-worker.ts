// Walks a funnel by made-up people, away from the page.
import { chanceToLose } from "@/core/numbers/forecast"
import { quantileOf, simulate, type UnsureStep } from "@/core/numbers/simulate"

/** `cost`: what the visitors cost, minor units. */
export type Walk = {
  readonly steps: readonly UnsureStep[]
  readonly cost: number
  readonly runs: number
  readonly seed: number
  readonly spread: number
}
/** Four fifths of the runs lie between `low` and `high`; `loses`: the share that brought less than it cost. */
export type Walked = { readonly low: number; readonly high: number; readonly loses: number; readonly people: number }

self.onmessage = ({ data }: MessageEvent<Walk>) => {
  const walked = simulate(data.steps, data)
  self.postMessage({
    low: quantileOf(walked, 0.1),
    high: quantileOf(walked, 0.9),
    loses: chanceToLose(walked, data.cost),
    people: walked.people,
  } satisfies Walked)
}
