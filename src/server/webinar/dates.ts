// The dates of a webinar: those that its list or rule has stand in a table some time ahead, so that seats can be taken; one of them
// can be moved or called off by itself. A date for which somebody has a seat stays, whatever becomes of the rule.
import * as v from "valibot"
import type { HappeningKind } from "@/core/happening"
import { longestGap } from "@/core/webinar/attendance"
import { isOffered, type Playing, playingOn } from "@/core/webinar/recording"
import { instantAt } from "@/core/webinar/rule"
import { datedAhead, dateSchema, plannedStarts, type Webinar, webinarSchema } from "@/core/webinar/webinar"
import { refusals } from "@/core/words/refusals"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { happen } from "../happen"
import { gone, ok, refusal, type Saved } from "../saved"
import { tellOfSeat } from "./tell"

/** Dates are written on again when so many days of them are left. */
const leastAhead = datedAhead.days / 2

/** Brings the dates to come in line with the webinar. To be called with its row locked. */
export async function writeDates(tx: Db, id: number, w: Webinar, now: number): Promise<void> {
  const wanted = plannedStarts(w, now)
  const stand = await tx.rows<{ id: number; planned_at: Date; seats: number }>(
    `SELECT d.id, d.planned_at, (SELECT COUNT(*) FROM registration r WHERE r.date_id = d.id) AS seats
     FROM webinar_date d WHERE d.webinar_id = ? AND d.planned_at >= ?`,
    [id, new Date(now)],
  )
  const free = stand.filter((d) => d.seats === 0 && !wanted.includes(d.planned_at.getTime()))
  if (free.length && w.when.kind !== "any-time")
    await tx.write("DELETE FROM webinar_date WHERE id IN (?)", [free.map((d) => d.id)])
  const there = new Set(stand.map((d) => d.planned_at.getTime()))
  const fresh = wanted.filter((at) => !there.has(at))
  await tx.insert(
    "webinar_date",
    fresh.map((at) => ({ webinar_id: id, planned_at: new Date(at), starts_at: new Date(at), minutes: w.minutes })),
    "ignore",
  )
  // A date that hasn't begun takes as long as the webinar does now.
  await tx.write("UPDATE webinar_date SET minutes = ? WHERE webinar_id = ? AND starts_at >= ?", [
    w.minutes,
    id,
    new Date(now),
  ])
  await tx.update("webinar", id, {
    dated_until: w.when.kind === "rule" ? new Date(now + datedAhead.days * 86_400_000) : null,
  })
}

/** Writes the dates of rules on, where they come near their end. */
export async function writeDatesOn(s: Context): Promise<void> {
  const now = await s.clock.now()
  const due = await s.db.rows<{ id: number }>("SELECT id FROM webinar WHERE dated_until < ? LIMIT 100", [
    new Date(now + leastAhead * 86_400_000),
  ])
  for (const { id } of due)
    await s.db.transaction(async (tx) => {
      const row = await tx.row<{ document: string }>("SELECT document FROM webinar WHERE id = ? FOR UPDATE", [id])
      if (row) await writeDates(tx, id, v.parse(webinarSchema, JSON.parse(row.document)), now)
    })
}

export type DateListed = {
  readonly id: number
  readonly planned: Date
  readonly starts: Date
  readonly calledOff: boolean
  /** Under way just now. */
  readonly running: boolean
  readonly registered: number
  /** Held for those who have still to press the link in their mailbox. */
  readonly held: number
  readonly attended: number
  readonly leftEarly: number
  readonly missed: number
}

/** The dates to come or under way in their order, or those behind, the latest first; at most 60. */
export async function listDates(s: Context, webinar: number, which: "to-come" | "behind"): Promise<DateListed[]> {
  const now = new Date(await s.clock.now())
  const rows = await s.db.rows<{
    id: number
    planned: Date
    starts: Date
    calledOff: number
    registered: number
    held: number
    attended: number
    leftEarly: number
    missed: number
  }>(
    `SELECT d.id, d.planned_at AS planned, d.starts_at AS starts, d.called_off_at IS NOT NULL AS calledOff,
       COALESCE(SUM(r.state = 'registered'), 0) AS registered, COALESCE(SUM(r.state = 'held' AND r.held_until > ?), 0) AS held,
       COALESCE(SUM(r.came = 'attended'), 0) AS attended, COALESCE(SUM(r.came = 'left-early'), 0) AS leftEarly, COALESCE(SUM(r.came = 'missed'), 0) AS missed
     FROM webinar_date d LEFT JOIN registration r ON r.date_id = d.id
     WHERE d.webinar_id = ? AND ${which === "to-come" ? "d.over_at > ?" : "d.over_at <= ?"} GROUP BY d.id ORDER BY d.starts_at ${which === "to-come" ? "" : "DESC"} LIMIT ?`,
    [now, webinar, now, datedAhead.most],
  )
  return rows.map((r) => ({
    id: r.id,
    planned: r.planned,
    starts: r.starts,
    calledOff: Boolean(r.calledOff),
    running: !r.calledOff && r.starts <= now && which === "to-come",
    registered: r.registered,
    held: r.held,
    attended: r.attended,
    leftEarly: r.leftEarly,
    missed: r.missed,
  }))
}

/** Moves a date that is still to come to another day and time of the webinar's zone. */
export async function moveDate(s: Context, id: number, typed: unknown): Promise<Saved> {
  const read = v.safeParse(dateSchema, typed)
  if (!read.success) return refusal(read.issues)
  const now = await s.clock.now()
  return s.db.transaction(async (tx): Promise<Saved> => {
    const date = await lockedDate(tx, id, now)
    if (!date) return gone
    const at = instantAt(read.output.date, read.output.at, date.zone)
    if (at <= now) return { refused: refusals.webinar.past, field: "date" }
    if (at === date.starts) return ok
    const taken = await tx.row(
      "SELECT 1 FROM webinar_date WHERE webinar_id = ? AND starts_at = ? AND id <> ? AND called_off_at IS NULL",
      [date.webinar, new Date(at), id],
    )
    if (taken) return { refused: refusals.webinar.twoAtOnce, field: "date" }
    await tx.update("webinar_date", id, { starts_at: new Date(at) })
    await tx.write("UPDATE registration SET sequence = sequence + 1 WHERE date_id = ?", [id])
    await tellOfSeat(tx, { date: id }, now)
    await happen(tx, of(await seated(tx, id), "registration-moved", date.webinar, now))
    return ok
  })
}

type Seated = { readonly person: number; readonly title: string }

/** Whoever has a seat for a date. */
const seated = (tx: Db, date: number) =>
  tx.rows<Seated>(
    "SELECT r.person_id AS person, w.name AS title FROM registration r JOIN webinar w ON w.id = r.webinar_id WHERE r.date_id = ? AND r.state = 'registered'",
    [date],
  )

const of = (them: readonly Seated[], kind: HappeningKind, webinar: number, at: number) =>
  them.map((r) => ({ kind, at, person: r.person, subject: webinar, words: r.title }))

/** Calls a date off that is still to come. */
export async function callOff(s: Context, id: number): Promise<Saved> {
  const now = await s.clock.now()
  return s.db.transaction(async (tx): Promise<Saved> => {
    const date = await lockedDate(tx, id, now)
    if (!date) return gone
    await takeOff(tx, id, date.webinar, now)
    return ok
  })
}

/** A live date whose host never began it: whoever has a seat is told, as if it had been called off. */
export async function notHeld(s: Context, id: number): Promise<void> {
  const now = await s.clock.now()
  await s.db.transaction(async (tx) => {
    const date = await tx.row<{ webinar: number }>(
      "SELECT webinar_id AS webinar FROM webinar_date WHERE id = ? AND called_off_at IS NULL AND begun_at IS NULL AND over_at <= ? FOR UPDATE",
      [id, new Date(now)],
    )
    if (date) await takeOff(tx, id, date.webinar, now)
  })
}

/** To be called with its row locked. */
async function takeOff(tx: Db, id: number, webinar: number, now: number): Promise<void> {
  await tx.update("webinar_date", id, { called_off_at: new Date(now) })
  const theirs = await seated(tx, id)
  await tx.write(
    "UPDATE registration SET state = 'called-off', sequence = sequence + 1 WHERE date_id = ? AND state IN ('held', 'registered')",
    [id],
  )
  await tellOfSeat(tx, { date: id }, now)
  await happen(tx, of(theirs, "registration-called-off", webinar, now))
}

/** A date that has not begun and isn't called off, locked. */
async function lockedDate(
  tx: Db,
  id: number,
  now: number,
): Promise<{ webinar: number; starts: number; zone: string } | undefined> {
  const row = await tx.row<{ webinar: number; starts: Date; zone: string }>(
    "SELECT d.webinar_id AS webinar, d.starts_at AS starts, JSON_VALUE(w.document, '$.zone') AS zone FROM webinar_date d JOIN webinar w ON w.id = d.webinar_id WHERE d.id = ? AND d.called_off_at IS NULL AND d.begun_at IS NULL AND d.starts_at > ? FOR UPDATE",
    [id, new Date(now)],
  )
  return row && { ...row, starts: row.starts.getTime() }
}

export type DateSeen = {
  readonly id: number
  readonly title: string
  readonly host: string
  readonly zone: string
  readonly starts: Date
  readonly registered: number
  /** In the room just now, on any device. */
  readonly here: number
  readonly live: boolean
  readonly phase: Playing["phase"]
  readonly over: boolean
  readonly calledOff: boolean
  /** Name of what it leads to; null: nothing. */
  readonly offer: string | null
  /** Whether that is shown by now. */
  readonly offered: boolean
}

/** One date of a webinar, as its host sees it. */
export async function dateOf(s: Context, webinar: number, id: number): Promise<DateSeen | undefined> {
  const now = await s.clock.now()
  const row = await s.db.row<{
    document: string
    starts: Date
    over: Date
    begun: Date | null
    offered: number
    off: number
    offer: string | null
    registered: number
    here: number
  }>(
    `SELECT w.document, d.starts_at AS starts, d.over_at AS \`over\`, d.begun_at AS begun, d.offered_at IS NOT NULL AS offered, d.called_off_at IS NOT NULL AS off,
       (SELECT o.public_name FROM offer o WHERE o.id = JSON_VALUE(w.document, '$.offer')) AS offer,
       (SELECT COUNT(*) FROM registration r WHERE r.date_id = d.id AND r.state = 'registered') AS registered,
       (SELECT COUNT(DISTINCT y.registration_id) FROM registration r JOIN stay y ON y.registration_id = r.id WHERE r.date_id = d.id AND y.to_at > ?) AS here
     FROM webinar_date d JOIN webinar w ON w.id = d.webinar_id WHERE d.id = ? AND d.webinar_id = ?`,
    [new Date(now - longestGap), id, webinar],
  )
  if (!row) return undefined
  const w = v.parse(webinarSchema, JSON.parse(row.document))
  const playing = playingOn(w, row, null, now)
  return {
    id,
    title: w.title,
    host: w.host,
    zone: w.zone,
    starts: row.starts,
    registered: row.registered,
    here: row.here,
    live: w.recording === null,
    phase: playing.phase,
    over: Boolean(row.off) || playing.phase === "over",
    calledOff: Boolean(row.off),
    offer: row.offer,
    offered: isOffered(w, playing, Boolean(row.offered)),
  }
}
