// What buyers are mailed: the receipt with a way in, word that the card was refused, word that a plan has ended.
import { moneyText } from "@/core/offer/money"
import { chargeAt, type Plan } from "@/core/offer/plan"
import { pastSentence, sentence } from "@/core/offer/sentence"
import { rateText } from "@/core/offer/tax"
import { escapeHtml } from "@/core/page/html"
import { words } from "@/core/words/en"
import type { Config } from "../config"
import type { Db } from "../db/pool"
import { dayIn, dayKey } from "../offer/shown"
import { sign } from "../sign"
import { nextFor, type OrderRow } from "./order"

export type OrderLetter = {
  readonly subject: string
  readonly body: string
  readonly button: { readonly says: string; readonly url: string }
  readonly after?: string
}

type Mail = {
  readonly kind: string
  readonly to_name: string
  readonly order_id: number | null
  readonly plan_id: number | null
  readonly way_in_id: number | null
  readonly refund_id: number | null
}

export function orderLetter(db: Db, config: Config, mail: Mail): Promise<OrderLetter | null> {
  if (mail.kind === "receipt") return receipt(db, config, mail)
  return mail.kind === "refund" ? refundLetter(db, config, mail) : planLetter(db, config, mail)
}

const paragraphs = (text: string) =>
  text
    .split("\n\n")
    .map((p) => `<p>${escapeHtml(p)}</p>`)
    .join("")

async function receipt(db: Db, config: Config, mail: Mail): Promise<OrderLetter | null> {
  const order = await db.row<{
    id: number
    code: string
    gross: number
    net: number
    tax: number
    currency: string
    paid_at: Date | null
    first_id: number | null
    name: string
    zone: string
    tax_rate: number
    statement: string
    postal_address: string
  }>(
    "SELECT o.id, o.code, o.gross, o.net, o.tax, o.currency, o.paid_at, o.first_id, h.name, h.zone, h.tax_rate, h.statement, h.postal_address FROM orders o JOIN school h ON h.id = 1 WHERE o.id = ?",
    [mail.order_id],
  )
  if (!order?.paid_at) return null
  const lines = await db.rows<{ name: string; gross: number; plan: string }>(
    "SELECT name, gross, plan FROM order_line WHERE order_id = ? ORDER BY id",
    [order.id],
  )
  const m = words.mail
  const money = (minor: number) => moneyText(Number(minor), order.currency)
  const plans = lines.map((l) => JSON.parse(l.plan) as Plan)
  const paid = Number(order.gross) > 0
  const body = [
    paragraphs(m.receiptText(mail.to_name, String(order.id))),
    `<ul>${lines.map((l) => `<li>${escapeHtml(l.name)}: ${escapeHtml(money(l.gross))}</li>`).join("")}</ul>`,
    paid
      ? `<p><strong>${escapeHtml(m.receiptPaid(money(order.gross), dayIn(order.paid_at.getTime(), order.zone)))}</strong>`
      : "",
    paid && Number(order.tax) > 0
      ? `<br>${escapeHtml(m.receiptTax(money(order.net), money(order.tax), rateText(plans[0]?.tax.rate ?? order.tax_rate)))}`
      : "",
    paid ? "</p>" : "",
    `<p>${escapeHtml(pastSentence(plans, dayKey(order.paid_at.getTime(), order.zone)))}</p>`,
    paid && order.statement ? `<p>${escapeHtml(m.receiptStatement(order.statement))}</p>` : "",
  ].join("")
  const after = [
    `<p>${escapeHtml(m.receiptAfter)}</p>`,
    plans.some((p) => p.recurring)
      ? `<p><a href="${config.origin}/learn/plans">${escapeHtml(m.receiptPlan)}</a></p>`
      : "",
    order.first_id === null && (await waits(db, order.id, order.paid_at.getTime()))
      ? `<p>${escapeHtml(words.proof.later)} <a href="${config.origin}/order/${order.code}">${escapeHtml(words.proof.laterLink)}</a></p>`
      : "",
  ].join("")
  return {
    subject: m.receiptSubject(order.name, String(order.id)),
    body,
    button: {
      says: m.receiptButton,
      url: `${config.origin}/way-in/${sign(config.secret, "way-in", String(mail.way_in_id))}`,
    },
    after,
  }
}

async function refundLetter(db: Db, config: Config, mail: Mail): Promise<OrderLetter | null> {
  const refund = await db.row<{
    amount: number
    currency: string
    access: "stays" | "ends"
    n: number
    school: string
  }>(
    "SELECT r.amount, c.currency, r.access, c.order_id AS n, h.name AS school FROM refund r JOIN charge c ON c.id = r.charge_id JOIN school h ON h.id = 1 WHERE r.id = ?",
    [mail.refund_id],
  )
  if (!refund) return null
  const m = words.mail
  const amount = moneyText(Number(refund.amount), refund.currency)
  return {
    subject: m.refundSubject(amount, refund.school),
    body: paragraphs(m.refundText(mail.to_name, amount, String(refund.n), refund.access === "stays")),
    button: { says: m.endedButton, url: `${config.origin}/learn` },
  }
}

/** Whether a further offer still waits for an answer: what comes next in the story is one. */
async function waits(db: Db, id: number, at: number): Promise<boolean> {
  const order = await db.row<OrderRow>("SELECT * FROM orders WHERE id = ?", [id])
  const next = order && (await nextFor(db, order, at))
  return next?.kind === "further"
}

async function planLetter(db: Db, config: Config, mail: Mail): Promise<OrderLetter | null> {
  const plan = await db.row<{
    name: string
    plan: string
    next_n: number
    try_at: Date
    zone: string
    state: string
    after_failure: string
  }>(
    "SELECT l.name, l.plan, p.next_n, p.try_at, p.state, h.zone, f.after_failure FROM plan p JOIN order_line l ON l.id = p.order_line_id JOIN offer f ON f.id = l.offer_id JOIN school h ON h.id = 1 WHERE p.id = ?",
    [mail.plan_id],
  )
  const terms = plan && (JSON.parse(plan.plan) as Plan)
  const charge = terms && chargeAt(terms, plan.next_n)
  if (!plan || !terms || !charge) return null
  const m = words.mail
  if (mail.kind === "access-ended")
    return {
      subject: m.endedSubject(plan.name),
      body: paragraphs(m.endedText(mail.to_name, plan.name, plan.after_failure === "stays")),
      button: { says: m.endedButton, url: `${config.origin}/learn` },
    }
  const again = plan.state === "behind" ? dayIn(plan.try_at.getTime(), plan.zone) : null
  return {
    subject: m.mendSubject(plan.name),
    body:
      paragraphs(m.mendText(mail.to_name, plan.name, moneyText(charge.gross, terms.currency), again)) +
      `<p>${escapeHtml(sentence([terms]))}</p>`,
    button: { says: m.mendButton, url: `${config.origin}/learn/plans` },
  }
}
