// Asks the mailbox of an affiliate whether new bank details are theirs.
import { ibanShort } from "@/core/affiliate/iban"
import { words } from "@/core/words/en"
import { paragraphs, type WriteLetter } from "../../port/letter"
import { sign } from "../../sign"

export const bankChangeLetter: WriteLetter = async (db, config, school, mail) => {
  const b = await db.row<{ holder: string; iban: string; done_at: Date | null }>(
    "SELECT holder, iban, done_at FROM bank_change WHERE id = ?",
    [mail.bank_change_id],
  )
  if (!b || b.done_at) return null
  const w = words.mail
  return {
    subject: w.bankSubject(school.name),
    body: paragraphs(w.bankText(mail.to_name, school.name, b.holder, ibanShort(b.iban))),
    button: {
      says: w.bankButton,
      url: `${config.origin}/bank/${sign(config.secret, "bank", String(mail.bank_change_id))}`,
    },
    after: paragraphs(w.bankAfter),
  }
}
