// How long until something happens, where it hasn't happened to everybody yet.

/** Who was watched for so long (any unit), and whether it happened at the end of that; otherwise it hasn't yet. `people`: so many alike, one where it isn't said. */
export type Watched = { readonly for: number; readonly happened: boolean; readonly people?: number }

export type SurvivalStep = {
  /** When it happened to some, in the unit of what was given. */
  readonly at: number
  /** Who was still being watched just before, to how many of them it happened, and the share to whom it hadn't after. */
  readonly atRisk: number
  readonly happened: number
  readonly share: number
  /** Its standard error. */
  readonly error: number
  /** 95 % interval of the share. */
  readonly low: number
  readonly high: number
}

const z95 = 1.959963984540054

/**
 * The share to whom it hasn't happened after each time at which it did to some; begins at 1.
 * Source: Kaplan and Meier (1958), J. Am. Stat. Assoc. 53, 457–481; its variance by Greenwood (1926); the interval on the scale
 * log(−log S), which stays within 0 and 1 (Kalbfleisch and Prentice, The Statistical Analysis of Failure Time Data, 1.4).
 * Who is let go at the moment at which it happens to others counts among them, as is common practice.
 * Throws RangeError where somebody was watched for less than nothing.
 */
export function survival(watched: readonly Watched[]): SurvivalStep[] {
  if (watched.some((w) => !(w.for >= 0))) throw new RangeError("nobody is watched for less than nothing")
  const times = watched.toSorted((a, b) => a.for - b.for)
  const steps: SurvivalStep[] = []
  let share = 1
  let greenwood = 0
  let watching = times.reduce((n, w) => n + (w.people ?? 1), 0)
  for (let i = 0; i < times.length; ) {
    const at = times[i]!.for
    const atRisk = watching
    let happened = 0
    for (; i < times.length && times[i]!.for === at; i++) {
      const { people = 1, happened: did } = times[i]!
      if (did) happened += people
      watching -= people
    }
    if (!happened) continue
    share *= 1 - happened / atRisk
    greenwood += happened / (atRisk * (atRisk - happened))
    steps.push({ at, atRisk, happened, share, ...spread(share, greenwood) })
  }
  return steps
}

function spread(share: number, greenwood: number): { error: number; low: number; high: number } {
  if (share === 0) return { error: 0, low: 0, high: 0 }
  const wide = (z95 * Math.sqrt(greenwood)) / Math.abs(Math.log(share))
  return {
    error: share * Math.sqrt(greenwood),
    low: share ** Math.exp(wide),
    high: share ** Math.exp(-wide),
  }
}

/** The share at a time, by the steps of `survival`. */
export const shareAt = (steps: readonly SurvivalStep[], at: number): number =>
  steps.findLast((s) => s.at <= at)?.share ?? 1
