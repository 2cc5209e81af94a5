// Numbers: made-up people walked through a funnel, against a plain loop over typed arrays, and the exact forecast of a long one.
import { type ChainStep, expected } from "@/core/numbers/chain"
import { simulate, type UnsureStep } from "@/core/numbers/simulate"
import { type Line, median } from "./report"

const people = 100_000
const rounds = 15

/** Twelve steps, each with two ways on, one of which sells. */
const funnel = (length: number): UnsureStep[] =>
  Array.from({ length }, (_, i) => ({
    id: i,
    comes: i === 0 ? people : 0,
    outcomes: [
      { name: "on", rate: { a: 700, b: 300 }, brings: i % 3 === 2 ? 4_900 : 0, to: i + 1 < length ? i + 1 : null },
      { name: "aside", rate: { a: 120, b: 880 }, brings: 0, to: i + 2 < length ? i + 2 : null },
    ],
  }))

function timed(work: () => unknown): number {
  const times = Array.from({ length: rounds + 3 }, () => {
    const began = performance.now()
    work()
    return performance.now() - began
  })
  return median(times.slice(3))
}

/** The same walk with rates that are known, without anything that makes it ours. */
function bare(steps: readonly UnsureStep[]): number {
  const rate = (a: number, b: number) => a / (a + b)
  const first = Float64Array.from(steps, (s) => rate(s.outcomes[0]!.rate.a, s.outcomes[0]!.rate.b))
  const both = Float64Array.from(steps, (s, i) => first[i]! + rate(s.outcomes[1]!.rate.a, s.outcomes[1]!.rate.b))
  const brings = Float64Array.from(steps, (s) => s.outcomes[0]!.brings)
  let total = 0
  for (let n = 0; n < people; n++) {
    let here = 0
    while (here < steps.length) {
      const u = Math.random()
      if (u < first[here]!) total += brings[here++]!
      else if (u < both[here]!) here += 2
      else break
    }
  }
  return total
}

export async function benchNumbers(): Promise<Line[]> {
  const twelve = funnel(12)
  const ours = timed(() => simulate(twelve, { runs: 1, seed: 1 }))
  const against = timed(() => bare(twelve))
  const sixty = funnel(60).map(
    (s): ChainStep => ({ ...s, outcomes: s.outcomes.map((o) => ({ ...o, rate: o.rate.a / (o.rate.a + o.rate.b) })) }),
  )
  const exact = timed(() => expected(sixty))
  return [
    {
      what: "100,000 people through 12 steps, ms",
      ours: ours.toFixed(1),
      against: against.toFixed(1),
      ratio: (against / ours).toFixed(2),
      wanted: "under 150, at least 0.5 of a plain loop",
      missed: ours > 150 || against / ours < 0.5,
    },
    { what: "exact forecast of 60 steps, ms", ours: exact.toFixed(2), wanted: "under 5", missed: exact > 5 },
  ]
}
