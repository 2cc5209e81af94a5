// The room of a webinar as one person with a seat meets it: when it opens, what plays, and what it leads to. The server's clock counts.
import { longestGap } from "@/core/webinar/attendance"
import { type Playing, playingAt } from "@/core/webinar/recording"
import type { Webinar } from "@/core/webinar/webinar"
import { mediaLink } from "../media/store"
import type { Surroundings } from "../surroundings"
import { readWebinar } from "./webinar"

export type Room = {
  readonly registration: number
  readonly date: number
  readonly person: number
  readonly webinar: Webinar
  readonly starts: number
  readonly minutes: number
  readonly calledOff: boolean
  /** IANA zone of whoever has the seat. */
  readonly zone: string
  /** Whether it is open: from so many minutes before the start to the end. */
  readonly open: boolean
  readonly playing: Playing
  /** Whether what it leads to is shown by now. */
  readonly offered: boolean
}

/** Undefined where there is no such seat, or it was given up. */
export async function roomOf(s: Surroundings, registration: number): Promise<Room | undefined> {
  const row = await s.db.row<{
    date: number
    person: number
    webinar: number
    starts: Date
    minutes: number
    off: number
    zone: string
    seconds: number | null
  }>(
    `SELECT r.date_id AS date, r.person_id AS person, r.webinar_id AS webinar, d.starts_at AS starts, d.minutes, d.called_off_at IS NOT NULL AS off, p.zone, m.seconds
     FROM registration r JOIN webinar_date d ON d.id = r.date_id JOIN person p ON p.id = r.person_id JOIN webinar w ON w.id = r.webinar_id
     LEFT JOIN media m ON m.id = JSON_VALUE(w.document, '$.recording') WHERE r.id = ? AND r.state IN ('registered', 'called-off')`,
    [registration],
  )
  const webinar = row && (await readWebinar(s.db, row.webinar))?.value
  if (!row || !webinar) return undefined
  const now = await s.clock.now()
  const starts = row.starts.getTime()
  const playing = playingAt(starts, row.minutes, row.seconds ?? 0, now)
  return {
    registration,
    date: row.date,
    person: row.person,
    webinar,
    starts,
    minutes: row.minutes,
    calledOff: Boolean(row.off),
    zone: row.zone,
    open: !row.off && now >= starts - webinar.opens * 60_000 && playing.phase !== "over",
    playing,
    offered: webinar.offer !== null && playing.phase !== "before" && now >= starts + webinar.offerMinute * 60_000,
  }
}

/** Whether another device of theirs is in the room just now. */
export async function isElsewhere(s: Surroundings, registration: number, device: Buffer): Promise<boolean> {
  const row = await s.db.row("SELECT 1 FROM stay WHERE registration_id = ? AND device <> ? AND to_at > ? LIMIT 1", [
    registration,
    device,
    new Date((await s.clock.now()) - longestGap),
  ])
  return row !== undefined
}

/** What plays in it, as a link that works for some hours; null: nothing is chosen. */
export async function recordingOf(
  s: Surroundings,
  w: Webinar,
): Promise<{ readonly url: string; readonly type: string } | null> {
  const row =
    w.recording === null
      ? undefined
      : await s.db.row<{ stored: string; type: string }>("SELECT stored, type FROM media WHERE id = ?", [w.recording])
  return row ? { url: mediaLink(s.config, row.stored, Date.now()), type: row.type } : null
}
