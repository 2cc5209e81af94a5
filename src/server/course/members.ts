// Who is in a course: since when, from where, how far, and who hasn't got in.
import { runsSql } from "@/core/course/may-open"
import { letsIn } from "@/core/mail/kind/list"
import type { Context } from "../context"
import { csv } from "../csv"
import type { Db } from "../db/pool"
import { originWords } from "../origin"
import { foldSearch } from "../person/person"
import type { Opened } from "./admission"

export const membersPage = 50

export type MembersQuery = {
  readonly course: number
  readonly search: string
  /** Everybody, those who run, or those whose access has ended. */
  readonly only: "" | "in" | "ended"
  /** From 0. */
  readonly page: number
}

export type Member = {
  readonly person: number
  readonly name: string
  readonly email: string
  readonly since: Date
  /** What let them in first. */
  readonly origin: string
  readonly done: number
  /** Different quizzes that were tried, and of those passed. */
  readonly tried: number
  readonly passed: number
  /** What was handed in and waits for an answer. */
  readonly waiting: number
  readonly last: Date | null
  /** Null: without an end. */
  readonly until: Date | null
}

/** Each person once, by the first admission they had. */
const first =
  "NOT EXISTS (SELECT 1 FROM admission b WHERE b.person_id = d.person_id AND b.course_id = d.course_id AND b.id < d.id)"

function where(q: MembersQuery, now: Date): { sql: string; values: unknown[] } {
  const running = `EXISTS (SELECT 1 FROM admission b WHERE b.person_id = d.person_id AND b.course_id = d.course_id AND ${runsSql("b")})`
  const only = q.only === "" ? "" : ` AND ${q.only === "in" ? "" : "NOT "}${running}`
  const search = foldSearch(q.search)
  return {
    sql: `d.course_id = ? AND ${first}${only}${search ? " AND p.searched LIKE ?" : ""}`,
    values: [
      q.course,
      ...(q.only === "" ? [] : [now, now]),
      ...(search ? [`%${search.replace(/[\\%_]/g, "\\$&")}%`] : []),
    ],
  }
}

const columns = `d.person_id AS person, p.name, p.email, d.from_at AS since, ${originWords} AS origin,
  (SELECT COUNT(*) FROM lesson_done x JOIN lesson l ON l.id = x.lesson_id WHERE x.person_id = d.person_id AND l.course_id = d.course_id AND l.state = 'live') AS done,
  (SELECT COUNT(DISTINCT x.lesson_id, x.block) FROM quiz_try x JOIN lesson l ON l.id = x.lesson_id WHERE x.person_id = d.person_id AND l.course_id = d.course_id) AS tried,
  (SELECT COUNT(DISTINCT x.lesson_id, x.block) FROM quiz_try x JOIN lesson l ON l.id = x.lesson_id WHERE x.person_id = d.person_id AND l.course_id = d.course_id AND x.passed = 1) AS passed,
  (SELECT COUNT(*) FROM hand_in x JOIN lesson l ON l.id = x.lesson_id WHERE x.person_id = d.person_id AND l.course_id = d.course_id AND x.state = 'waiting') AS waiting,
  (SELECT MAX(x.last_at) FROM lesson_seen x JOIN lesson l ON l.id = x.lesson_id WHERE x.person_id = d.person_id AND l.course_id = d.course_id) AS last,
  (SELECT IF(SUM(b.until_at IS NULL), NULL, MAX(b.until_at)) FROM admission b WHERE b.person_id = d.person_id AND b.course_id = d.course_id) AS until`

/** Counts come as text. */
const counted = <M extends Member>(m: M): M => ({
  ...m,
  done: m.done,
  tried: m.tried,
  passed: m.passed,
  waiting: m.waiting,
})

/** A page of members, the latest first. */
export async function listMembers(s: Context, q: MembersQuery): Promise<{ members: Member[]; total: number }> {
  const { sql, values } = where(q, new Date(await s.clock.now()))
  const rows = await s.db.rows<Member>(
    `SELECT ${columns} FROM admission d JOIN person p ON p.id = d.person_id WHERE ${sql} ORDER BY d.id DESC LIMIT ? OFFSET ?`,
    [...values, membersPage, q.page * membersPage],
  )
  const total = await s.db.row<{ n: number }>(
    `SELECT COUNT(*) AS n FROM admission d JOIN person p ON p.id = d.person_id WHERE ${sql}`,
    values,
  )
  return { members: rows.map(counted), total: total?.n ?? 0 }
}

/** All members that fit, as CSV, a thousand at a time. */
export async function* exportMembers(s: Context, q: MembersQuery): AsyncGenerator<string> {
  const { sql, values } = where(q, new Date(await s.clock.now()))
  yield csv([
    [
      "email",
      "name",
      "since",
      "until",
      "from",
      "lessons done",
      "quizzes passed",
      "quizzes tried",
      "hand-ins waiting",
      "last here",
    ],
  ])
  for (let from = 0; ; ) {
    const rows = await s.db.rows<Member & { id: number }>(
      `SELECT d.id, ${columns} FROM admission d JOIN person p ON p.id = d.person_id WHERE ${sql} AND d.id > ? ORDER BY d.id LIMIT 1000`,
      [...values, from],
    )
    if (!rows.length) return
    from = rows.at(-1)!.id
    yield csv(
      rows
        .map(counted)
        .map((m) => [
          m.email,
          m.name,
          m.since.toISOString(),
          m.until?.toISOString() ?? "",
          m.origin,
          m.done,
          m.passed,
          m.tried,
          m.waiting,
          m.last?.toISOString() ?? "",
        ]),
    )
  }
}

export type LessonStop = {
  readonly id: number
  readonly title: string
  /** Members who have looked at it, and of those who have done it. */
  readonly begun: number
  readonly done: number
}

/** Lesson by lesson, how many have begun it and how many of them have done it, in the order of the course. */
export async function lessonStops(db: Db, course: number): Promise<LessonStop[]> {
  const rows = await db.rows<{ id: number; title: string; begun: number; done: number }>(
    `SELECT l.id, l.title, (SELECT COUNT(*) FROM lesson_seen s WHERE s.lesson_id = l.id) AS begun,
       (SELECT COUNT(*) FROM lesson_seen s JOIN lesson_done x ON x.person_id = s.person_id AND x.lesson_id = s.lesson_id WHERE s.lesson_id = l.id) AS done
     FROM lesson l WHERE l.course_id = ? AND l.state = 'live' ORDER BY l.position, l.id`,
    [course],
  )
  return rows.map((r) => ({ ...r, begun: r.begun, done: r.done }))
}

export type InvitationListed = {
  readonly id: number
  readonly name: string
  readonly most: number | null
  readonly used: number
  readonly until_at: Date | null
  readonly days: number | null
  readonly module: string | null
}

/** Invitations that still let people in, the latest first. */
export async function listInvitations(s: Context, of: Opened): Promise<InvitationListed[]> {
  return s.db.rows<InvitationListed>(
    `SELECT i.id, i.name, i.most, i.used, i.until_at, i.days, m.title AS module FROM invitation i LEFT JOIN module m ON m.id = i.module_id
     WHERE i.${"media" in of ? "media_id" : "course_id"} = ? AND i.ended_at IS NULL AND (i.until_at IS NULL OR i.until_at > ?) AND (i.most IS NULL OR i.used < i.most) ORDER BY i.id DESC LIMIT 100`,
    ["media" in of ? of.media : of.course, new Date(await s.clock.now())],
  )
}

/** Somebody who was let in by a purchase or a form and hasn't come in, with what stands in the way. */
export type NotIn = {
  readonly person: number
  readonly name: string
  readonly email: string
  readonly course: number
  readonly title: string
  readonly since: Date
  readonly why: "unreachable" | "waiting" | "draft" | "unpressed"
}

const hour = 3_600_000

/** How many of the latest to be let in are looked at: a school that grows waits no longer for it. */
const lookedAt = 2_000

/**
 * Who paid or joined in the last seven days, has something that is theirs for more than an hour, and has neither signed in nor
 * opened a lesson since. The latest first, at most 100, of the latest 2,000 who were let in.
 */
export async function whoIsNotIn(s: Context, course: number | null = null): Promise<NotIn[]> {
  const now = await s.clock.now()
  const rows = await s.db.rows<NotIn>(
    `SELECT d.person_id AS person, p.name, p.email, c.id AS course, c.title, d.from_at AS since,
       CASE WHEN c.state = 'draft' THEN 'draft'
         WHEN EXISTS (SELECT 1 FROM address a WHERE a.person_id = p.id AND a.email = p.email AND a.suppressed = 'undeliverable') THEN 'unreachable'
         WHEN EXISTS (SELECT 1 FROM mail m WHERE m.person_id = p.id AND m.state IN ('due', 'sending', 'unsure') AND m.due_at >= d.from_at AND m.due_at <= ? AND m.kind IN (?)) THEN 'waiting'
         ELSE 'unpressed' END AS why
     FROM (SELECT person_id, course_id, from_at FROM admission WHERE from_at >= ? AND from_at < ? AND course_id IS NOT NULL AND (until_at IS NULL OR until_at > ?)
         AND (origin LIKE 'line:%' OR origin LIKE 'order:%' OR origin LIKE 'funnel:%') AND (? IS NULL OR course_id = ?) ORDER BY from_at DESC LIMIT ?) d
     JOIN person p ON p.id = d.person_id JOIN course c ON c.id = d.course_id
     WHERE c.state <> 'announced'
       AND NOT EXISTS (SELECT 1 FROM fact f WHERE f.person_id = d.person_id AND f.kind IN ('signed-in', 'lesson-opened', 'confirmed') AND f.at >= d.from_at - INTERVAL 1 MINUTE)
     ORDER BY d.from_at DESC LIMIT 200`,
    [
      new Date(now),
      letsIn,
      new Date(now - 7 * 24 * hour),
      new Date(now - hour),
      new Date(now),
      course,
      course,
      lookedAt,
    ],
  )
  const once = new Map(rows.map((r) => [`${r.person}:${r.course}`, r]))
  return [...once.values()].slice(0, 100)
}

export type Holder = Pick<Member, "person" | "name" | "email" | "since" | "origin" | "until"> & { readonly id: number }

/** Who may take a file away now or later, the latest first, at most 50; and how many there are in all. */
export async function fileHolders(s: Context, media: number): Promise<{ holders: Holder[]; total: number }> {
  const runs = "d.media_id = ? AND (d.until_at IS NULL OR d.until_at > ?)"
  const values = [media, new Date(await s.clock.now())]
  const holders = await s.db.rows<Holder>(
    `SELECT d.id, d.person_id AS person, p.name, p.email, d.from_at AS since, d.until_at AS until, ${originWords} AS origin
     FROM admission d JOIN person p ON p.id = d.person_id WHERE ${runs} ORDER BY d.id DESC LIMIT 50`,
    values,
  )
  const total = await s.db.row<{ n: number }>(`SELECT COUNT(*) AS n FROM admission d WHERE ${runs}`, values)
  return { holders, total: total?.n ?? 0 }
}
