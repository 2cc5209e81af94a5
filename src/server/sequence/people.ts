// Who is where in a sequence, and moving, ending and beginning it for people by hand.
import * as v from "valibot"
import { segmentSchema } from "@/core/person/segment/segment"
import { allSteps } from "@/core/sequence/flow"
import { refusals } from "@/core/words/refusals"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { endRuns } from "../mail/end"
import { whereOf } from "../person/where"
import { versionById } from "../releases"
import { gone, id, ok, type Refused, refusal, type Saved } from "../saved"
import { beginSequence } from "./begin"

/** How many people stand at each step of a sequence; those who wait for an e-mail stand at the wait before it. */
export async function placesIn(db: Db, sequence: number): Promise<Record<number, number>> {
  const rows = await db.rows<{ step: number; n: number }>(
    "SELECT step, COUNT(*) AS n FROM enrolment WHERE sequence_id = ? AND ended_at IS NULL AND step IS NOT NULL GROUP BY step",
    [sequence],
  )
  return Object.fromEntries(rows.map((r) => [r.step, r.n]))
}

export type SequenceStanding = {
  readonly enrolment: number
  readonly person: number
  readonly name: string
  readonly email: string
  readonly since: Date | null
  /** When they go on, or get their e-mail; null: when something happens. */
  readonly next: Date | null
}

/** Those who stand at a step, who came first first; at most 100. */
export function peopleAt(db: Db, sequence: number, step: number): Promise<SequenceStanding[]> {
  return db.rows<SequenceStanding>(
    `SELECT n.id AS enrolment, p.id AS person, p.name, p.email, n.arrived_at AS since,
       COALESCE((SELECT m.due_at FROM mail m WHERE m.enrolment_id = n.id AND m.sequence_mail_id IS NOT NULL AND m.state = 'due' LIMIT 1), n.due_at) AS next
     FROM enrolment n JOIN person p ON p.id = n.person_id WHERE n.sequence_id = ? AND n.step = ? AND n.ended_at IS NULL ORDER BY n.arrived_at, n.id LIMIT 100`,
    [sequence, step],
  )
}

const moveInput = v.object({
  sequence: id,
  enrolments: v.pipe(v.array(id), v.minLength(1), v.maxLength(500)),
  /** Null: it ends for them. */
  to: v.nullable(id),
})

/** Takes people to another step, where they begin to wait anew, or ends it for them. What was planned for them is not sent. */
export async function movePeople(s: Context, typed: unknown): Promise<Saved> {
  const read = v.safeParse(moveInput, typed)
  if (!read.success) return refusal(read.issues)
  const { sequence, to } = read.output
  const at = await s.clock.now()
  return s.db.transaction(async (tx): Promise<Saved> => {
    const q = await tx.row<{ name: string; version: number | null }>(
      "SELECT name, live_version_id AS version FROM sequence WHERE id = ?",
      [sequence],
    )
    const flow = q?.version == null ? undefined : (await versionById(tx, q.version))?.document.flow
    if (!q || !flow) return { refused: refusals.sequence.notLive }
    if (to !== null && !allSteps(flow.steps).some((x) => x.id === to)) return gone
    const there = await tx.rows<{ enrolment: number; person: number }>(
      "SELECT id AS enrolment, person_id AS person FROM enrolment WHERE id IN (?) AND sequence_id = ? AND ended_at IS NULL FOR UPDATE",
      [read.output.enrolments, sequence],
    )
    if (!there.length) return gone
    const ids = there.map((r) => r.enrolment)
    if (to === null) {
      await endRuns(
        tx,
        there.map((r) => ({ ...r, sequence, name: q.name })),
        "by hand",
        at,
      )
      return ok
    }
    await tx.write(
      "DELETE FROM mail WHERE enrolment_id IN (?) AND sequence_mail_id IS NOT NULL AND state IN ('due', 'held') AND claimed_by IS NULL",
      [ids],
    )
    await tx.write("UPDATE enrolment SET step = ?, arrived_at = ?, due_at = ? WHERE id IN (?)", [
      to,
      new Date(at),
      new Date(at),
      ids,
    ])
    return ok
  })
}

/** How many are begun in one transaction. */
const together = 200

/** Begins it for everybody of a question who can get mail; gives how many began. */
export async function beginFor(
  s: Context,
  sequence: number,
  question: unknown,
): Promise<{ readonly begun: number } | Refused> {
  const read = v.safeParse(segmentSchema, question)
  if (!read.success) return refusal(read.issues)
  const at = await s.clock.now()
  const live = await s.db.row(
    "SELECT 1 FROM sequence WHERE id = ? AND state <> 'draft' AND live_version_id IS NOT NULL",
    [sequence],
  )
  if (!live) return { refused: refusals.sequence.notLive }
  const { sql, values } = await whereOf(s.db, read.output, at)
  const count = async () =>
    (await s.db.row<{ n: number }>("SELECT COUNT(*) AS n FROM enrolment WHERE sequence_id = ?", [sequence]))?.n ?? 0
  const before = await count()
  for (let from = 0; ; ) {
    const people = await s.db.rows<{ id: number }>(
      `SELECT p.id FROM person p JOIN address a ON a.person_id = p.id AND a.email = p.email AND a.suppressed IS NULL
       WHERE p.united_with IS NULL AND p.id > ? AND ${sql} ORDER BY p.id LIMIT ?`,
      [from, ...values, together],
    )
    if (!people.length) break
    from = people.at(-1)!.id
    await s.db.transaction(async (tx) => {
      await beginSequence(tx, { people: people.map((p) => p.id), sequence, funnel: null, at, again: "no" })
    }, 60_000)
  }
  return { begun: (await count()) - before }
}
