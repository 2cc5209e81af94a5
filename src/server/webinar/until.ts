// Until when what belongs to a seat is there: the lower price, and the replay. What somebody has been told once stands; what was told is what
// a checkout and the replay keep.
import { dayEnd } from "@/core/webinar/until"
import type { Db } from "../db/pool"
import { readWebinar } from "./webinar"

/** Instants, ms; null: there is none. */
export type SeatDeadlines = { readonly deal: number | null; readonly replay: number | null }

/**
 * Both ends for a seat. Once its webinar has begun they are put down, and stay; before that they move with its date.
 *
 * @param now ms of business time
 */
export async function seatDeadlines(db: Db, registration: number, now: number): Promise<SeatDeadlines> {
  const row = await db.row<{ webinar: number; starts: Date; zone: string; deal: Date | null; replay: Date | null }>(
    `SELECT r.webinar_id AS webinar, d.starts_at AS starts, p.zone, r.deal_until AS deal, r.replay_until AS replay
     FROM registration r JOIN webinar_date d ON d.id = r.date_id JOIN person p ON p.id = r.person_id
     WHERE r.id = ? AND r.state = 'registered' AND d.called_off_at IS NULL`,
    [registration],
  )
  const w = row && (await readWebinar(db, row.webinar))?.value
  if (!row || !w) return { deal: null, replay: null }
  const starts = row.starts.getTime()
  const end = (days: number | undefined | null, told: Date | null) =>
    days == null ? null : (told?.getTime() ?? dayEnd(starts, days, row.zone))
  const found = { deal: end(w.deal?.days, row.deal), replay: end(w.replayDays, row.replay) }
  const fresh = (found.deal !== null && !row.deal) || (found.replay !== null && !row.replay)
  if (fresh && now >= starts)
    await db.write(
      "UPDATE registration SET deal_until = COALESCE(deal_until, ?), replay_until = COALESCE(replay_until, ?) WHERE id = ?",
      [found.deal && new Date(found.deal), found.replay && new Date(found.replay), registration],
    )
  return found
}

/** Their seats that were not called off, the latest date first; at most five, of one webinar or of any. */
export async function seatsOf(db: Db, person: number, webinar?: number): Promise<number[]> {
  const rows = await db.rows<{ id: number }>(
    `SELECT r.id FROM registration r JOIN webinar_date d ON d.id = r.date_id
     WHERE r.person_id = ? AND r.state = 'registered'${webinar === undefined ? "" : " AND r.webinar_id = ?"} ORDER BY d.starts_at DESC, r.id DESC LIMIT 5`,
    webinar === undefined ? [person] : [person, webinar],
  )
  return rows.map((r) => r.id)
}

/** The latest of them at a webinar; undefined: they have none. */
export const seatOf = async (db: Db, person: number, webinar: number): Promise<number | undefined> =>
  (await seatsOf(db, person, webinar))[0]

export type Deal = {
  readonly registration: number
  readonly code: string
  readonly until: number
  /** IANA zone of whoever has the seat. */
  readonly zone: string
  readonly open: boolean
}

/** The lower price that a seat gives for an offer, from the start of its webinar on; null: it gives none. */
export async function dealOf(db: Db, registration: number, offer: number, now: number): Promise<Deal | null> {
  const row = await db.row<{ code: string; starts: Date; zone: string }>(
    `SELECT k.code, d.starts_at AS starts, p.zone FROM registration r JOIN webinar w ON w.id = r.webinar_id JOIN coupon k ON k.id = w.coupon_id
     JOIN webinar_date d ON d.id = r.date_id JOIN person p ON p.id = r.person_id WHERE r.id = ? AND JSON_VALUE(w.document, '$.offer') = ?`,
    [registration, offer],
  )
  if (!row || now < row.starts.getTime()) return null
  const { deal } = await seatDeadlines(db, registration, now)
  return deal === null ? null : { registration, code: row.code, until: deal, zone: row.zone, open: now < deal }
}
