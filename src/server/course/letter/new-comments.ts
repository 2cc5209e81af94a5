// Tells the teacher what learners have written below lessons in ten minutes.
import { escapeHtml } from "@/core/html"
import { words } from "@/core/words/en"
import { paragraphs, type WriteLetter } from "../../port/letter"

export const newCommentsLetter: WriteLetter = async (db, config, _, mail) => {
  const found = await db.rows<{ name: string; lesson: string; course: number; body: string; state: string }>(
    `SELECT COALESCE(NULLIF(p.name, ''), p.email) AS name, l.title AS lesson, l.course_id AS course, c.body, c.state
     FROM comment f JOIN comment c ON c.id >= f.id AND c.at < f.at + INTERVAL 10 MINUTE JOIN person p ON p.id = c.person_id JOIN lesson l ON l.id = c.lesson_id
     WHERE f.id = ? AND c.state <> 'hidden' ORDER BY c.id LIMIT 20`,
    [mail.comment_id],
  )
  const first = found[0]
  if (!first) return null
  const waiting = found.filter((c) => c.state === "waiting").length
  const said = found.map(
    (c) =>
      `<p><strong>${escapeHtml(words.mail.commentBy(c.name, c.lesson))}</strong><br>${escapeHtml(c.body.slice(0, 1_000)).replace(/\n/g, "<br>")}</p>`,
  )
  return {
    subject: words.mail.commentSubject(found.length, first.lesson),
    body: `${paragraphs(words.mail.commentText(mail.to_name, waiting))}${said.join("")}`,
    button: { says: words.mail.commentButton, url: `${config.origin}/studio/courses/${first.course}/comments` },
    after: "",
  }
}
