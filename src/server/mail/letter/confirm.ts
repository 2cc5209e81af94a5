// Asks a mailbox to confirm what was typed on a form.
import { courseOf } from "@/core/funnel/address"
import { escapeHtml } from "@/core/html"
import { words } from "@/core/words/en"
import { momentIn } from "@/core/words/moment"
import type { Config } from "../../config"
import type { Db } from "../../db/pool"
import { type DueMail, paragraphs, type WriteLetter } from "../../port/letter"
import { releaseById } from "../../releases"
import { sign } from "../../sign"

export const confirmLetter: WriteLetter = async (db, config, school, mail) => {
  const join = await db.row<{ release_id: number; waits: string | null }>(
    "SELECT p.release_id, c.title AS waits FROM pending_join p LEFT JOIN course c ON c.id = p.waits_course_id WHERE p.id = ?",
    [mail.pending_join_id],
  )
  const seat = await heldSeat(db, mail)
  if (seat) {
    const when = momentIn(seat.starts.getTime(), seat.zone)
    return {
      subject: words.webinar.confirmSubject(seat.title),
      body: paragraphs(words.webinar.confirmText(mail.to_name, seat.title, when)),
      button: { says: words.webinar.confirmButton, url: confirmUrl(config, mail) },
      after: `<p>${escapeHtml(words.mail.confirmAfter)}</p>`,
    }
  }
  const after = `<p>${escapeHtml(words.mail.confirmAfter)}</p>`
  if (join?.waits)
    return {
      subject: words.catalogue.confirmSubject(join.waits),
      body: paragraphs(words.catalogue.confirmText(mail.to_name, join.waits)),
      button: { says: words.catalogue.confirmButton, url: confirmUrl(config, mail) },
      after,
    }
  const funnel = join && (await releaseById(db, join.release_id))?.funnel
  const course = (funnel && courseOf(funnel)?.title) ?? funnel?.name ?? school.name
  return {
    subject: words.mail.confirmSubject(course),
    body: paragraphs(words.mail.confirmText(mail.to_name, course)),
    button: {
      says: words.mail.confirmButton,
      url: confirmUrl(config, mail),
    },
    after,
  }
}

const confirmUrl = (config: Config, mail: DueMail) =>
  `${config.origin}/confirm/${sign(config.secret, "confirm", String(mail.pending_join_id))}`

/** The seat at a webinar that the press takes, in the zone of whoever asked for it. */
function heldSeat(db: Db, mail: DueMail): Promise<{ title: string; starts: Date; zone: string } | undefined> {
  return db.row(
    "SELECT w.name AS title, d.starts_at AS starts, p.zone FROM registration r JOIN webinar w ON w.id = r.webinar_id JOIN webinar_date d ON d.id = r.date_id JOIN pending_join p ON p.id = r.pending_join_id WHERE r.pending_join_id = ?",
    [mail.pending_join_id],
  )
}
