// Tells somebody that the school has let them into a course, with the way there.
import { words } from "@/core/words/en"
import { paragraphs, type WriteLetter } from "../../port/letter"
import { sign } from "../../sign"

export const letInLetter: WriteLetter = async (db, config, school, mail) => {
  const course = await db.row<{ title: string }>(
    "SELECT c.title FROM way_in w JOIN course c ON w.leads_to = CONCAT('/learn/', c.slug) WHERE w.id = ?",
    [mail.way_in_id],
  )
  if (!course) return null
  return {
    subject: words.mail.letInSubject(course.title),
    body: paragraphs(words.mail.letInText(mail.to_name, school.name, course.title)),
    button: {
      says: words.mail.letInButton,
      url: `${config.origin}/way-in/${sign(config.secret, "way-in", String(mail.way_in_id))}`,
    },
    after: "",
  }
}
