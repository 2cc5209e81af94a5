// Word that the card for a plan was refused, and word that the plan has ended for it.

import { escapeHtml } from "@/core/html"
import { moneyText } from "@/core/offer/money"
import { chargeAt } from "@/core/offer/plan"
import { readPlan } from "@/core/offer/plan-document"
import { sentence } from "@/core/offer/sentence"
import { words } from "@/core/words/en"
import type { Db } from "../../db/pool"
import type { Row } from "../../db/row"
import { dayIn } from "../../offer/shown"
import { type DueMail, paragraphs, type WriteLetter } from "../../port/letter"

async function planOf(db: Db, mail: DueMail) {
  const plan = await db.row<
    Pick<Row<"order_line">, "name" | "plan"> &
      Pick<Row<"plan">, "next_n" | "try_at" | "state"> & { zone: string; after_failure: string }
  >(
    "SELECT l.name, l.plan, p.next_n, p.try_at, p.state, h.zone, f.after_failure FROM plan p JOIN order_line l ON l.id = p.order_line_id JOIN offer f ON f.id = l.offer_id JOIN school h ON h.id = 1 WHERE p.id = ?",
    [mail.plan_id],
  )
  const terms = plan && readPlan(plan.plan)
  const charge = terms && chargeAt(terms, plan.next_n)
  if (!plan || !terms || !charge) return null
  return { ...plan, terms, charge }
}

export const accessEndedLetter: WriteLetter = async (db, config, _, mail) => {
  const plan = await planOf(db, mail)
  const m = words.mail
  return (
    plan && {
      subject: m.endedSubject(plan.name),
      body: paragraphs(m.endedText(mail.to_name, plan.name, plan.after_failure === "stays")),
      button: { says: m.endedButton, url: `${config.origin}/learn` },
    }
  )
}

export const mendCardLetter: WriteLetter = async (db, config, _, mail) => {
  const plan = await planOf(db, mail)
  if (!plan) return null
  const { terms, charge } = plan
  const m = words.mail
  const again = plan.state === "behind" ? dayIn(plan.try_at.getTime(), plan.zone) : null
  return {
    subject: m.mendSubject(plan.name),
    body:
      paragraphs(m.mendText(mail.to_name, plan.name, moneyText(charge.gross, terms.currency), again)) +
      `<p>${escapeHtml(sentence([terms]))}</p>`,
    button: { says: m.mendButton, url: `${config.origin}/learn/plans` },
  }
}
