// What is known of a rate: what was assumed, what was counted, or both.
import jstat from "jstat"

/** A Beta distribution. */
export type Beta = { readonly a: number; readonly b: number }

/** Between `from` and `to`, most likely `likely`; all of them 0 to 1. */
export type Assumed = { readonly from: number; readonly likely: number; readonly to: number }

/** How many took it, of how many. */
export type Counted = { readonly hits: number; readonly of: number }

/** How sure an assumption's range is meant: four times out of five the rate lies within it. */
const within = 0.8

/** What can't be a rate, in words. */
export class RateError extends Error {}

/**
 * What is assumed of a rate as a distribution: its mode is the most likely, and four fifths of it lie between the ends. Its weight, in
 * people, is `a + b − 2`. Common practice; throws RateError where the three aren't in order or no rates.
 */
export function assumedRate({ from, likely, to }: Assumed): Beta {
  if ([from, likely, to].some((x) => !(x >= 0 && x <= 1))) throw new RateError("A rate lies between 0 and 100 %.")
  if (!(from <= likely && likely <= to)) throw new RateError("The most likely lies between the two others.")
  if (from === to) return weighing(likely, most)
  let [low, high] = [0, most]
  for (let i = 0; i < 60; i++) {
    const middle = (low + high) / 2
    const { a, b } = weighing(likely, middle)
    if (jstat.beta.cdf(to, a, b) - jstat.beta.cdf(from, a, b) < within) low = middle
    else high = middle
  }
  return weighing(likely, (low + high) / 2)
}

/** The greatest weight of an assumption, people. */
const most = 1e6
const weighing = (likely: number, people: number): Beta => ({ a: 1 + likely * people, b: 1 + (1 - likely) * people })

/**
 * What is known of a rate after counting: the assumption as a prior, joined with the data; without an assumption Jeffreys’ prior
 * (Brown, Cai and DasGupta 2001, Statistical Science 16, 101–133). Throws RateError where more took it than came.
 */
export function known({ hits, of }: Counted, prior: Beta = { a: 0.5, b: 0.5 }): Beta {
  if (!(hits >= 0 && hits <= of)) throw new RateError("More took it than came.")
  return { a: prior.a + hits, b: prior.b + of - hits }
}

export const meanOf = ({ a, b }: Beta): number => a / (a + b)

/** The rate below which it lies with the chance `p`. */
export const quantile = ({ a, b }: Beta, p: number): number => jstat.beta.inv(p, a, b)
