// A funnel walked by made-up people, again and again: rates are drawn anew in each run, since none is known exactly.
import { uniformFloat64 } from "pure-rand/distribution/uniformFloat64"
import { xoroshiro128plus } from "pure-rand/generator/xoroshiro128plus"
import { type ChainStep, expected } from "./chain"
import { type Beta, meanOf } from "./rate"

export type UnsureStep = {
  readonly id: number
  /** How many come in here from outside, on average. */
  readonly comes: number
  readonly outcomes: readonly {
    readonly name: string
    readonly rate: Beta
    /** Minor units for each who takes it, on average. */
    readonly brings: number
    /** What some of them brought, of which one is drawn for each; not given: all bring the same. */
    readonly amounts?: readonly number[] | undefined
    readonly to: number | null
  }[]
}

export type Simulated = {
  /** What each run brought, minor units, the least first. */
  readonly totals: Float64Array
  /** How many people all runs had. */
  readonly people: number
}

/** The longest way of one person: who goes round and round is let go. */
const longestWay = 1_000

/** The same with each rate at its mean; rates of a step that come to more than one are brought down to it, each by its part. */
export const atTheirMeans = (steps: readonly UnsureStep[]): ChainStep[] =>
  steps.map((s) => {
    const over = Math.max(
      1,
      s.outcomes.reduce((sum, o) => sum + meanOf(o.rate), 0),
    )
    return { ...s, outcomes: s.outcomes.map((o) => ({ ...o, rate: meanOf(o.rate) / over })) }
  })

/**
 * Walks a funnel `runs` times. In each, who comes is drawn (Poisson), each rate is drawn from what is known of it, and each person
 * takes the ways one by one. The same seed gives the same. Throws as `expected` does.
 *
 * @param spread how much more those who come vary than by chance: variance over mean, at least 1
 */
export function simulate(
  steps: readonly UnsureStep[],
  { runs, seed, spread = 1 }: { runs: number; seed: number; spread?: number | undefined },
): Simulated {
  expected(atTheirMeans(steps))
  const rng = xoroshiro128plus(seed)
  const random = () => uniformFloat64(rng)
  const at = new Map(steps.map((s, i) => [s.id, i]))
  // Flat, so that a walk reads numbers one after the other: outcomes of step i stand from first[i] to first[i + 1].
  const first = new Int32Array(steps.length + 1)
  for (const [i, s] of steps.entries()) first[i + 1] = first[i]! + s.outcomes.length
  const all = steps.flatMap((s) => s.outcomes)
  const upTo = new Float64Array(all.length)
  const brings = Float64Array.from(all, (o) => o.brings)
  // What is drawn from stands one after the other: of outcome k so many from drawn[k] on.
  const many = Int32Array.from(all, (o) => o.amounts?.length ?? 0)
  const drawn = new Int32Array(all.length + 1)
  for (const [k, n] of many.entries()) drawn[k + 1] = drawn[k]! + n
  const amounts = Float64Array.from(all.flatMap((o) => o.amounts ?? []))
  const to = Int32Array.from(all, (o) => (o.to === null ? -1 : at.get(o.to)!))
  const totals = new Float64Array(runs)
  let people = 0
  for (let run = 0; run < runs; run++) {
    for (let i = 0; i < steps.length; i++) {
      let sum = 0
      for (let k = first[i]!; k < first[i + 1]!; k++) upTo[k] = sum += drawBeta(all[k]!.rate, random)
      if (sum > 1) for (let k = first[i]!; k < first[i + 1]!; k++) upTo[k]! /= sum
    }
    let total = 0
    for (let i = 0; i < steps.length; i++) {
      const come = drawPoisson(drawSpread(steps[i]!.comes, spread, random), random)
      people += come
      for (let n = 0; n < come; n++) {
        let here = i
        for (let stops = 0; here >= 0 && stops < longestWay; stops++) {
          const u = random()
          let k = first[here]!
          const end = first[here + 1]!
          while (k < end && u >= upTo[k]!) k++
          if (k === end) break
          const some = many[k]!
          total += some === 0 ? brings[k]! : amounts[drawn[k]! + Math.floor(random() * some)]!
          here = to[k]!
        }
      }
    }
    totals[run] = total
  }
  return { totals: totals.sort(), people }
}

/** The value below which a share `p` of the runs lies. */
export const quantileOf = ({ totals }: Simulated, p: number): number =>
  totals[Math.min(totals.length - 1, Math.floor(p * totals.length))] ?? 0

/** Standard normal: Box and Muller (1958). */
const drawNormal = (random: () => number) => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random())

/** Gamma with scale 1: Marsaglia and Tsang (2000), ACM Trans. Math. Softw. 26, 363–372. */
function drawGamma(shape: number, random: () => number): number {
  if (shape < 1) return drawGamma(shape + 1, random) * random() ** (1 / shape)
  const d = shape - 1 / 3
  const c = 1 / Math.sqrt(9 * d)
  for (;;) {
    const x = drawNormal(random)
    const v = (1 + c * x) ** 3
    if (v > 0 && Math.log(1 - random()) < 0.5 * x * x + d - d * v + d * Math.log(v)) return d * v
  }
}

function drawBeta({ a, b }: Beta, random: () => number): number {
  const x = drawGamma(a, random)
  return x / (x + drawGamma(b, random))
}

/** A mean that varies itself, so that a Poisson around it has so many times its variance (a negative binomial). */
const drawSpread = (mean: number, spread: number, random: () => number) =>
  spread > 1 && mean > 0 ? drawGamma(mean / (spread - 1), random) * (spread - 1) : mean

/** Poisson: by its gaps where few come (Knuth, TAOCP 2, 3.4.1), as the normal that it nears where many do. */
function drawPoisson(mean: number, random: () => number): number {
  if (mean > 500) return Math.max(0, Math.round(mean + Math.sqrt(mean) * drawNormal(random)))
  let n = -1
  for (let left = mean; left >= 0; n++) left += Math.log(1 - random())
  return n
}
