// Lets somebody into the studio who has lost the password, once.
import { escapeHtml } from "@/core/html"
import { words } from "@/core/words/en"
import { paragraphs, type WriteLetter } from "../../port/letter"
import { sign } from "../../sign"

export const studioWayInLetter: WriteLetter = async (_, config, school, mail) => ({
  subject: words.mail.studioSubject(school.name),
  body: paragraphs(words.mail.studioText(mail.to_name)),
  button: {
    says: words.mail.studioButton,
    url: `${config.origin}/studio-in/${sign(config.secret, "studio", String(mail.studio_way_in_id))}`,
  },
  after: `<p>${escapeHtml(words.mail.studioAfter)}</p>`,
})
