// The dates that a visitor can choose from, and the one they chose.

import { numbers, readJson } from "@/core/json"
import type { DateChoice } from "@/core/page/dates"
import { heldStarts } from "@/core/webinar/any-time"
import type { Webinar } from "@/core/webinar/webinar"
import type { Db } from "../db/pool"
import { readWebinar } from "./webinar"

/** How many dates of a list or rule are shown. */
const shown = 4

/** Who looks, and the zone of their clock. */
export type Looking = { readonly visitor: Buffer; readonly zone: string }

/** The next dates; of a webinar that begins whenever it suits, those that this visitor was shown as long as they lie ahead. */
export async function datesFor(
  db: Db,
  id: number,
  who: Looking,
  now: number,
): Promise<{ w: Webinar; dates: DateChoice[] } | undefined> {
  const w = (await readWebinar(db, id))?.value
  if (!w) return undefined
  if (w.when.kind === "any-time")
    return { w, dates: (await startsFor(db, id, w, who, now)).map((at) => ({ value: `at:${at}`, at, left: null })) }
  const rows = await db.rows<{ id: number; starts: Date; taken: number }>(
    `SELECT d.id, d.starts_at AS starts, (SELECT COUNT(*) FROM registration r WHERE r.date_id = d.id AND (r.state = 'registered' OR (r.state = 'held' AND r.held_until > ?))) AS taken
     FROM webinar_date d WHERE d.webinar_id = ? AND d.called_off_at IS NULL AND d.starts_at > ? ORDER BY d.starts_at LIMIT ?`,
    [new Date(now), id, new Date(now), shown],
  )
  return {
    w,
    dates: rows.map((d) => ({
      value: String(d.id),
      at: d.starts.getTime(),
      left: w.seats === null ? null : Math.max(0, w.seats - d.taken),
    })),
  }
}

/** The next dates of webinars that have dates, ms, by webinar. */
export async function nextDates(
  db: Db,
  webinars: readonly number[],
  now: number,
  most: number,
): Promise<Map<number, number[]>> {
  const found = new Map<number, number[]>()
  if (!webinars.length) return found
  const rows = await db.rows<{ webinar: number; starts: Date }>(
    "SELECT webinar_id AS webinar, starts_at AS starts FROM webinar_date WHERE webinar_id IN (?) AND called_off_at IS NULL AND starts_at > ? ORDER BY starts_at LIMIT 300",
    [webinars, new Date(now)],
  )
  for (const r of rows) {
    const dates = found.get(r.webinar) ?? []
    if (dates.length < most) found.set(r.webinar, [...dates, r.starts.getTime()])
  }
  return found
}

async function startsFor(db: Db, id: number, w: Webinar, who: Looking, now: number): Promise<number[]> {
  if (w.when.kind !== "any-time") return []
  const row = await db.row<{ starts: string }>(
    "SELECT starts FROM webinar_offered WHERE webinar_id = ? AND visitor = ?",
    [id, who.visitor],
  )
  const before = row ? readJson(numbers, row.starts) : []
  const starts = heldStarts(before, w.when.anyTime, now, who.zone)
  if (JSON.stringify(starts) !== row?.starts)
    await db.insert(
      "webinar_offered",
      { webinar_id: id, visitor: who.visitor, starts: JSON.stringify(starts), at: new Date(now) },
      "ON DUPLICATE KEY UPDATE starts = VALUES(starts), at = VALUES(at)",
    )
  return starts
}

/** The date that somebody chose, by what their form sent; null: it is none that they could choose. */
export async function chosenDate(tx: Db, id: number, typed: string, who: Looking): Promise<number | null> {
  const start = /^at:(\d{1,15})$/.exec(typed)?.[1]
  if (start === undefined) {
    const date = /^[1-9]\d{0,8}$/.test(typed) ? Number(typed) : 0
    return (await tx.row("SELECT 1 FROM webinar_date WHERE id = ? AND webinar_id = ?", [date, id])) ? date : null
  }
  const at = Number(start)
  const row = await tx.row<{ starts: string }>(
    "SELECT starts FROM webinar_offered WHERE webinar_id = ? AND visitor = ?",
    [id, who.visitor],
  )
  const w = (await readWebinar(tx, id))?.value
  if (!row || !w || !readJson(numbers, row.starts).includes(at)) return null
  await tx.insert(
    "webinar_date",
    { webinar_id: id, planned_at: new Date(at), starts_at: new Date(at), minutes: w.minutes },
    "ignore",
  )
  const date = await tx.row<{ id: number }>("SELECT id FROM webinar_date WHERE webinar_id = ? AND planned_at = ?", [
    id,
    new Date(at),
  ])
  return date?.id ?? null
}

/** Forgets what visitors were shown, or asked for and never took, a month ago. */
export async function sweepOffered(db: Db, now: number): Promise<void> {
  await db.write("DELETE FROM registration WHERE person_id IS NULL AND made_at < ? LIMIT 5000", [
    new Date(now - 30 * 86_400_000),
  ])
  await db.write("DELETE FROM webinar_offered WHERE at < ? LIMIT 5000", [new Date(now - 30 * 86_400_000)])
}
