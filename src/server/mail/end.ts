// Ending somebody's way through a sequence, with what was still to come of it.
import type { Db } from "../db/pool"
import { happen } from "../happen"

export type Ended = {
  readonly enrolment: number
  readonly person: number
  readonly sequence: number
  readonly name: string
}

/** Ends these; their places are kept, so that they can go on from there. To be called inside a transaction. */
export async function endRuns(tx: Db, runs: readonly Ended[], why: string, at: number): Promise<void> {
  if (!runs.length) return
  const ids = runs.map((r) => r.enrolment)
  await tx.write(
    "UPDATE enrolment SET ended_at = ?, ended_why = ?, due_at = NULL, listens = 0 WHERE id IN (?) AND ended_at IS NULL",
    [new Date(at), why, ids],
  )
  await tx.write(
    "UPDATE mail SET state = 'cancelled' WHERE enrolment_id IN (?) AND sequence_mail_id IS NOT NULL AND state IN ('due', 'held')",
    [ids],
  )
  await happen(
    tx,
    runs.map((r) => ({
      kind: "sequence-ended" as const,
      at,
      person: r.person,
      subject: r.sequence,
      words: `${r.name}: ${why}`,
    })),
  )
}

/** Ends what somebody is in: one sequence, or (null) all of them. */
export async function endSequence(
  tx: Db,
  e: { person: number; sequence: number | null; why: string; at: number },
): Promise<void> {
  const running = await tx.rows<Ended>(
    `SELECT n.id AS enrolment, n.person_id AS person, n.sequence_id AS sequence, q.name FROM enrolment n JOIN sequence q ON q.id = n.sequence_id
     WHERE n.person_id = ? AND n.ended_at IS NULL AND (? IS NULL OR n.sequence_id = ?) FOR UPDATE`,
    [e.person, e.sequence, e.sequence],
  )
  await endRuns(tx, running, e.why, e.at)
}
