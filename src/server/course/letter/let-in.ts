// Tells somebody that the school has let them into a course, or gives them a file, with the way there.
import { words } from "@/core/words/en"
import { paragraphs, type WriteLetter } from "../../port/letter"
import { sign } from "../../sign"

export const letInLetter: WriteLetter = async (db, config, school, mail) => {
  const into = await db.row<{ course: string | null; file: string | null }>(
    `SELECT c.title AS course, m.name AS file FROM way_in w LEFT JOIN course c ON w.leads_to = CONCAT('/learn/', c.slug)
     LEFT JOIN media m ON w.leads_to = CONCAT('/learn/file/', m.id) WHERE w.id = ?`,
    [mail.way_in_id],
  )
  const title = into?.course ?? into?.file
  if (!into || !title) return null
  const w = words.mail
  return {
    subject: into.course ? w.letInSubject(title) : w.fileSubject(title),
    body: paragraphs((into.course ? w.letInText : w.fileText)(mail.to_name, school.name, title)),
    button: {
      says: into.course ? w.letInButton : w.fileButton,
      url: `${config.origin}/way-in/${sign(config.secret, "way-in", String(mail.way_in_id))}`,
    },
    after: "",
  }
}
