// Says that the next part of a course has opened, with the way there, and a way to leave.
import { words } from "@/core/words/en"
import { paragraphs, type WriteLetter } from "../../port/letter"
import { sign } from "../../sign"

export const lessonOpensLetter: WriteLetter = async (db, config, _, mail) => {
  const found = await db.row<{ course: string; lesson: string; teacher: string }>(
    `SELECT c.title AS course, l.title AS lesson, c.teacher FROM way_in w
     JOIN lesson l ON l.id = CAST(SUBSTRING_INDEX(w.leads_to, '/', -1) AS UNSIGNED) AND l.state = 'live' JOIN course c ON c.id = l.course_id WHERE w.id = ?`,
    [mail.way_in_id],
  )
  if (!found) return null
  const leave = `${config.origin}/mails/${sign(config.secret, "leave", String(mail.address_id))}`
  return {
    subject: words.mail.opensSubject(found.lesson),
    body: paragraphs(words.mail.opensText(mail.to_name, found.course, found.lesson)),
    button: {
      says: words.mail.opensButton,
      url: `${config.origin}/way-in/${sign(config.secret, "way-in", String(mail.way_in_id))}`,
    },
    leave: { says: words.mail.leaveLine, url: leave },
    course: { title: found.course, teacher: found.teacher },
    headers: { "List-Unsubscribe": `<${leave}>`, "List-Unsubscribe-Post": "List-Unsubscribe=One-Click" },
  }
}
