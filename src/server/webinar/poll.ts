// Polls of a room: those that its webinar has planned open at their minute, others are asked by the host on the spot. One vote a seat.

import * as v from "valibot"
import { readJson, strings } from "@/core/json"
import { pollSchema, type Webinar } from "@/core/webinar/webinar"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import type { Row } from "../db/row"
import { gone, type Made, ok, refusal, type Saved } from "../saved"
import type { Room } from "./room"

export type PollSeen = {
  readonly id: number
  readonly question: string
  readonly answers: readonly string[]
  /** Votes for each answer. */
  readonly votes: readonly number[]
  readonly opened: number
  readonly closed: boolean
}

/** Opens polls of its plan on a date, whose minute has come; each of them once. */
export async function openPlanned(db: Db, date: number, polls: Webinar["polls"], now: number): Promise<void> {
  await db.insert(
    "poll",
    polls.map((p) => ({
      date_id: date,
      plan: p.id,
      question: p.question,
      answers: JSON.stringify(p.answers),
      opened_at: new Date(now),
    })),
    "ignore",
  )
}

/** The polls of a date in the order in which they were asked, with what they came to so far. */
export async function pollsOf(db: Db, date: number): Promise<PollSeen[]> {
  const rows = await db.rows<
    Pick<Row<"poll">, "id" | "question" | "answers"> & {
      opened: Date
      closed: number
      votes: Record<string, number> | null
    }
  >(
    `SELECT p.id, p.question, p.answers, p.opened_at AS opened, p.closed_at IS NOT NULL AS closed, x.votes
     FROM poll p LEFT JOIN (
       SELECT y.poll_id, JSON_OBJECTAGG(y.answer, y.n) AS votes
       FROM (SELECT v.poll_id, v.answer, COUNT(*) AS n FROM poll_vote v JOIN poll q ON q.id = v.poll_id WHERE q.date_id = ? GROUP BY v.poll_id, v.answer) y GROUP BY y.poll_id) x ON x.poll_id = p.id
     WHERE p.date_id = ? ORDER BY p.opened_at, p.id LIMIT 50`,
    [date, date],
  )
  return rows.map((r) => {
    const answers = readJson(strings, r.answers)
    const votes = r.votes ?? {}
    return {
      id: r.id,
      question: r.question,
      answers,
      votes: answers.map((_, i) => votes[i] ?? 0),
      opened: r.opened.getTime(),
      closed: Boolean(r.closed),
    }
  })
}

/** What somebody has voted for, by poll. */
export async function votesOf(db: Db, registration: number): Promise<Readonly<Record<number, number>>> {
  const rows = await db.rows<{ poll_id: number; answer: number }>(
    "SELECT poll_id, answer FROM poll_vote WHERE registration_id = ? LIMIT 100",
    [registration],
  )
  return Object.fromEntries(rows.map((r) => [r.poll_id, r.answer]))
}

const whole = v.pipe(v.string(), v.regex(/^\d{1,9}$/), v.transform(Number))

/** A vote, while the poll is open; the last one counts. */
export async function vote(s: Context, room: Room, typed: unknown): Promise<Saved> {
  const read = v.safeParse(v.object({ poll: whole, answer: whole }), typed)
  if (!read.success || !room.open) return gone
  const { poll, answer } = read.output
  const row = await s.db.row<{ answers: string }>(
    "SELECT answers FROM poll WHERE id = ? AND date_id = ? AND closed_at IS NULL",
    [poll, room.date],
  )
  if (!row || answer >= readJson(strings, row.answers).length) return gone
  await s.db.insert(
    "poll_vote",
    { poll_id: poll, registration_id: room.registration, answer, at: new Date(await s.clock.now()) },
    "ON DUPLICATE KEY UPDATE answer = VALUES(answer), at = VALUES(at)",
  )
  return ok
}

/** The host asks something on the spot. */
export async function askPoll(s: Context, date: number, typed: unknown): Promise<Made> {
  const read = v.safeParse(pollSchema, typed)
  if (!read.success) return refusal(read.issues)
  if (!(await s.db.row("SELECT 1 FROM webinar_date WHERE id = ?", [date]))) return gone
  const made = await s.db.insert("poll", {
    date_id: date,
    question: read.output.question,
    answers: JSON.stringify(read.output.answers),
    opened_at: new Date(await s.clock.now()),
  })
  return { ok: true, id: made.id }
}

/** Nobody votes in it any more; what it came to is shown to all. */
export async function closePoll(s: Context, id: number): Promise<Saved> {
  const done = await s.db.write("UPDATE poll SET closed_at = COALESCE(closed_at, ?) WHERE id = ?", [
    new Date(await s.clock.now()),
    id,
  ])
  return done.affected ? ok : gone
}
