// Money has gone back.

import { moneyText } from "@/core/offer/money"
import { words } from "@/core/words/en"
import type { Row } from "../../db/row"
import { paragraphs, type WriteLetter } from "../../port/letter"

export const refundLetter: WriteLetter = async (db, config, _, mail) => {
  const refund = await db.row<
    Pick<Row<"refund">, "amount" | "access"> & { n: number; school: string; currency: string }
  >(
    "SELECT r.amount, c.currency, r.access, c.order_id AS n, h.name AS school FROM refund r JOIN charge c ON c.id = r.charge_id JOIN school h ON h.id = 1 WHERE r.id = ?",
    [mail.refund_id],
  )
  if (!refund) return null
  const m = words.mail
  const amount = moneyText(refund.amount, refund.currency)
  return {
    subject: m.refundSubject(amount, refund.school),
    body: paragraphs(m.refundText(mail.to_name, amount, String(refund.n), refund.access === "stays")),
    button: { says: m.endedButton, url: `${config.origin}/learn` },
  }
}
