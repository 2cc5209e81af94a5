// Says that a course somebody waits for is open, with the page on which they asked, and a way to leave.
import { words } from "@/core/words/en"
import { paragraphs, type WriteLetter } from "../../port/letter"
import { sign } from "../../sign"

export const courseOpensLetter: WriteLetter = async (db, config, _, mail) => {
  const found = await db.row<{ course: string; page: string }>(
    "SELECT c.title AS course, w.page FROM waiting w JOIN course c ON c.id = w.course_id WHERE w.person_id = ? AND w.course_id = ?",
    [mail.person_id, mail.course_id],
  )
  if (!found) return null
  const leave = `${config.origin}/mails/${sign(config.secret, "leave", String(mail.address_id))}`
  return {
    subject: words.catalogue.opensSubject(found.course),
    body: paragraphs(words.catalogue.opensText(mail.to_name, found.course)),
    button: { says: words.catalogue.opensButton, url: `${config.origin}${found.page}` },
    leave: { says: words.mail.leaveLine, url: leave },
    headers: { "List-Unsubscribe": `<${leave}>`, "List-Unsubscribe-Post": "List-Unsubscribe=One-Click" },
  }
}
