// What must happen later, once: a row that says what, about which, and when. It is set in the transaction that makes it
// necessary, and done in one of its own.

import type { Context } from "./context"
import type { Db } from "./db/pool"
import type { Due } from "./due"

export type TimerKind = "begin-planned" | "broadcast-again" | "broadcast-choose" | "replan" | "stopped" | "tell-waiting"

export type Timer = { readonly kind: TimerKind; readonly about: number; readonly dueAt: number }

/** Sets a timer, or sets it anew where it is there: one for each kind and thing. */
export async function setTimer(tx: Db, t: Timer): Promise<void> {
  await tx.insert(
    "timer",
    { once: `${t.kind}:${t.about}`, kind: t.kind, about: t.about, due_at: new Date(t.dueAt), try_at: new Date(0) },
    "ON DUPLICATE KEY UPDATE due_at = VALUES(due_at), try_at = VALUES(try_at), tries = 0",
  )
}

/** What a timer does when it goes off, in a transaction of its own; it may set itself again. */
export type TimerWork = (tx: Db, about: number, at: number) => Promise<void>

export type TimerWorks = Readonly<Record<TimerKind, TimerWork>>

/** The timers as work that falls due, by what each kind of them does. One of another kind, set by a newer version, stays. */
export function timers(works: Partial<TimerWorks>): Due {
  return {
    name: "timers",
    async nextAt(s) {
      const next = await s.db.row<{ due_at: Date }>(
        "SELECT due_at FROM timer WHERE try_at <= ? AND kind IN (?) ORDER BY due_at, id LIMIT 1",
        [new Date(), Object.keys(works)],
      )
      return next ? next.due_at.getTime() : null
    },
    waits: (_, at) => [
      [
        "SELECT 1 FROM timer WHERE due_at <= ? AND try_at <= ? AND kind IN (?)",
        [at.business, at.real, Object.keys(works)],
      ],
    ],
    async run(s) {
      while (await goOff(s, works));
    },
    // One goes off within its transaction: it is either still to come or over.
    inHand: async () => false,
  }
}

/** Lets the first timer that is due go off; false where none is. */
async function goOff(s: Context, works: Partial<TimerWorks>): Promise<boolean> {
  const at = await s.clock.now()
  let taken: { id: number; kind: TimerKind; about: number; tries: number } | undefined
  try {
    return await s.db.transaction(async (tx) => {
      taken = await tx.row(
        "SELECT id, kind, about, tries FROM timer WHERE due_at <= ? AND try_at <= ? AND kind IN (?) ORDER BY due_at, id LIMIT 1 FOR UPDATE SKIP LOCKED",
        [new Date(at), new Date(), Object.keys(works)],
      )
      if (!taken) return false
      // Taken away before, so that the work may set it again.
      await tx.write("DELETE FROM timer WHERE id = ?", [taken.id])
      await works[taken.kind]!(tx, taken.about, at)
      return true
    })
  } catch (error) {
    if (!taken) throw error
    s.log.error(error)
    const pause = 60_000 * 2 ** Math.min(taken.tries, 9)
    await s.db.write("UPDATE timer SET tries = tries + 1, try_at = ? WHERE id = ?", [
      new Date(Date.now() + pause),
      taken.id,
    ])
    return true
  }
}

/** How many timers that are due are of no kind that this version knows: a newer one set them. */
export async function unknownTimers(db: Db, known: readonly string[], at: number): Promise<number> {
  const row = await db.row<{ n: number }>("SELECT COUNT(*) AS n FROM timer WHERE due_at <= ? AND kind NOT IN (?)", [
    new Date(at),
    known,
  ])
  return row?.n ?? 0
}
