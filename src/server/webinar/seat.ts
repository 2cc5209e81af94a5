// Seats: held for an hour for an address that has still to prove itself, taken for a person; never more than there are.
import type { Db } from "../db/pool"
import { happen } from "../happen"

/** How long a seat is held for whoever has to press a link in their mailbox first, ms. */
export const heldFor = 3_600_000

export type Seat =
  | { readonly registration: number; readonly date: number; readonly starts: number; readonly moved: boolean }
  /** `next`: the next date with a seat free, or null. */
  | { readonly refused: "full"; readonly next: { readonly date: number; readonly starts: number } | null }
  | { readonly refused: "gone" }

type Open = {
  readonly id: number
  readonly webinar: number
  readonly starts: Date
  readonly seats: number | null
  readonly title: string
}

const open = `SELECT d.id, d.webinar_id AS webinar, d.starts_at AS starts, w.seats, w.name AS title
  FROM webinar_date d JOIN webinar w ON w.id = d.webinar_id`

const taken = "state = 'registered' OR (state = 'held' AND held_until > ?)"

/** Holds a seat for a join that waits for its press. */
export async function holdSeat(
  tx: Db,
  date: number,
  pending: number,
  now: number,
  visitor: Buffer | null = null,
): Promise<Seat> {
  const d = await locked(tx, date, now)
  if (!d) return { refused: "gone" }
  if (!(await isFree(tx, d, now))) return { refused: "full", next: await nextFree(tx, d.webinar, now) }
  const made = await tx.insert("registration", {
    webinar_id: d.webinar,
    date_id: date,
    pending_join_id: pending,
    visitor,
    state: "held",
    held_until: new Date(now + heldFor),
    made_at: new Date(now),
  })
  return { registration: made.id, date, starts: d.starts.getTime(), moved: false }
}

/** What a visitor asked for whose address was written to just now: it takes no seat, and is shown to them like any other. */
export async function noteWanted(tx: Db, date: number, visitor: Buffer, now: number): Promise<void> {
  await tx.write(
    "INSERT INTO registration (webinar_id, date_id, visitor, state, held_until, made_at) SELECT webinar_id, id, ?, 'held', ?, ? FROM webinar_date WHERE id = ?",
    [visitor, new Date(now), new Date(now), date],
  )
}

/** The press: what was held is theirs. Where it has run out meanwhile, a seat is taken if there is one. */
export async function takeHeldSeat(tx: Db, pending: number, person: number, now: number): Promise<Seat> {
  const held = await tx.row<{ id: number; date_id: number; state: string; person: number | null; starts: Date }>(
    "SELECT r.id, r.date_id, r.state, r.person_id AS person, d.starts_at AS starts FROM registration r JOIN webinar_date d ON d.id = r.date_id WHERE r.pending_join_id = ?",
    [pending],
  )
  // Without double opt-in it was theirs before the press.
  if (held?.state === "registered" && held.person === person)
    return { registration: held.id, date: held.date_id, starts: held.starts.getTime(), moved: false }
  if (held?.state !== "held") return { refused: "gone" }
  return takeSeat(tx, held.date_id, person, now, held.id)
}

/**
 * Takes a seat for a person. Whoever has one for another date to come of the same webinar is moved; whoever has this one keeps it.
 *
 * @param held the registration that was held for them, which this becomes
 */
export async function takeSeat(tx: Db, date: number, person: number, now: number, held?: number): Promise<Seat> {
  const d = await locked(tx, date, now)
  if (!d) return { refused: "gone" }
  const theirs = await tx.row<{ id: number; date_id: number }>(
    `SELECT r.id, r.date_id FROM registration r JOIN webinar_date x ON x.id = r.date_id
     WHERE r.webinar_id = ? AND r.person_id = ? AND r.state = 'registered' AND x.starts_at > ? AND x.called_off_at IS NULL ORDER BY r.id LIMIT 1 FOR UPDATE`,
    [d.webinar, person, new Date(now)],
  )
  const seated = async (registration: number): Promise<Seat> => {
    const kind = theirs ? "registration-moved" : "registered"
    await happen(tx, { kind, at: now, person, subject: d.webinar, words: d.title })
    return { registration, date, starts: d.starts.getTime(), moved: theirs !== undefined }
  }
  if (held !== undefined)
    // It counts as held until here; from here on it is this person's or nobody's.
    await tx.update("registration", held, { state: "given-up", held_until: null })
  if (theirs?.date_id === date) return { registration: theirs.id, date, starts: d.starts.getTime(), moved: false }
  if (!(await isFree(tx, d, now))) return { refused: "full", next: await nextFree(tx, d.webinar, now) }
  // Whoever is moved keeps the row, and with it the entry in their calendar and the way into the room.
  if (theirs) {
    await tx.write("UPDATE registration SET date_id = ?, sequence = sequence + 1 WHERE id = ?", [date, theirs.id])
    return seated(theirs.id)
  }
  if (held !== undefined) {
    await tx.update("registration", held, { state: "registered", person_id: person, made_at: new Date(now) })
    return seated(held)
  }
  const made = await tx.insert("registration", {
    webinar_id: d.webinar,
    date_id: date,
    person_id: person,
    state: "registered",
    made_at: new Date(now),
  })
  return seated(made.id)
}

export type SeatSeen = {
  readonly id: number
  readonly starts: number
  readonly minutes: number
  readonly zone: string
  readonly calledOff: boolean
}

/** The latest seat at a webinar of a person, or of a visitor whatever came of it; undefined: they have none. */
export async function latestSeat(
  db: Db,
  webinar: number,
  of: { readonly person: number } | { readonly visitor: Buffer },
): Promise<SeatSeen | undefined> {
  const row = await db.row<{ id: number; starts: Date; minutes: number; zone: string; off: number }>(
    `SELECT r.id, d.starts_at AS starts, d.minutes, JSON_VALUE(w.document, '$.zone') AS zone, d.called_off_at IS NOT NULL AS off
     FROM registration r JOIN webinar_date d ON d.id = r.date_id JOIN webinar w ON w.id = r.webinar_id
     WHERE r.webinar_id = ? AND ${"person" in of ? "r.person_id = ?" : "r.visitor = ?"} AND r.state <> 'given-up' ORDER BY d.starts_at DESC, r.id DESC LIMIT 1`,
    [webinar, "person" in of ? of.person : of.visitor],
  )
  return row && { ...row, starts: row.starts.getTime(), calledOff: Boolean(row.off) }
}

/** A date one can still register for, locked: who registers comes one after the other. */
function locked(tx: Db, date: number, now: number): Promise<Open | undefined> {
  return tx.row<Open>(
    `${open} WHERE d.id = ? AND d.called_off_at IS NULL AND d.settled_at IS NULL AND d.starts_at > ? FOR UPDATE`,
    [date, new Date(now)],
  )
}

async function isFree(tx: Db, d: Open, now: number): Promise<boolean> {
  if (d.seats === null) return true
  const row = await tx.row<{ n: number }>(`SELECT COUNT(*) AS n FROM registration WHERE date_id = ? AND (${taken})`, [
    d.id,
    new Date(now),
  ])
  return (row?.n ?? 0) < d.seats
}

/** The next date with a seat free; looked at without a lock, as a page shows it. */
async function nextFree(tx: Db, webinar: number, now: number): Promise<{ date: number; starts: number } | null> {
  const row = await tx.row<{ id: number; starts: Date }>(
    `${open} WHERE d.webinar_id = ? AND d.called_off_at IS NULL AND d.starts_at > ?
       AND (w.seats IS NULL OR (SELECT COUNT(*) FROM registration r WHERE r.date_id = d.id AND (r.state = 'registered' OR (r.state = 'held' AND r.held_until > ?))) < w.seats)
     ORDER BY d.starts_at LIMIT 1`,
    [webinar, new Date(now), new Date(now)],
  )
  return row ? { date: row.id, starts: row.starts.getTime() } : null
}
