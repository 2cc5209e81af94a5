// When a moment is that a sequence waits for, for one person.
import type { Moment } from "@/core/sequence/moment"
import { opensFor } from "../course/opening"
import type { Db } from "../db/pool"
import { seatDeadlines, seatOf } from "../webinar/until"

/** The instant in ms, or null where there is none for them. */
export async function momentFor(db: Db, m: Moment, person: number, at: number): Promise<number | null> {
  const find: Record<Moment["of"], () => Promise<Date | number | null | undefined>> = {
    "offer-ends": async () =>
      (await db.row<{ at: Date | null }>("SELECT until_at AS at FROM offer WHERE id = ?", [m.id]))?.at,
    "plan-charged": async () =>
      (
        await db.row<{ at: Date | null }>(
          "SELECT MIN(p.next_due) AS at FROM plan p JOIN order_line l ON l.id = p.order_line_id WHERE p.person_id = ? AND l.offer_id = ? AND p.ended_at IS NULL",
          [person, m.id],
        )
      )?.at,
    "webinar-starts": async () =>
      (
        await db.row<{ at: Date }>(
          "SELECT d.starts_at AS at FROM registration r JOIN webinar_date d ON d.id = r.date_id WHERE r.webinar_id = ? AND r.person_id = ? AND r.state = 'registered' ORDER BY d.starts_at DESC LIMIT 1",
          [m.id, person],
        )
      )?.at,
    "deal-ends": () => seatEnds(db, m.id, person, at, "deal"),
    "replay-ends": () => seatEnds(db, m.id, person, at, "replay"),
    "lesson-opens": () => opensFor(db, person, m.id, at),
  }
  const found = await find[m.of]()
  return found == null ? null : Number(found)
}

/** The end of what belongs to their latest seat at a webinar. */
async function seatEnds(
  db: Db,
  webinar: number,
  person: number,
  at: number,
  of: "deal" | "replay",
): Promise<number | null> {
  const seat = await seatOf(db, person, webinar)
  return seat === undefined ? null : (await seatDeadlines(db, seat, at))[of]
}
