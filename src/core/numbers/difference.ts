// How far two shares are apart, with how sure one can be of it.
import { type Proportion, proportion } from "../proportion"

export type Difference = { readonly difference: number; readonly low: number; readonly high: number }

/**
 * `a` less `b`, with its 95 % interval; null where either is of nobody.
 * Source: Newcombe (1998), Statistics in Medicine 17, 873–890, method 10: the hybrid score interval, without continuity correction.
 */
export function difference(a: Proportion, b: Proportion): Difference | null {
  if (a.of === 0 || b.of === 0) return null
  const [pa, pb] = [a.hits / a.of, b.hits / b.of]
  const apart = pa - pb
  return {
    difference: apart,
    low: apart - Math.hypot(pa - a.low, b.high - pb),
    high: apart + Math.hypot(a.high - pa, pb - b.low),
  }
}

/** The same of counts. */
export const differenceOf = (a: readonly [number, number], b: readonly [number, number]) =>
  difference(proportion(...a), proportion(...b))
