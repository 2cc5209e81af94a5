// Tells a member of the team that somebody has come to a place of a sequence.
import { words } from "@/core/words/en"
import { paragraphs, type WriteLetter } from "../../port/letter"

export const teamNoteLetter: WriteLetter = async (db, config, _, mail) => {
  const about = await db.row<{ person: number; name: string; email: string; sequence: string }>(
    `SELECT p.id AS person, p.name, p.email, q.name AS sequence FROM enrolment n JOIN person p ON p.id = n.person_id JOIN sequence q ON q.id = n.sequence_id
     WHERE n.id = ?`,
    [mail.enrolment_id],
  )
  if (!about) return null
  const who = about.name ? `${about.name}, ${about.email}` : about.email
  return {
    subject: words.mail.teamNoteSubject(about.name || about.email, about.sequence),
    body: paragraphs([mail.note, words.mail.teamNoteText(who, about.sequence)].filter(Boolean).join("\n\n")),
    button: { says: words.mail.teamNoteButton, url: `${config.origin}/studio/people/${about.person}` },
    after: "",
  }
}
