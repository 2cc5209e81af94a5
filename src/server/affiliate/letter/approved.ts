// Tells whoever asked to recommend that they can begin.
import { words } from "@/core/words/en"
import { paragraphs, type WriteLetter } from "../../port/letter"
import { sign } from "../../sign"

export const affiliateApprovedLetter: WriteLetter = async (_, config, school, mail) => ({
  subject: words.mail.approvedSubject(school.name),
  body: paragraphs(words.mail.approvedText(mail.to_name, school.name)),
  button: {
    says: words.mail.approvedButton,
    url: `${config.origin}/way-in/${sign(config.secret, "way-in", String(mail.way_in_id))}`,
  },
})
