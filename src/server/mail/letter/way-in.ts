// Lets a learner in, once.
import { escapeHtml } from "@/core/html"
import { words } from "@/core/words/en"
import { paragraphs, type WriteLetter } from "../../port/letter"
import { sign } from "../../sign"

export const wayInLetter: WriteLetter = async (_, config, school, mail) => ({
  subject: words.mail.wayInSubject(school.name),
  body: paragraphs(words.mail.wayInText(mail.to_name)),
  button: {
    says: words.mail.wayInButton,
    url: `${config.origin}/way-in/${sign(config.secret, "way-in", String(mail.way_in_id))}`,
  },
  after: `<p>${escapeHtml(words.mail.wayInAfter)}</p>`,
})
