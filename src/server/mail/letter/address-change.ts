// Asks a mailbox whether an address is to be changed. What the other person typed isn't repeated to the new mailbox.
import { words } from "@/core/words/en"
import { changeLink } from "../../person/address-change"
import { paragraphs, type WriteLetter } from "../../port/letter"

export const addressChangeLetter: WriteLetter = async (db, config, school, mail) => {
  const found = await db.row<{ id: number; email: string; old_email: string }>(
    "SELECT id, email, old_email FROM address_change WHERE id = ? AND done_at IS NULL",
    [mail.address_change_id],
  )
  if (!found) return null
  const side = mail.to_email === found.old_email ? "old" : "new"
  const w = words.mail
  return {
    subject: w.addressSubject(school.name),
    body: paragraphs(
      side === "old" ? w.addressOldText(mail.to_name, school.name, found.email) : w.addressNewText(school.name),
    ),
    button: { says: side === "old" ? w.addressOldButton : w.addressNewButton, url: changeLink(config, found.id, side) },
    after: paragraphs(w.addressAfter),
  }
}
