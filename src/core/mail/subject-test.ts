// Which of several subjects did better, and how sure one can be of it.
import { type Proportion, proportion } from "../proportion"

/**
 * The difference of two shares, `a` less `b`, with its 95 % interval.
 * Source: Newcombe (1998), Statistics in Medicine 17, 873–890, method 10 (hybrid of two Wilson intervals).
 */
export function difference(
  a: Proportion,
  b: Proportion,
): { readonly by: number; readonly low: number; readonly high: number } {
  const share = (p: Proportion) => (p.of === 0 ? 0 : p.hits / p.of)
  const [p, q] = [share(a), share(b)]
  const by = p - q
  return {
    by,
    low: by - Math.sqrt((p - a.low) ** 2 + (b.high - q) ** 2),
    high: by + Math.sqrt((a.high - p) ** 2 + (q - b.low) ** 2),
  }
}

export type Tried = { readonly sent: number; readonly clicked: number; readonly opened: number }

export type Outcome = {
  /** The one that did best, from 0. */
  readonly best: number
  /** By clicks, or by opens where nobody has clicked yet. */
  readonly by: "clicked" | "opened"
  /** Whether it is surely better than each of the others: the interval of the difference lies above nought. */
  readonly sure: boolean
  /** Against the second best: the difference of the shares. */
  readonly ahead: { readonly by: number; readonly low: number; readonly high: number } | null
}

/** Clicks are what counts; where there is none at all, opens decide. The first of several alike. */
export function bestOf(tried: readonly Tried[]): Outcome {
  const by = tried.some((t) => t.clicked > 0) ? "clicked" : "opened"
  const shares = tried.map((t, i) => ({ i, p: proportion(Math.min(t[by], t.sent), t.sent) }))
  const value = (x: (typeof shares)[number]) => (x.p.of === 0 ? 0 : x.p.hits / x.p.of)
  const [best, ...rest] = [...shares].sort((a, b) => value(b) - value(a) || a.i - b.i)
  const ahead = rest.map((r) => difference(best!.p, r.p))
  return { best: best!.i, by, sure: ahead.length > 0 && ahead.every((d) => d.low > 0), ahead: ahead[0] ?? null }
}
