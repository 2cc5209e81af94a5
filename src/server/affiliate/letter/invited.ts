// Invites somebody to recommend an offer: what is paid, and the way to a page of their own.

import { termsText } from "@/core/affiliate/words"
import { escapeHtml } from "@/core/html"
import { words } from "@/core/words/en"
import { paragraphs, type WriteLetter } from "../../port/letter"
import { programmeOf } from "../../programme/programme"
import { sign } from "../../sign"

export const affiliateInvitedLetter: WriteLetter = async (db, config, school, mail) => {
  const p = mail.offer_id === null ? undefined : await programmeOf(db, mail.offer_id)
  if (!p) return null
  const w = words.mail
  return {
    subject: w.affiliateSubject(p.name, school.name),
    body: paragraphs(w.affiliateText(mail.to_name, school.name, p.name, termsText(p.terms, null, p.currency))),
    button: {
      says: w.affiliateButton,
      url: `${config.origin}/way-in/${sign(config.secret, "way-in", String(mail.way_in_id))}`,
    },
    after: p.about ? `<p>${escapeHtml(p.about.slice(0, 600))}</p>` : "",
    leave: {
      says: w.leaveLine,
      url: `${config.origin}/mails/${sign(config.secret, "leave", String(mail.address_id))}?mail=${mail.id}`,
    },
  }
}
