// All work that falls due, in one list: for the worker, for the clock of a demo that is moved on, and for whoever asks
// whether all is well. And the housekeeping that nobody waits for.
import { payouts } from "./affiliate/payout-after"
import { sweepAttempts } from "./attempt"
import { chooseSubject, closeBroadcasts, sendAgain } from "./broadcast/plan"
import { setClock } from "./clock"
import type { Context } from "./context"
import { away } from "./course/away"
import { sweepHandedIn } from "./course/hand-in"
import { openings, replan } from "./course/opening"
import { tellWaiting } from "./course/waiting"
import { type Due, eachByItself, untilDone, whatWaits } from "./due"
import { sweepPendingJoins } from "./funnel/confirm"
import { gatherRests, rollRests, rollUp } from "./funnel/rollup"
import { rollJournal } from "./ledger/balance"
import { charges } from "./ledger/charge"
import { refunds } from "./ledger/refund"
import { renewals } from "./ledger/renew"
import { stopped } from "./ledger/stopped"
import { sweepOrders } from "./ledger/sweep"
import { mails } from "./mail/send"
import { measureMedia } from "./media/length"
import { weeklyForecasts } from "./numbers/forecast"
import { mondayReports } from "./numbers/report"
import { rollSold } from "./numbers/roll-sold"
import { rollSources } from "./numbers/roll-sources"
import { sweepMade } from "./once"
import { sweepOpen } from "./page/open"
import { thinVersions } from "./page/version"
import { sweepImports } from "./person/import"
import { sweepWrongPasswords } from "./person/password"
import { sweepSessions } from "./person/session"
import { imports } from "./person/take-in"
import { sweepKnocks } from "./person/way-in"
import { beginPlanned } from "./sequence/planned"
import { sequences } from "./sequence/run"
import { rollTally } from "./tally"
import { type TimerWorks, timers } from "./timer"
import { writeDatesOn } from "./webinar/dates"
import { sweepOffered } from "./webinar/offered"
import { endedDates } from "./webinar/stay"

export const timerWorks: TimerWorks = {
  stopped,
  replan,
  "tell-waiting": tellWaiting,
  "begin-planned": beginPlanned,
  "broadcast-choose": chooseSubject,
  "broadcast-again": sendAgain,
}

export const due: readonly Due[] = [
  charges,
  refunds,
  renewals,
  timers(timerWorks),
  openings,
  away,
  sequences,
  imports,
  endedDates,
  payouts,
  mails,
]

/** One round of everything that is due now. */
export async function doWhatIsDue(s: Context, worker: string): Promise<void> {
  await eachByItself(
    s,
    due.map((d) => () => d.run(s, worker)),
  )
}

/** One round of what waits for somebody to do it; whether there was anything. */
export async function doWhatWaits(s: Context, worker: string): Promise<boolean> {
  const waiting = await whatWaits(s, due)
  await eachByItself(
    s,
    waiting.map((d) => () => d.run(s, worker)),
  )
  return waiting.length > 0
}

/** Facts become sums. */
export async function sumUp(s: Context): Promise<void> {
  await eachByItself(s, [
    () => untilDone(() => rollUp(s), 20_000),
    () => untilDone(() => rollRests(s), 20_000),
    () => untilDone(() => rollTally(s), 20_000),
    () => untilDone(() => rollSources(s), 20_000),
    () => untilDone(() => rollSold(s.db), 5_000),
    () => untilDone(() => rollJournal(s), 20_000),
    () => closeBroadcasts(s),
  ])
}

/** What nobody waits for. */
export async function sweep(s: Context): Promise<void> {
  await eachByItself(s, [
    () => gatherRests(s),
    () => sweepAttempts(s.db),
    () => sweepSessions(s.db),
    () => sweepWrongPasswords(s.db),
    () => sweepKnocks(s.db),
    () => sweepMade(s),
    () => sweepPendingJoins(s),
    () => sweepOrders(s),
    () => measureMedia(s),
    () => sweepHandedIn(s),
    () => sweepImports(s),
    () => thinVersions(s),
    () => sweepOpen(s.db),
    () => writeDatesOn(s),
    () => weeklyForecasts(s),
    () => mondayReports(s),
    async () => sweepOffered(s.db, await s.clock.now()),
  ])
}

export async function housekeeping(s: Context): Promise<void> {
  await sumUp(s)
  await sweep(s)
}

/** The next instant at which something is due, ms of business time, or null. */
export async function nextDueInstant(s: Context): Promise<number | null> {
  const known = (await Promise.all(due.map((d) => d.nextAt(s)))).filter((n) => n !== null)
  return known.length ? Math.min(...known) : null
}

/** Work that should have been done that long ago is late, ms of business time. */
const lateAfter = 5 * 60_000

/** What is late, by name: no worker does it, or it fails again and again. */
export async function lateWork(s: Context): Promise<string[]> {
  const before = (await s.clock.now()) - lateAfter
  const late: string[] = []
  for (const d of due) {
    const next = await d.nextAt(s)
    if (next !== null && next < before) late.push(d.name)
  }
  return late
}

export type Moved = { readonly now: number; readonly stops: number; readonly whole: boolean }

/**
 * Moves business time on to an instant, stopping at each moment something is due and doing it. Only where the clock can
 * be moved. `whole` is false where the time allowed (ms, real) ran out first: the clock then stands at the last stop.
 */
export async function moveClock(s: Context, to: number | "next-due", allowed = 60_000): Promise<Moved> {
  if (s.config.mode === "own") throw new Error("the clock of a real school can't be moved")
  const until = Date.now() + allowed
  let stops = 0
  let target = to === "next-due" ? ((await nextDueInstant(s)) ?? (await s.clock.now())) : to
  if (to === "next-due") target = Math.max(target, await s.clock.now())
  for (;;) {
    await drain(s, until)
    const next = await nextDueInstant(s)
    if (next === null || next > target) break
    if (Date.now() > until) return { now: await s.clock.now(), stops, whole: false }
    await setClock(s.db, next)
    stops++
  }
  await setClock(s.db, target)
  await drain(s, until)
  return { now: await s.clock.now(), stops, whole: true }
}

/** Does what is due, together with the worker, and waits for what the worker has in hand. */
async function drain(s: Context, until: number): Promise<void> {
  while (Date.now() < until) {
    await doWhatIsDue(s, "clock")
    const held = await Promise.all(due.map((d) => d.inHand(s)))
    if (!held.includes(true)) return
    await new Promise((r) => setTimeout(r, 25))
  }
}
