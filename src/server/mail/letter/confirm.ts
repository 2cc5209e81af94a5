// Asks a mailbox to confirm what was typed on a form.
import { courseOf } from "@/core/funnel/address"
import { escapeHtml } from "@/core/page/html"
import { words } from "@/core/words/en"
import { paragraphs, type WriteLetter } from "../../port/letter"
import { releaseById } from "../../releases"
import { sign } from "../../sign"

export const confirmLetter: WriteLetter = async (db, config, school, mail) => {
  const join = await db.row<{ release_id: number }>("SELECT release_id FROM pending_join WHERE id = ?", [
    mail.pending_join_id,
  ])
  const funnel = join && (await releaseById(db, join.release_id))?.funnel
  const course = (funnel && courseOf(funnel)?.title) ?? funnel?.name ?? school.name
  return {
    subject: words.mail.confirmSubject(course),
    body: paragraphs(words.mail.confirmText(mail.to_name, course)),
    button: {
      says: words.mail.confirmButton,
      url: `${config.origin}/confirm/${sign(config.secret, "confirm", String(mail.pending_join_id))}`,
    },
    after: `<p>${escapeHtml(words.mail.confirmAfter)}</p>`,
  }
}
