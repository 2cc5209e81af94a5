// Says what the teacher answered to what a learner handed in, with the way there.
import { words } from "@/core/words/en"
import { paragraphs, type WriteLetter } from "../../port/letter"
import { sign } from "../../sign"

export const handInLetter: WriteLetter = async (db, config, _, mail) => {
  const found = await db.row<{ lesson: string; state: string; answer: string }>(
    `SELECT l.title AS lesson, h.state, h.answer FROM way_in w JOIN lesson l ON l.id = CAST(SUBSTRING_INDEX(w.leads_to, '/', -1) AS UNSIGNED)
     JOIN hand_in h ON h.lesson_id = l.id AND h.person_id = w.person_id AND h.state <> 'waiting' WHERE w.id = ? ORDER BY h.answered_at DESC LIMIT 1`,
    [mail.way_in_id],
  )
  if (!found) return null
  const accepted = found.state === "accepted"
  return {
    subject: words.mail.handInSubject(found.lesson, accepted),
    body: paragraphs(words.mail.handInText(mail.to_name, found.lesson, accepted, found.answer)),
    button: {
      says: words.mail.handInButton,
      url: `${config.origin}/way-in/${sign(config.secret, "way-in", String(mail.way_in_id))}`,
    },
    after: "",
  }
}
