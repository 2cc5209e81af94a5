// Work that falls due: what it is called, when some of it is due next, doing it, and whether a process has some in hand.
import { isDatabaseDown } from "./db/pool"
import type { Surroundings } from "./surroundings"

export type Due = {
  /** As a health check names it. */
  readonly name: string
  /** The next instant at which some of it can be done (ms of business time), or null. */
  nextAt(s: Surroundings): Promise<number | null>
  /** Does what is due now; `worker` is the process that has it in hand meanwhile. */
  run(s: Surroundings, worker: string): Promise<unknown>
  /** Whether a process has some of it in hand just now. */
  inHand(s: Surroundings): Promise<boolean>
}

/** Does each by itself: what fails keeps nothing else from being done. */
export async function eachByItself(s: Surroundings, works: readonly (() => Promise<unknown>)[]): Promise<void> {
  for (const work of works)
    try {
      await work()
    } catch (error) {
      // Without the database nothing else would work either.
      if (isDatabaseDown(error)) throw error
      s.log.error(error)
    }
}

/** Runs until nothing is left of it: each turn takes at most `batch`. */
export async function untilDone(turn: () => Promise<number>, batch: number): Promise<void> {
  while ((await turn()) >= batch);
}
