// Whoever has a seat is written to about it: when they take it, and when its date is moved or called off.
import type { Db } from "../db/pool"

/** Queues the letter of one seat, or of all seats of a date; once for each change of its date. */
export async function tellOfSeat(
  tx: Db,
  of: { readonly registration: number } | { readonly date: number },
  now: number,
): Promise<void> {
  const [where, id] = "date" in of ? ["r.date_id = ?", of.date] : ["r.id = ?", of.registration]
  await tx.write(
    `INSERT IGNORE INTO mail (once, kind, person_id, to_email, to_name, registration_id, due_at, try_at)
     SELECT CONCAT('seat:', r.id, ':', r.sequence), 'seat', p.id, p.email, p.name, r.id, ?, ? FROM registration r JOIN person p ON p.id = r.person_id
     WHERE ${where} AND r.state IN ('registered', 'called-off')`,
    [new Date(now), new Date(0), id],
  )
}
