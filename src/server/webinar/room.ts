// The room of a webinar as one person with a seat meets it: when it opens, what plays, and what it leads to. The server's clock counts.
import { longestGap } from "@/core/webinar/attendance"
import { isOffered, type Playing, playingOn } from "@/core/webinar/recording"
import type { Webinar } from "@/core/webinar/webinar"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { mediaLink } from "../media/store"
import type { MeetingStream } from "../port/meeting"
import { sign } from "../sign"
import { readWebinar } from "./webinar"

export type Room = {
  readonly registration: number
  readonly date: number
  readonly person: number
  readonly id: number
  readonly webinar: Webinar
  readonly starts: number
  readonly calledOff: boolean
  /** IANA zone of whoever has the seat. */
  readonly zone: string
  /** Whether it is open: from so many minutes before the start to the end. */
  readonly open: boolean
  readonly playing: Playing
  /** Whether what it leads to is shown by now. */
  readonly offered: boolean
  /** Whether they have been shown it. */
  readonly saw: boolean
  /** The one device that is in the room for this seat; null: none yet. */
  readonly device: Buffer | null
}

type Row = {
  readonly date: number
  readonly person: number
  readonly webinar: number
  readonly starts: Date
  readonly over: Date
  readonly begun: Date | null
  readonly offered: Date | null
  readonly off: number
  readonly saw: number
  readonly zone: string
  readonly seconds: number | null
  readonly device: Buffer | null
}

/**
 * Where a date stands just now, for everybody in its room: `state` changes with what they see; `elapsed`, seconds since it began, or null.
 */
export async function turnOf(
  s: Context,
  date: number,
): Promise<{ readonly state: string; readonly elapsed: number | null; readonly polls: Webinar["polls"] } | undefined> {
  const row = await s.db.row<{
    webinar: number
    starts: Date
    over: Date
    begun: Date | null
    offered: number
    off: number
  }>(
    `SELECT webinar_id AS webinar, starts_at AS starts, over_at AS \`over\`, begun_at AS begun, offered_at IS NOT NULL AS offered, called_off_at IS NOT NULL AS off
     FROM webinar_date WHERE id = ?`,
    [date],
  )
  const w = row && (await readWebinar(s.db, row.webinar))?.value
  if (!row || !w) return undefined
  const playing = playingOn(w, row, null, await s.clock.now())
  const offered = isOffered(w, playing, Boolean(row.offered))
  return {
    state: `${playing.phase} ${offered} ${row.off}`,
    elapsed: playing.phase === "running" ? playing.elapsed : null,
    polls: w.polls,
  }
}

/** Undefined where there is no such seat, or it was given up. */
export async function roomOf(s: Context, registration: number): Promise<Room | undefined> {
  const row = await s.db.row<Row>(
    `SELECT r.date_id AS date, r.person_id AS person, r.webinar_id AS webinar, d.starts_at AS starts, d.over_at AS \`over\`, d.begun_at AS begun,
       d.offered_at AS offered, d.called_off_at IS NOT NULL AS off, r.saw_offer_at IS NOT NULL AS saw, p.zone, m.seconds, r.device
     FROM registration r JOIN webinar_date d ON d.id = r.date_id JOIN person p ON p.id = r.person_id JOIN webinar w ON w.id = r.webinar_id
     LEFT JOIN media m ON m.id = JSON_VALUE(w.document, '$.recording') WHERE r.id = ? AND r.state IN ('registered', 'called-off')`,
    [registration],
  )
  const webinar = row && (await readWebinar(s.db, row.webinar))?.value
  if (!row || !webinar) return undefined
  const now = await s.clock.now()
  const starts = row.starts.getTime()
  const playing = playingOn(webinar, row, row.seconds, now)
  const opened = playing.phase === "running" || now >= starts - webinar.opens * 60_000
  return {
    registration,
    date: row.date,
    person: row.person,
    id: row.webinar,
    webinar,
    starts,
    calledOff: Boolean(row.off),
    zone: row.zone,
    open: !row.off && opened && playing.phase !== "over",
    playing,
    offered: isOffered(webinar, playing, row.offered !== null),
    saw: Boolean(row.saw),
    device: row.device,
  }
}

/**
 * A device takes the seat's place in the room: where nobody has it, where whoever had it is gone (no beat for three beats), or
 * where it has proved to be the owner's. False: another one is in the room just now. Of many at once one has it.
 */
export async function takePlace(s: Context, registration: number, device: Buffer, proven: boolean): Promise<boolean> {
  const now = await s.clock.now()
  const gone = new Date(now - longestGap)
  return s.db.transaction(async (tx) => {
    const seat = await tx.row<{ device: Buffer | null; device_at: Date | null }>(
      "SELECT device, device_at FROM registration WHERE id = ? FOR UPDATE",
      [registration],
    )
    if (!seat) return false
    const other = seat.device !== null && !seat.device.equals(device)
    const there =
      other &&
      ((seat.device_at !== null && seat.device_at > gone) ||
        (await tx.row("SELECT 1 FROM stay WHERE registration_id = ? AND device = ? AND to_at > ? LIMIT 1", [
          registration,
          seat.device,
          gone,
        ])) !== undefined)
    if (there && !proven) return false
    await tx.update("registration", registration, { device, device_at: new Date(now) })
    return true
  })
}

/** Which of these seats are another device's by now. */
export async function movedOn(
  db: Db,
  seats: readonly { readonly registration: number; readonly device: Buffer }[],
): Promise<ReadonlySet<number>> {
  const rows = await db.rows<{ id: number; device: Buffer | null }>(
    "SELECT id, device FROM registration WHERE id IN (?)",
    [[0, ...seats.map((x) => x.registration)]],
  )
  const now = new Map(rows.map((r) => [r.id, r.device]))
  return new Set(seats.filter((x) => !now.get(x.registration)?.equals(x.device)).map((x) => x.registration))
}

/** Somebody has been shown what it leads to, or has pressed it: the first time counts. */
export async function noteOffer(db: Db, registration: number, what: "saw" | "pressed", now: number): Promise<void> {
  const column = what === "saw" ? "saw_offer_at" : "pressed_at"
  await db.write(`UPDATE registration SET ${column} = ? WHERE id = ? AND ${column} IS NULL`, [
    new Date(now),
    registration,
  ])
}

/** By what the meeting service knows the room of a date. */
export const meetingRoom = (s: Pick<Context, "config">, date: number) => sign(s.config.secret, "meeting", String(date))

/** What plays in it: its recording, or what its host says just now; null: neither. */
export async function playedIn(
  s: Context,
  room: Pick<Room, "date" | "webinar" | "playing">,
): Promise<MeetingStream | null> {
  if (room.webinar.recording !== null) return mediaLinkTo(s, room.webinar.recording)
  return room.playing.phase === "running" ? (s.meeting?.streamOf(meetingRoom(s, room.date)) ?? null) : null
}

export type File = MeetingStream & { readonly name: string; readonly size: number }

/** A file of ours as a link that works for some hours; null: it is not there. */
export async function mediaLinkTo(s: Context, media: number | null): Promise<File | null> {
  const row =
    media === null
      ? undefined
      : await s.db.row<{ stored: string; type: string; name: string; size: number }>(
          "SELECT stored, type, name, size FROM media WHERE id = ?",
          [media],
        )
  return row
    ? { url: mediaLink(s.config, row.stored, Date.now()), type: row.type, name: row.name, size: row.size }
    : null
}
