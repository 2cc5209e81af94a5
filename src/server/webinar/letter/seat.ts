// Somebody has a seat: when it is, for their calendar, and their own way into the room. Also when it was moved or called off.

import { entryText } from "@/core/webinar/entry"
import { words } from "@/core/words/en"
import { momentIn } from "@/core/words/moment"
import type { Config } from "../../config"
import type { Db } from "../../db/pool"
import type { Row } from "../../db/row"
import { type LetterSchool, paragraphs, type WriteLetter } from "../../port/letter"
import { sign } from "../../sign"
import { readWebinar } from "../webinar"

export const roomPath = (config: Config, registration: number) =>
  `/room/${sign(config.secret, "room", String(registration))}`

/** Their seat as an entry of their calendar. */
export async function entryOf(
  db: Db,
  config: Config,
  school: Pick<LetterSchool, "sender_name" | "sender_email">,
  registration: number,
  method: "publish" | "request" | "cancel",
  now: number,
): Promise<string | null> {
  const row = await db.row<
    Pick<Row<"person">, "name" | "email"> & { webinar: number; starts: Date; minutes: number; sequence: number }
  >(
    "SELECT r.webinar_id AS webinar, d.starts_at AS starts, d.minutes, r.sequence, p.name, p.email FROM registration r JOIN webinar_date d ON d.id = r.date_id JOIN person p ON p.id = r.person_id WHERE r.id = ?",
    [registration],
  )
  const w = row && (await readWebinar(db, row.webinar))?.value
  if (!row || !w) return null
  return entryText(
    {
      uid: `seat-${registration}@${new URL(config.origin).hostname}`,
      sequence: row.sequence,
      title: w.title,
      promise: w.promise,
      start: row.starts.getTime(),
      minutes: row.minutes,
      zone: w.zone,
      url: `${config.origin}${roomPath(config, registration)}`,
      organiser: { name: school.sender_name, email: school.sender_email },
      attendee: { name: row.name, email: row.email },
      at: now,
    },
    method,
  )
}

export const seatLetter: WriteLetter = async (db, config, school, mail) => {
  const row = await db.row<{ webinar: number; starts: Date; state: string; sequence: number }>(
    "SELECT r.webinar_id AS webinar, d.starts_at AS starts, r.state, r.sequence FROM registration r JOIN webinar_date d ON d.id = r.date_id WHERE r.id = ?",
    [mail.registration_id],
  )
  const w = row && (await readWebinar(db, row.webinar))?.value
  if (!row || !w || (row.state !== "registered" && row.state !== "called-off")) return null
  const off = row.state === "called-off"
  const content = await entryOf(
    db,
    config,
    school,
    mail.registration_id!,
    off ? "cancel" : "request",
    mail.due_at.getTime(),
  )
  const when = momentIn(row.starts.getTime(), mail.zone ?? w.zone)
  const m = words.webinar
  if (off)
    return {
      subject: m.calledOffSubject(w.title, when),
      body: paragraphs(m.calledOffText(mail.to_name, w.title, when)),
      button: null,
      ...(content ? { calendar: { method: "CANCEL", content } } : {}),
    }
  // The first time it is theirs; later it has moved.
  const moved = row.sequence > 0
  return {
    subject: moved ? m.movedSubject(w.title, when) : m.seatSubject(w.title, when),
    body:
      paragraphs((moved ? m.movedText : m.seatText)(mail.to_name, w.title, when)) +
      (w.prepare ? paragraphs(w.prepare) : ""),
    button: { says: m.seatButton, url: `${config.origin}${roomPath(config, mail.registration_id!)}` },
    after: paragraphs(m.seatAfter),
    ...(content ? { calendar: { method: "REQUEST", content } } : {}),
  }
}
