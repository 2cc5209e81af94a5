// What came of a webinar's dates: how far everybody went, by where they came from, and when they were in the room.
import { curveOf, presenceOf, type Stay } from "@/core/webinar/attendance"
import { boughtWithin, type Came, type Lead, leadOf, leads, nobodyCame } from "@/core/webinar/came"
import type { Webinar } from "@/core/webinar/webinar"
import type { Db } from "../db/pool"
import { readWebinar } from "./webinar"

export type Reminded = "opened" | "not-opened" | "none"

export type CurveOfDate = {
  readonly date: number
  readonly starts: Date
  /** People in each minute. */
  readonly curve: readonly number[]
  /** Minutes at which polls were asked. */
  readonly polls: readonly { readonly minute: number; readonly question: string }[]
}

export type WhatCame = {
  readonly all: Came
  readonly bySource: readonly (Came & { readonly source: string })[]
  readonly byLead: readonly (Came & { readonly lead: Lead })[]
  readonly byReminder: readonly (Came & { readonly reminder: Reminded })[]
  /** The latest first. */
  readonly curves: readonly CurveOfDate[]
}

/** How many dates are laid over each other at most, the latest. */
const mostDates = 60

type Guest = {
  readonly id: number
  readonly date: number
  readonly source: string | null
  readonly lead: number
  readonly came: string
  readonly there: number
  readonly saw: number
  readonly pressed: number
  readonly bought: number
  readonly sent: number
  readonly opened: number
}

/** Of one date, or of all that are over; undefined where there is no such webinar. */
export async function whatCame(db: Db, webinar: number, date: number | null): Promise<WhatCame | undefined> {
  const w = (await readWebinar(db, webinar))?.value
  if (!w) return undefined
  const dates = await db.rows<{ id: number; starts: Date; began: Date; over: Date }>(
    `SELECT id, starts_at AS starts, COALESCE(begun_at, starts_at) AS began, over_at AS \`over\` FROM webinar_date
     WHERE webinar_id = ? AND settled_at IS NOT NULL${date === null ? "" : " AND id = ?"} ORDER BY starts_at DESC LIMIT ?`,
    date === null ? [webinar, mostDates] : [webinar, date, mostDates],
  )
  const guests = await guestsOf(
    db,
    webinar,
    w.offer,
    dates.map((d) => d.id),
  )
  const by = <K extends string>(keys: readonly K[], of: (g: Guest) => K) =>
    keys.map((key) => ({ key, came: countOf(guests.filter((g) => of(g) === key)) }))
  const sourceOf = (g: Guest) => g.source ?? "direct"
  const sources = [...new Set(guests.map(sourceOf))]
  const reminderOf = (g: Guest): Reminded => (g.opened ? "opened" : g.sent ? "not-opened" : "none")
  return {
    all: countOf(guests),
    bySource: by(sources, sourceOf)
      .map(({ key, came }) => ({ source: key, ...came }))
      .sort((a, b) => b.registered - a.registered)
      .slice(0, 20),
    byLead: by(leads, (g) => leadOf(g.lead)).map(({ key, came }) => ({ lead: key, ...came })),
    byReminder: by(["opened", "not-opened", "none"], reminderOf).map(({ key, came }) => ({ reminder: key, ...came })),
    curves: await curvesOf(db, dates),
  }
}

/** Everybody with a seat on these dates. */
async function guestsOf(db: Db, webinar: number, offer: Webinar["offer"], dates: readonly number[]): Promise<Guest[]> {
  if (!dates.length) return []
  return db.rows<Guest>(
    `SELECT r.id, r.date_id AS date, COALESCE(j.source, p.source) AS source,
       TIMESTAMPDIFF(MICROSECOND, r.made_at, d.starts_at) DIV 1000 AS lead, r.came, r.there_ms AS there,
       r.saw_offer_at IS NOT NULL AS saw, r.pressed_at IS NOT NULL AS pressed,
       EXISTS (SELECT 1 FROM orders o JOIN order_line l ON l.order_id = o.id AND l.offer_id = ? WHERE o.person_id = r.person_id AND o.state = 'paid' AND o.made_at >= d.starts_at AND o.made_at < d.starts_at + INTERVAL ? DAY) AS bought,
       COALESCE(x.sent, 0) AS sent, COALESCE(x.opened, 0) AS opened
     FROM registration r JOIN webinar_date d ON d.id = r.date_id JOIN person p ON p.id = r.person_id
     LEFT JOIN (
       SELECT y.id, MIN(j.source) AS source FROM registration y JOIN journey j ON j.person_id = y.person_id
         AND j.funnel_id IN (SELECT t.funnel_id FROM reference f JOIN step t ON t.id = f.step_id WHERE f.webinar_id = ?)
       WHERE y.date_id IN (?) GROUP BY y.id) j ON j.id = r.id
     LEFT JOIN (
       SELECT y.id, 1 AS sent, MAX(m.opened_at IS NOT NULL AND m.opened_at <= z.starts_at) AS opened
       FROM registration y JOIN webinar_date z ON z.id = y.date_id
       JOIN mail m ON m.person_id = y.person_id AND m.state = 'sent' AND m.sent_at >= y.made_at AND m.sent_at <= z.starts_at
       JOIN sequence_mail q ON q.id = m.sequence_mail_id
       JOIN reference f ON f.from_sequence_id = q.sequence_id AND f.webinar_id = y.webinar_id
       WHERE y.date_id IN (?) GROUP BY y.id) x ON x.id = r.id
     WHERE r.date_id IN (?) AND r.state = 'registered' AND r.came IS NOT NULL`,
    [offer ?? 0, boughtWithin, webinar, dates, dates, dates],
  )
}

function countOf(guests: readonly Guest[]): Came {
  const some = (of: (g: Guest) => boolean) => guests.reduce((n, g) => n + (of(g) ? 1 : 0), 0)
  if (!guests.length) return nobodyCame
  return {
    registered: guests.length,
    came: some((g) => g.there > 0),
    stayed: some((g) => g.came === "attended"),
    saw: some((g) => Boolean(g.saw)),
    pressed: some((g) => Boolean(g.pressed)),
    bought: some((g) => Boolean(g.bought)),
  }
}

async function curvesOf(
  db: Db,
  dates: readonly { readonly id: number; readonly starts: Date; readonly began: Date; readonly over: Date }[],
): Promise<CurveOfDate[]> {
  if (!dates.length) return []
  const ids = dates.map((d) => d.id)
  const rows = await db.rows<{ date: number; id: number; from_at: Date; to_at: Date }>(
    "SELECT r.date_id AS date, r.id, y.from_at, y.to_at FROM registration r JOIN stay y ON y.registration_id = r.id WHERE r.date_id IN (?) AND r.state = 'registered'",
    [ids],
  )
  const by = new Map<number, Map<number, Stay[]>>()
  for (const r of rows) {
    const people = by.get(r.date) ?? new Map<number, Stay[]>()
    by.set(r.date, people)
    const stays = people.get(r.id) ?? []
    people.set(r.id, stays)
    stays.push({ from: r.from_at.getTime(), to: r.to_at.getTime() })
  }
  const asked = await db.rows<{ date: number; question: string; at: Date }>(
    "SELECT date_id AS date, question, opened_at AS at FROM poll WHERE date_id IN (?) ORDER BY opened_at",
    [ids],
  )
  return dates.map((d) => {
    const within = { from: d.began.getTime(), to: d.over.getTime() }
    const people = [...(by.get(d.id)?.values() ?? [])].map((stays) => presenceOf(stays, within))
    return {
      date: d.id,
      starts: d.starts,
      curve: curveOf(people, within),
      polls: asked
        .filter((p) => p.date === d.id)
        .map((p) => ({
          minute: Math.max(0, Math.floor((p.at.getTime() - within.from) / 60_000)),
          question: p.question,
        })),
    }
  })
}

/** How many had a seat on a date by now, and as long before the start as this one is on each of the last ones, the latest first. */
export async function registeredSoFar(
  db: Db,
  date: { readonly id: number; readonly webinar: number; readonly starts: Date },
  now: number,
): Promise<{ readonly now: number; readonly before: readonly number[] }> {
  const distance = Math.max(0, date.starts.getTime() - now)
  const one = await db.row<{ n: number }>(
    "SELECT COUNT(*) AS n FROM registration WHERE date_id = ? AND state = 'registered'",
    [date.id],
  )
  const before = await db.rows<{ n: number }>(
    `SELECT (SELECT COUNT(*) FROM registration r WHERE r.date_id = d.id AND r.state = 'registered' AND r.made_at <= d.starts_at - INTERVAL ? MICROSECOND) AS n
     FROM webinar_date d WHERE d.webinar_id = ? AND d.settled_at IS NOT NULL AND d.starts_at < ? ORDER BY d.starts_at DESC LIMIT 4`,
    [distance * 1000, date.webinar, date.starts],
  )
  return { now: one?.n ?? 0, before: before.map((b) => b.n) }
}
