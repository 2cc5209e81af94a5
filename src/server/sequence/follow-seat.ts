// Somebody's seat is for another date, or is gone: what a sequence has planned for them by its start is planned anew.

import type { Db } from "../db/pool"
import type { Happening } from "../happen"
import type { Listener } from "../tx-context"

export const followSeat: Listener = {
  to: ["registered", "registration-moved", "registration-called-off"],
  hear: planAnew,
}

async function planAnew(tx: Db, all: readonly Happening[]): Promise<void> {
  const [h] = all
  const people = all.flatMap((x) => x.person ?? [])
  if (!h?.subject || !people.length) return
  const runs = await tx.rows<{ id: number }>(
    `SELECT DISTINCT n.id FROM enrolment n JOIN reference r ON r.from_sequence_id = n.sequence_id
     WHERE r.webinar_id = ? AND n.person_id IN (?) AND n.ended_at IS NULL`,
    [h.subject, people],
  )
  if (!runs.length) return
  const ids = runs.map((r) => r.id)
  // What is put down and hasn't gone comes again at its new instant; they stand where they stood.
  await tx.write("DELETE FROM mail WHERE enrolment_id IN (?) AND state = 'due'", [ids])
  await tx.write("UPDATE enrolment SET due_at = ? WHERE id IN (?) AND ended_at IS NULL", [new Date(h.at), ids])
}
