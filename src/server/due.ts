// Work that falls due: what it is called, when some of it is due next, doing it, and whether a process has some in hand.

import type { Context } from "./context"
import { isDatabaseDown } from "./db/pool"

/** A moment in both kinds of time. */
export type DueMoment = { readonly business: Date; readonly real: Date }

/** A SELECT that finds a row where the answer is yes. */
export type DueQuestion = readonly [sql: string, values: readonly unknown[]]

export type Due = {
  /** As a health check names it. */
  readonly name: string
  /** The next instant at which some of it can be done (ms of business time), or null. */
  nextAt(s: Context): Promise<number | null>
  /** What to ask the database to learn whether anything of it can be done at this moment; none: nothing can. */
  waits(s: Context, at: DueMoment): readonly DueQuestion[]
  /** Does what is due now; `worker` is the process that has it in hand meanwhile. */
  run(s: Context, worker: string): Promise<unknown>
  /** Whether a process has some of it in hand just now. */
  inHand(s: Context): Promise<boolean>
}

/** Those of which something can be done now: one statement, however many there are. */
export async function whatWaits(s: Context, all: readonly Due[]): Promise<readonly Due[]> {
  const at = { business: new Date(await s.clock.now()), real: new Date() }
  const asked = all.map((d) => d.waits(s, at))
  const questions = asked.flat()
  if (!questions.length) return []
  const sql = asked.map((qs, i) => `(${qs.map(([q]) => `EXISTS(${q})`).join(" OR ") || "FALSE"}) AS d${i}`).join(", ")
  const row = await s.db.row<Record<string, number>>(
    `SELECT ${sql}`,
    questions.flatMap(([, values]) => values),
  )
  return all.filter((_, i) => Number(row?.[`d${i}`]) === 1)
}

/** Does each by itself: what fails keeps nothing else from being done. */
export async function eachByItself(s: Context, works: readonly (() => Promise<unknown>)[]): Promise<void> {
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
