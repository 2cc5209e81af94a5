// How fast e-mails go out: at most so many a second in all and to one receiving domain, and slower where a receiver answers that it
// is too much. Each has a turn; a turn is a moment, and the next is one interval later (the generic cell rate algorithm of ITU-T
// I.371 without a tolerance). All instants are ms of real time.

export type PaceRates = {
  /** E-mails a second to everybody and to one domain; null: as fast as they go. */
  readonly all: number | null
  readonly domain: number | null
}

/** How far a receiver has come: when the next may go, the turn of whoever is put off next, and how often it was halved. */
export type Pace = { readonly freeAt: number; readonly tailAt: number; readonly slowed: number }
export const unpaced: Pace = { freeAt: 0, tailAt: 0, slowed: 0 }

/** Where nothing is set, a receiver that asks for less gets this many a second, halved as often as it asked. */
const slowedFrom = 8
export const mostSlowed = 9

/** E-mails a second to a domain; null: as fast as they go. */
export function rateOf(set: number | null, slowed: number): number | null {
  return slowed ? Math.min(set ?? slowedFrom, slowedFrom) / 2 ** slowed : set
}

/** A receiver that answers "later" is halved once in this time, however many of its answers come at once. */
const recoveryMs = 10_000
/** And doubled again when it has taken everything for this long. */
const patience = 60_000

export type ServerAnswer = "taken" | "later"

/** How often a receiver is halved after what it answered; `changed`: when that last changed. */
export function slowedAfter(slowed: number, changed: number, answer: ServerAnswer, now: number): number {
  if (answer === "later") return slowed === 0 || now - changed >= recoveryMs ? Math.min(slowed + 1, mostSlowed) : slowed
  return slowed > 0 && now - changed >= patience ? slowed - 1 : slowed
}

export type PaceWaiting = {
  readonly id: number
  readonly domain: string
  /** Somebody waits for it: it goes at once, and the others wait for it. */
  readonly asked: boolean
  /** It was put off before: it goes before those that come to be due now. */
  readonly paced: boolean
}

export type Turns = {
  /** When each goes that goes within the horizon. */
  readonly go: ReadonlyMap<number, number>
  /** When to look again at each of the others. */
  readonly putOff: ReadonlyMap<number, number>
  readonly paces: ReadonlyMap<string, Pace>
}

/**
 * The turns of e-mails that are due, in their order. `paces` by domain, "" for all together; what isn't in it has gone nowhere yet.
 * Nobody is given a turn beyond `horizon` ms: they are put off, one interval apart, so that they needn't be looked at before.
 */
export function turnsOf(
  mails: readonly PaceWaiting[],
  paces: ReadonlyMap<string, Pace>,
  rates: PaceRates,
  now: number,
  horizon: number,
): Turns {
  const next = new Map(paces)
  const paceOf = (domain: string) => next.get(domain) ?? unpaced
  const intervalOf = (domain: string) => {
    const rate = domain === "" ? rates.all : rateOf(rates.domain, paceOf(domain).slowed)
    return rate === null ? 0 : 1000 / rate
  }
  const go = new Map<number, number>()
  const putOff = new Map<number, number>()
  // Those that have waited, and those that somebody waits for, first.
  const order = [...mails].sort((a, b) => Number(b.asked) - Number(a.asked) || Number(b.paced) - Number(a.paced))
  for (const m of order) {
    const [mine, all] = [paceOf(m.domain), paceOf("")]
    // Whoever comes now stands behind those who were put off.
    const free = (p: Pace) => (m.paced ? p.freeAt : Math.max(p.freeAt, p.tailAt))
    const at = m.asked ? now : Math.max(now, free(mine), free(all))
    if (at <= now + horizon) {
      go.set(m.id, at)
      next.set(m.domain, { ...mine, freeAt: Math.max(at, mine.freeAt) + intervalOf(m.domain) })
      // A domain that is slow leaves the others their turns in between.
      next.set("", { ...all, freeAt: Math.max(now, all.freeAt) + intervalOf("") })
      continue
    }
    putOff.set(m.id, at)
    // Of both, the one that is farther off decides where it waits.
    const behind = free(mine) >= free(all) ? m.domain : ""
    if (!m.paced) next.set(behind, { ...paceOf(behind), tailAt: at + intervalOf(behind) })
  }
  return { go, putOff, paces: next }
}
