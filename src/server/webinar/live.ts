// A date that is held live: its host begins it, shows what it leads to, and ends it.
import { refusals } from "@/core/words/refusals"
import type { Context } from "../context"
import { gone, ok, type Saved } from "../saved"
import { meetingRoom } from "./room"

/** How long before its time a host may begin, ms. */
const early = 30 * 60_000

/** The host begins: from now on everybody in the room hears them. */
export async function beginLive(s: Context, date: number): Promise<Saved> {
  if (!s.meeting) return { refused: refusals.webinar.noMeeting }
  const now = await s.clock.now()
  const row = await s.db.row<{ begun: Date | null }>(
    `SELECT d.begun_at AS begun FROM webinar_date d JOIN webinar w ON w.id = d.webinar_id
     WHERE d.id = ? AND JSON_VALUE(w.document, '$.recording') IS NULL AND d.called_off_at IS NULL AND d.settled_at IS NULL AND d.ended_at IS NULL AND d.starts_at <= ? AND d.over_at > ?`,
    [date, new Date(now + early), new Date(now)],
  )
  if (!row) return { refused: refusals.webinar.notNow }
  if (row.begun) return ok
  // The service first: nobody is told that it runs before anything can be heard.
  try {
    await s.meeting.begin(meetingRoom(s, date))
  } catch (error) {
    s.log.warn(error)
    return { refused: refusals.webinar.meetingAway }
  }
  await s.db.write("UPDATE webinar_date SET begun_at = COALESCE(begun_at, ?) WHERE id = ?", [new Date(now), date])
  return ok
}

/** The host ends it, for everybody. */
export async function endLive(s: Context, date: number): Promise<Saved> {
  const now = new Date(await s.clock.now())
  const done = await s.db.write(
    "UPDATE webinar_date SET ended_at = ? WHERE id = ? AND begun_at IS NOT NULL AND ended_at IS NULL AND over_at > ?",
    [now, date, now],
  )
  if (!done.affected) return gone
  // What goes on being carried is heard by nobody: the room is over.
  await s.meeting?.end(meetingRoom(s, date)).catch((error) => s.log.warn(error))
  return ok
}

/** What it leads to is shown from now on, before its minute. */
export async function showOffer(s: Context, date: number): Promise<Saved> {
  const done = await s.db.write(
    "UPDATE webinar_date SET offered_at = COALESCE(offered_at, ?) WHERE id = ? AND settled_at IS NULL",
    [new Date(await s.clock.now()), date],
  )
  return done.affected ? ok : gone
}
