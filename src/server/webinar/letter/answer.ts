// A question of the room, answered afterwards.
import { words } from "@/core/words/en"
import { paragraphs, type WriteLetter } from "../../port/letter"
import { readWebinar } from "../webinar"

export const answerLetter: WriteLetter = async (db, _config, _school, mail) => {
  const row = await db.row<{ question: string; answer: string | null; webinar: number }>(
    "SELECT m.words AS question, m.answer, d.webinar_id AS webinar FROM room_message m JOIN webinar_date d ON d.id = m.date_id WHERE m.id = ?",
    [mail.room_message_id],
  )
  const w = row && (await readWebinar(db, row.webinar))?.value
  if (!row?.answer || !w) return null
  return {
    subject: words.webinar.answerSubject(w.title),
    body: paragraphs(words.webinar.answerText(mail.to_name, row.question, row.answer, w.host)),
    button: null,
  }
}
