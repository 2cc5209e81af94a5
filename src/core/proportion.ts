// A share of people, with how sure one can be of it.

export type Proportion = { readonly hits: number; readonly of: number; readonly low: number; readonly high: number }

/** The 97.5 % point of the standard normal distribution. */
const z95 = 1.959963984540054

/**
 * 95 % score interval without continuity correction for `hits` out of `of`.
 * Source: Wilson (1927), as method 3 in Newcombe (1998), Statistics in Medicine 17, 857–872.
 * Bounds lie in 0..1; with nobody yet they are 0 and 1. Throws RangeError unless 0 ≤ hits ≤ of, both whole.
 */
export function proportion(hits: number, of: number): Proportion {
  if (!Number.isInteger(hits) || !Number.isInteger(of) || hits < 0 || hits > of)
    throw new RangeError(`${hits} of ${of} is no share`)
  if (of === 0) return { hits, of, low: 0, high: 1 }
  const p = hits / of
  const zz = z95 * z95
  const centre = 2 * of * p + zz
  const spread = z95 * Math.sqrt(zz + 4 * of * p * (1 - p))
  const under = 2 * (of + zz)
  return {
    hits,
    of,
    low: hits === 0 ? 0 : (centre - spread) / under,
    high: hits === of ? 1 : (centre + spread) / under,
  }
}
