// Who is in the room, by the beats of their devices; and what it came to, once it is over.

import * as v from "valibot"
import {
  attendanceOf,
  beatOf,
  lengthOf,
  longestGap,
  presenceOf,
  type Stay,
  settledAfter,
} from "@/core/webinar/attendance"
import { type Webinar, webinarSchema } from "@/core/webinar/webinar"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import type { Due } from "../due"
import { happen } from "../happen"
import { notHeld } from "./dates"

/**
 * A device is in the room just now. What comes outside the hours of the room, or for a seat that isn't taken, counts nothing; the
 * time is the server's.
 *
 * @param device eight bytes, by which one device of theirs is told from another
 */
export async function beatOfSeat(s: Context, registration: number, device: Buffer): Promise<boolean> {
  const now = await s.clock.now()
  const row = await s.db.row<{ from_at: Date | null; to_at: Date | null }>(
    `SELECT y.from_at, y.to_at FROM registration r JOIN webinar_date d ON d.id = r.date_id
     LEFT JOIN stay y ON y.registration_id = r.id AND y.device = ? AND y.to_at >= ?
     WHERE r.id = ? AND r.state = 'registered' AND d.called_off_at IS NULL AND d.settled_at IS NULL AND d.starts_at <= ? ORDER BY y.from_at DESC LIMIT 1`,
    [device, new Date(now - longestGap), registration, new Date(now + earliest)],
  )
  if (!row) return false
  const latest = row.from_at && row.to_at ? { from: row.from_at.getTime(), to: row.to_at.getTime() } : null
  // More often than that tells nothing new.
  if (latest && now - latest.to < leastApart) return true
  const stay = beatOf(latest, now)
  await s.db.insert(
    "stay",
    { registration_id: registration, device, from_at: new Date(stay.from), to_at: new Date(stay.to) },
    "ON DUPLICATE KEY UPDATE to_at = GREATEST(to_at, VALUES(to_at))",
  )
  return true
}

/** Beats of one device that lie closer together are one, ms. */
const leastApart = 5_000

/** The longest that a room can be open before its start, ms. */
const earliest = 120 * 60_000

type Ended = {
  readonly id: number
  readonly webinar: number
  readonly starts_at: Date
  readonly begun_at: Date | null
  readonly over_at: Date
}

/** How many registrations are worked out in one transaction. */
const together = 250

/** Dates that are over: what somebody's attendance comes to, once for each. */
export const endedDates: Due = {
  name: "webinars that have ended",
  async nextAt(s) {
    const row = await s.db.row<{ at: Date }>(
      "SELECT MIN(over_at) AS at FROM webinar_date WHERE settled_at IS NULL AND called_off_at IS NULL",
    )
    return row?.at ? row.at.getTime() + settledAfter : null
  },
  waits: (_, at) => [
    [
      "SELECT 1 FROM webinar_date WHERE settled_at IS NULL AND called_off_at IS NULL AND over_at <= ?",
      [new Date(at.business.getTime() - settledAfter)],
    ],
  ],
  async run(s) {
    for (;;) {
      const now = await s.clock.now()
      const date = await s.db.row<Ended>(
        "SELECT id, webinar_id AS webinar, starts_at, begun_at, over_at FROM webinar_date WHERE settled_at IS NULL AND called_off_at IS NULL AND over_at <= ? ORDER BY over_at, id LIMIT 1",
        [new Date(now - settledAfter)],
      )
      if (!date) return
      const document = await s.db.row<{ document: string }>("SELECT document FROM webinar WHERE id = ?", [date.webinar])
      const w = v.parse(webinarSchema, JSON.parse(document!.document))
      // Nobody has missed what its host never began.
      if (w.recording === null && !date.begun_at) await notHeld(s, date.id)
      else while (await s.db.transaction((tx) => finishDate(tx, date, w, now)));
    }
  },
  inHand: async () => false,
}

/** Works some of them out; whether there may be more. The last one closes the date. */
async function finishDate(tx: Db, date: Ended, w: Webinar, now: number): Promise<boolean> {
  // One worker after the other: the row of the date is the lock.
  if (!(await tx.row("SELECT 1 FROM webinar_date WHERE id = ? AND settled_at IS NULL FOR UPDATE", [date.id])))
    return false
  const open = await tx.rows<{ id: number; person: number }>(
    "SELECT id, person_id AS person FROM registration WHERE date_id = ? AND state = 'registered' AND came IS NULL ORDER BY id LIMIT ?",
    [date.id, together],
  )
  if (!open.length) {
    await tx.update("webinar_date", date.id, { settled_at: new Date(now) })
    return false
  }
  const stays = await staysBy(
    tx,
    open.map((r) => r.id),
  )
  const within = {
    from: (w.recording === null ? date.begun_at : null)?.getTime() ?? date.starts_at.getTime(),
    to: date.over_at.getTime(),
  }
  const found = open.map((r) => {
    const presence = presenceOf(stays.get(r.id) ?? [], within)
    return { ...r, came: attendanceOf(presence, within, w), there: lengthOf(presence) }
  })
  await tx.write(
    `UPDATE registration r JOIN JSON_TABLE(?, '$[*]' COLUMNS (id INT UNSIGNED PATH '$[0]', came VARCHAR(12) PATH '$[1]', there INT UNSIGNED PATH '$[2]')) x ON x.id = r.id SET r.came = x.came, r.there_ms = x.there`,
    [JSON.stringify(found.map((f) => [f.id, f.came, f.there]))],
  )
  // Each of them once: the row of the date is locked, and what has come of them is known from here on.
  for (const came of ["attended", "left-early", "missed"] as const)
    await happen(
      tx,
      found
        .filter((f) => f.came === came)
        .map((f) => ({ kind: came, at: within.to, person: f.person, subject: date.webinar, words: w.title })),
    )
  return true
}

/** The stays of all devices, by registration. */
async function staysBy(db: Db, registrations: readonly number[]): Promise<ReadonlyMap<number, Stay[]>> {
  const by = new Map<number, Stay[]>()
  if (!registrations.length) return by
  const rows = await db.rows<{ id: number; from_at: Date; to_at: Date }>(
    "SELECT registration_id AS id, from_at, to_at FROM stay WHERE registration_id IN (?)",
    [registrations],
  )
  for (const r of rows) by.set(r.id, [...(by.get(r.id) ?? []), { from: r.from_at.getTime(), to: r.to_at.getTime() }])
  return by
}
