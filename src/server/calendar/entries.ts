// What stands in the school's calendar between two instants: each domain's dates, asked of their own tables.

import * as v from "valibot"
import { placeOf } from "@/core/calendar/days"
import { type Entry, inOrder } from "@/core/calendar/entry"
import { instantOf } from "@/core/course/opens"
import { broadcastSchema, dueIn } from "@/core/mail/broadcast"
import type { Context } from "../context"
import type { Db } from "../db/pool"

/** How many entries of a kind are shown at most. */
const most = 5_000

type Between = { readonly from: Date; readonly to: Date; readonly zone: string; readonly now: number }

/**
 * In the order of time.
 *
 * @param from ms, and not including `to`
 * @param zone IANA zone of the school
 */
export async function entriesBetween(s: Context, from: number, to: number, zone: string): Promise<Entry[]> {
  const b: Between = { from: new Date(from), to: new Date(to), zone, now: await s.clock.now() }
  const found = await Promise.all([
    webinars(s.db, b),
    broadcasts(s.db, b),
    openings(s.db, b),
    offers(s.db, b),
    coupons(s.db, b),
    charges(s.db, b),
  ])
  return found.flat().sort(inOrder)
}

async function webinars(db: Db, b: Between): Promise<Entry[]> {
  const rows = await db.rows<{
    id: number
    webinar: number
    title: string
    at: Date
    over: Date
    begun: number
    registered: number
  }>(
    `SELECT d.id, w.id AS webinar, w.name AS title, d.starts_at AS at, d.over_at AS \`over\`, d.begun_at IS NOT NULL AS begun,
       (SELECT COUNT(*) FROM registration r WHERE r.date_id = d.id AND r.state = 'registered') AS registered
     FROM webinar_date d JOIN webinar w ON w.id = d.webinar_id
     WHERE d.starts_at >= ? AND d.starts_at < ? AND d.called_off_at IS NULL ORDER BY d.starts_at LIMIT ?`,
    [b.from, b.to, most],
  )
  return rows.map((r) => ({
    kind: "webinar",
    id: String(r.id),
    at: r.at.getTime(),
    minutes: Math.round((r.over.getTime() - r.at.getTime()) / 60_000),
    wholeDay: false,
    title: r.title,
    detail: r.registered === 0 ? "nobody registered" : `${r.registered} registered`,
    href: `/studio/calendar/webinars/${r.webinar}/dates/${r.id}`,
    movable: !r.begun && r.at.getTime() > b.now,
  }))
}

/** Those that are planned or gone out, by when the first can get it; a draft by the time that is written in it. */
async function broadcasts(db: Db, b: Between): Promise<Entry[]> {
  const gone = await db.rows<{ id: number; name: string; at: Date; state: string }>(
    "SELECT id, name, begins_at AS at, state FROM broadcast WHERE begins_at >= ? AND begins_at < ? AND state <> 'draft' LIMIT ?",
    [b.from, b.to, most],
  )
  const drafts = await db.rows<{ id: number; name: string; document: string }>(
    "SELECT id, name, document FROM broadcast WHERE state = 'draft' AND JSON_VALUE(document, '$.when.date') BETWEEN ? AND ? LIMIT ?",
    [placeOf(b.from.getTime() - 86_400_000, b.zone).day, placeOf(b.to.getTime() + 86_400_000, b.zone).day, most],
  )
  const of = { wholeDay: false, minutes: null, kind: "broadcast" } as const
  return [
    ...gone.map((r) => ({
      ...of,
      id: String(r.id),
      at: r.at.getTime(),
      title: r.name,
      detail: r.state,
      href: `/studio/mail/broadcasts/${r.id}`,
      movable: false,
    })),
    ...drafts.flatMap((r): Entry[] => {
      const { when } = v.parse(broadcastSchema, JSON.parse(r.document))
      const at = dueIn(when, b.zone, b.zone, 0)
      if (at < b.from.getTime() || at >= b.to.getTime()) return []
      return [
        {
          ...of,
          id: String(r.id),
          at,
          title: r.name,
          detail: "draft, not planned yet",
          href: `/studio/mail/broadcasts/${r.id}`,
          movable: true,
        },
      ]
    }),
  ]
}

/** Courses that begin, and parts of them that open on a day; every learner has that day on their own clock. */
async function openings(db: Db, b: Between): Promise<Entry[]> {
  const days = [placeOf(b.from.getTime(), b.zone).day, placeOf(b.to.getTime() - 1, b.zone).day]
  const onDay = (column: string) =>
    `JSON_VALUE(${column}, '$.kind') = 'on-date' AND JSON_VALUE(${column}, '$.date') BETWEEN ? AND ?`
  const rows = await db.rows<{ id: string; course: number; title: string; of: string; date: string; at: string }>(
    `SELECT CONCAT('course-', c.id) AS id, c.id AS course, c.title, '' AS \`of\`, DATE_FORMAT(c.starts, '%Y-%m-%d') AS date, '00:00' AS at FROM course c WHERE c.starts BETWEEN ? AND ?
     UNION ALL SELECT CONCAT('course-opens-', c.id), c.id, c.title, '', JSON_VALUE(c.opens, '$.date'), JSON_VALUE(c.opens, '$.at') FROM course c WHERE ${onDay("c.opens")}
     UNION ALL SELECT CONCAT('module-', m.id), c.id, m.title, c.title, JSON_VALUE(m.opens, '$.date'), JSON_VALUE(m.opens, '$.at') FROM module m JOIN course c ON c.id = m.course_id WHERE m.removed_at IS NULL AND ${onDay("m.opens")}
     UNION ALL SELECT CONCAT('lesson-', l.id), c.id, l.title, c.title, JSON_VALUE(l.opens, '$.date'), JSON_VALUE(l.opens, '$.at') FROM lesson l JOIN course c ON c.id = l.course_id WHERE l.state <> 'removed' AND ${onDay("l.opens")}
     LIMIT ?`,
    [...days, ...days, ...days, ...days, most],
  )
  return rows.map((r) => ({
    kind: "course",
    id: r.id,
    at: instantOf(r.date, r.at, b.zone),
    minutes: null,
    wholeDay: false,
    title: `${r.title} opens`,
    detail: r.of,
    href: `/studio/courses/${r.course}/opens`,
    movable: false,
  }))
}

async function offers(db: Db, b: Between): Promise<Entry[]> {
  const rows = await db.rows<{ id: number; name: string; at: Date; end: number }>(
    `SELECT id, public_name AS name, from_at AS at, 0 AS end FROM offer WHERE removed_at IS NULL AND from_at >= ? AND from_at < ?
     UNION ALL SELECT id, public_name, until_at, 1 FROM offer WHERE removed_at IS NULL AND until_at >= ? AND until_at < ? LIMIT ?`,
    [b.from, b.to, b.from, b.to, most],
  )
  return rows.map((r) => ({
    kind: r.end ? "offer-until" : "offer-from",
    id: String(r.id),
    at: r.at.getTime(),
    minutes: null,
    wholeDay: false,
    title: r.name,
    detail: "",
    href: `/studio/offers/${r.id}`,
    movable: r.at.getTime() > b.now,
  }))
}

async function coupons(db: Db, b: Between): Promise<Entry[]> {
  const rows = await db.rows<{ id: number; code: string; place: string; at: Date; end: number }>(
    `SELECT id, code, given_out AS place, from_at AS at, 0 AS end FROM coupon WHERE from_at >= ? AND from_at < ?
     UNION ALL SELECT id, code, given_out, until_at, 1 FROM coupon WHERE until_at >= ? AND until_at < ? LIMIT ?`,
    [b.from, b.to, b.from, b.to, most],
  )
  return rows.map((r) => ({
    kind: r.end ? "coupon-until" : "coupon-from",
    id: String(r.id),
    at: r.at.getTime(),
    minutes: null,
    wholeDay: false,
    title: r.code,
    detail: r.place,
    href: "/studio/offers/coupons",
    movable: r.at.getTime() > b.now,
  }))
}

/** The charges of plans that are due on a day, together. */
async function charges(db: Db, b: Between): Promise<Entry[]> {
  const rows = await db.rows<{ at: Date; n: number }>(
    `SELECT MIN(next_due) AS at, COUNT(*) AS n FROM plan WHERE state IN ('running', 'behind') AND next_due >= ? AND next_due < ?
     GROUP BY FLOOR(UNIX_TIMESTAMP(next_due) / 900) LIMIT ?`,
    [b.from, b.to, most],
  )
  const days = new Map<string, number>()
  for (const r of rows) {
    const { day } = placeOf(r.at.getTime(), b.zone)
    days.set(day, (days.get(day) ?? 0) + r.n)
  }
  return [...days].map(([day, n]) => ({
    kind: "charges",
    id: day,
    at: instantOf(day, "00:00", b.zone),
    minutes: null,
    wholeDay: true,
    title: n === 1 ? "1 charge is due" : `${n} charges are due`,
    detail: "instalments and subscriptions",
    href: "/studio/ledger/plans",
    movable: false,
  }))
}
