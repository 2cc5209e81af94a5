// A sequence that begins on a day: for everybody whom a question finds on that day, a few hundred at a time.

import { Temporal } from "temporal-polyfill"
import * as v from "valibot"
import { dayRule } from "@/core/calendar/days"
import { knownZone } from "@/core/calendar/zone"
import { refsOfSegment, segmentSays, segmentSchema } from "@/core/person/segment/segment"
import { refusals } from "@/core/words/refusals"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { namesOf } from "../names"
import { readQuestion, whereOf } from "../person/where"
import { gone, id, type Made, ok, refusal, type Saved } from "../saved"
import { schoolZone } from "../school-view"
import { setTimer, type TimerWork } from "../timer"
import { beginSequence } from "./begin"

const input = v.object({
  sequence: id,
  question: segmentSchema,
  /** Where the school is. */
  date: dayRule(refusals.course.date),
  /** Minutes of the day. */
  at: v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(1439)),
})

/** Plans a beginning. A day that is over is refused. */
export async function planBeginning(s: Context, typed: unknown): Promise<Made> {
  const read = v.safeParse(input, typed)
  if (!read.success) return refusal(read.issues)
  const { sequence, question, date, at } = read.output
  const zone = knownZone(await schoolZone(s.db), "UTC")
  const due = Temporal.PlainDate.from(date).toZonedDateTime({
    timeZone: zone,
    plainTime: { hour: Math.floor(at / 60), minute: at % 60 },
  }).epochMilliseconds
  if (due <= (await s.clock.now())) return { refused: refusals.sequence.past, field: "date" }
  return s.db.transaction(async (tx): Promise<Made> => {
    if (!(await tx.row("SELECT 1 FROM sequence WHERE id = ?", [sequence]))) return gone
    const made = await tx.insert("planned_beginning", {
      sequence_id: sequence,
      question: JSON.stringify(question),
      due_at: new Date(due),
    })
    await setTimer(tx, { kind: "begin-planned", about: made.id, dueAt: due })
    return { ok: true, id: made.id }
  })
}

/** Takes back one that hasn't begun. */
export async function removePlanned(s: Context, planned: number): Promise<Saved> {
  const done = await s.db.write("DELETE FROM planned_beginning WHERE id = ? AND done_at IS NULL AND up_to = 0", [
    planned,
  ])
  return done.affected ? ok : gone
}

export type Planned = {
  readonly id: number
  readonly due: Date
  /** For whom, after "people who"; empty: everybody. */
  readonly says: string
  /** For how many it began; null: it is still to come. */
  readonly begun: number | null
}

/** Those to come, and the ten that were last. */
export async function plannedOf(db: Db, sequence: number): Promise<Planned[]> {
  const rows = await db.rows<{ id: number; due: Date; question: string; begun: number; done: Date | null }>(
    "SELECT id, due_at AS due, question, begun, done_at AS done FROM planned_beginning WHERE sequence_id = ? ORDER BY done_at IS NOT NULL, due_at DESC LIMIT 30",
    [sequence],
  )
  const questions = rows.map((r) => v.parse(segmentSchema, JSON.parse(r.question)))
  const name = await namesOf(db, questions.flatMap(refsOfSegment))
  return rows.map((r, i) => ({
    id: r.id,
    due: r.due,
    says: segmentSays(questions[i]!, name),
    begun: r.done === null ? null : r.begun,
  }))
}

/** How many are looked at in one transaction. */
const together = 200

/** What the timer of a planned beginning does: some of them, and itself again until all are looked at. */
export const beginPlanned: TimerWork = async (tx, about, at) => {
  const row = await tx.row<{ sequence_id: number; question: string; up_to: number }>(
    "SELECT sequence_id, question, up_to FROM planned_beginning WHERE id = ? AND done_at IS NULL FOR UPDATE",
    [about],
  )
  if (!row) return
  const { sql, values } = await whereOf(tx, readQuestion(row.question), at)
  const people = await tx.rows<{ id: number }>(
    `SELECT p.id FROM person p JOIN address a ON a.person_id = p.id AND a.email = p.email AND a.suppressed IS NULL
     WHERE p.united_with IS NULL AND p.id > ? AND ${sql} ORDER BY p.id LIMIT ?`,
    [row.up_to, ...values, together],
  )
  const count = async () =>
    (
      await tx.row<{ n: number }>("SELECT COUNT(*) AS n FROM enrolment WHERE sequence_id = ? AND person_id IN (?)", [
        row.sequence_id,
        [0, ...people.map((p) => p.id)],
      ])
    )?.n ?? 0
  const before = await count()
  const ids = people.map((p) => p.id)
  await beginSequence(tx, { people: ids, sequence: row.sequence_id, funnel: null, at, again: "no" })
  const over = people.length < together
  await tx.write("UPDATE planned_beginning SET up_to = ?, begun = begun + ?, done_at = ? WHERE id = ?", [
    people.at(-1)?.id ?? row.up_to,
    (await count()) - before,
    over ? new Date(at) : null,
    about,
  ])
  if (!over) await setTimer(tx, { kind: "begin-planned", about, dueAt: at })
}
