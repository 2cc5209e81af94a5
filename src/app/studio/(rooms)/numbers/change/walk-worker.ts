// Walks a funnel by made-up people, away from the page.
import { quantileOf, simulate, type UnsureStep } from "@/core/numbers/simulate"

export type Walk = { readonly steps: readonly UnsureStep[]; readonly runs: number; readonly seed: number }
export type Walked = { readonly low: number; readonly middle: number; readonly high: number; readonly people: number }

self.onmessage = ({ data }: MessageEvent<Walk>) => {
  const walked = simulate(data.steps, data)
  const [low, middle, high] = [0.1, 0.5, 0.9].map((p) => quantileOf(walked, p)) as [number, number, number]
  self.postMessage({ low, middle, high, people: walked.people } satisfies Walked)
}
