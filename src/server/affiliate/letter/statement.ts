// Tells an affiliate that they were paid, with the statement beside it.
import { ibanShort } from "@/core/affiliate/iban"
import { moneyText } from "@/core/offer/money"
import { dayText } from "@/core/offer/sentence"
import { words } from "@/core/words/en"
import { paragraphs, type WriteLetter } from "../../port/letter"
import { statementFile, statementOf } from "../statement"

export const statementLetter: WriteLetter = async (db, config, school, mail) => {
  const s = await statementOf(db, mail.payout_to_id ?? 0, null)
  const file = s && (await statementFile(db, config, mail.payout_to_id ?? 0, null))
  if (!s || !file) return null
  const amount = moneyText(s.gross, s.currency)
  const w = words.mail
  return {
    subject: w.statementSubject(amount, school.name),
    body: paragraphs(
      w.statementText(mail.to_name, school.name, amount, ibanShort(s.to.iban.replaceAll(" ", "")), dayText(s.day)),
    ),
    button: { says: w.statementButton, url: `${config.origin}/affiliate/paid` },
    attached: { filename: file.name, contentType: "application/pdf", content: file.bytes },
  }
}
