// The receipt: what was bought, what was paid, and a way in.

import { soldAt } from "@/core/funnel/step/list"
import { escapeHtml } from "@/core/html"
import { moneyText } from "@/core/offer/money"
import { readPlan } from "@/core/offer/plan-document"
import { pastSentence } from "@/core/offer/sentence"
import { rateText } from "@/core/offer/tax"
import { words } from "@/core/words/en"
import type { Db } from "../../db/pool"
import type { Row } from "../../db/row"
import { dayIn, dayKey } from "../../offer/shown"
import { paragraphs, type WriteLetter } from "../../port/letter"
import { sign } from "../../sign"
import type { OrderRow } from "../order"
import { nextFor } from "../way-on"

export const receiptLetter: WriteLetter = async (db, config, _, mail) => {
  const order = await db.row<
    Pick<Row<"orders">, "id" | "code" | "gross" | "net" | "tax" | "currency" | "paid_at" | "first_id"> &
      Pick<Row<"school">, "name" | "zone" | "tax_rate" | "statement" | "postal_address">
  >(
    "SELECT o.id, o.code, o.gross, o.net, o.tax, o.currency, o.paid_at, o.first_id, h.name, h.zone, h.tax_rate, h.statement, h.postal_address FROM orders o JOIN school h ON h.id = 1 WHERE o.id = ?",
    [mail.order_id],
  )
  if (!order?.paid_at) return null
  const lines = await db.rows<{ name: string; gross: number; plan: string }>(
    "SELECT name, gross, plan FROM order_line WHERE order_id = ? ORDER BY id",
    [order.id],
  )
  const m = words.mail
  const money = (minor: number) => moneyText(minor, order.currency)
  const plans = lines.map((l) => readPlan(l.plan))
  const paid = order.gross > 0
  const body = [
    paragraphs(m.receiptText(mail.to_name, String(order.id))),
    `<ul>${lines.map((l) => `<li>${escapeHtml(l.name)}: ${escapeHtml(money(l.gross))}</li>`).join("")}</ul>`,
    paid
      ? `<p><strong>${escapeHtml(m.receiptPaid(money(order.gross), dayIn(order.paid_at.getTime(), order.zone)))}</strong>`
      : "",
    paid && order.tax > 0
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

/** Whether a further offer still waits for an answer: what comes next in the story is one. */
async function waits(db: Db, id: number, at: number): Promise<boolean> {
  const order = await db.row<OrderRow>("SELECT * FROM orders WHERE id = ?", [id])
  const next = order && (await nextFor(db, order, at))
  return next !== null && next !== undefined && soldAt(next)?.as === "more"
}
