// What is due: the work of the worker, and moving the clock of a demo on so that it comes about in order.

import { sweepAttempts } from "./attempt"
import { setClock } from "./clock"
import { isDatabaseDown } from "./db/pool"
import { gatherRests, rollRests, rollUp } from "./funnel/rollup"
import { rollJournal } from "./ledger/balance"
import { recoverCharges } from "./ledger/charge"
import { recoverRefunds } from "./ledger/refund"
import { nextRenewalDue, renewDue } from "./ledger/renew"
import { followStopped, nextStoppedDue } from "./ledger/stopped"
import { sweepOrders } from "./ledger/sweep"
import { nextMailDue, recoverMail, sendDue } from "./mail/send"
import { sweepWrongPasswords } from "./person/account"
import { sweepPendingJoins } from "./person/join"
import { sweepSessions } from "./person/session"
import { sweepKnocks } from "./person/way-in"
import type { Surroundings } from "./surroundings"
import { rollTally } from "./tally"

/** One round of everything that is due now. What fails keeps nothing else from being done. */
export async function doWhatIsDue(s: Surroundings, worker: string): Promise<void> {
  await each(s, [
    () => recoverCharges(s),
    () => recoverRefunds(s),
    () => renewDue(s),
    () => followStopped(s),
    () => recoverMail(s),
    () => sendDue(s, worker),
  ])
}

/** Housekeeping that nobody waits for. */
export async function keepHouse(s: Surroundings): Promise<void> {
  await each(s, [
    async () => {
      while ((await rollUp(s)) >= 20_000);
    },
    async () => {
      while ((await rollRests(s)) >= 20_000);
    },
    async () => {
      while ((await rollTally(s)) >= 20_000);
    },
    async () => {
      while ((await rollJournal(s)) >= 20_000);
    },
    () => gatherRests(s),
    () => sweepAttempts(s.db),
    () => sweepSessions(s.db),
    () => sweepWrongPasswords(s.db),
    () => sweepKnocks(s.db),
    () => sweepPendingJoins(s),
    () => sweepOrders(s),
  ])
}

async function each(s: Surroundings, works: readonly (() => Promise<unknown>)[]): Promise<void> {
  for (const work of works)
    try {
      await work()
    } catch (error) {
      // Without the database nothing else would work either.
      if (isDatabaseDown(error)) throw error
      s.log.error(error)
    }
}

/** The next instant at which something is due, ms of business time, or null. */
export async function nextDueInstant(s: Surroundings): Promise<number | null> {
  const all = [await nextMailDue(s.db), s.cards ? await nextRenewalDue(s.db) : null, await nextStoppedDue(s.db)]
  const known = all.filter((n) => n !== null)
  return known.length ? Math.min(...known) : null
}

export type Moved = { readonly now: number; readonly stops: number; readonly whole: boolean }

/**
 * Moves business time on to an instant, stopping at each moment something is due and doing it. Only where the clock can
 * be moved. `whole` is false where the time allowed (ms, real) ran out first: the clock then stands at the last stop.
 */
export async function moveClock(s: Surroundings, to: number | "next-due", allowed = 60_000): Promise<Moved> {
  if (s.config.mode === "own") throw new Error("the clock of a real school can't be moved")
  const until = Date.now() + allowed
  let stops = 0
  let target = to === "next-due" ? ((await nextDueInstant(s)) ?? (await s.clock.now())) : to
  if (to === "next-due") target = Math.max(target, await s.clock.now())
  for (;;) {
    await settle(s, until)
    const next = await nextDueInstant(s)
    if (next === null || next > target) break
    if (Date.now() > until) return { now: await s.clock.now(), stops, whole: false }
    await setClock(s.db, next)
    stops++
  }
  await setClock(s.db, target)
  await settle(s, until)
  return { now: await s.clock.now(), stops, whole: true }
}

/** Does what is due, together with the worker, and waits for what the worker has in hand. */
async function settle(s: Surroundings, until: number): Promise<void> {
  while (Date.now() < until) {
    await renewDue(s)
    await followStopped(s)
    await sendDue(s, "clock")
    const held = await s.db.row(
      "SELECT 1 FROM mail WHERE (state = 'sending' OR (state = 'due' AND claimed_by IS NOT NULL AND due_at <= ?)) AND try_at > ? LIMIT 1",
      [new Date(await s.clock.now()), new Date()],
    )
    const charging = await s.db.row("SELECT 1 FROM plan WHERE claimed_until > ? LIMIT 1", [new Date()])
    if (!held && !charging) return
    await new Promise((r) => setTimeout(r, 25))
  }
}
