// The ledger's books as the studio reads them: orders, the whole story of one, and all of them as a file.

import type { HappeningKind } from "@/core/happening"
import { type OrderState, orderStateWords } from "@/core/ledger/order"
import type { MailKind } from "@/core/mail/kind/list"
import { postedKinds } from "@/core/offer/gift/list"
import { decimalOf } from "@/core/offer/money"
import { readPlan } from "@/core/offer/plan-document"
import { sentence } from "@/core/offer/sentence"
import type { StoryFact } from "@/core/words/story"
import type { Context } from "../context"
import { csv } from "../csv"
import type { Db } from "../db/pool"
import type { Row } from "../db/row"
import { happen } from "../happen"
import { countsOf } from "../tally"

export const pageOfOrders = 50

export type OrdersQuery = {
  /** An order's number, or the beginning of an address or a name. */
  readonly search: string
  readonly state: OrderState | null
  readonly offer: number | null
  /** Only those of which something waits to be sent by post. */
  readonly post: boolean
  /** Placed from and before these instants, ms. */
  readonly from?: number | null
  readonly to?: number | null
  readonly page: number
}

export type OrderListed = {
  readonly id: number
  readonly first_id: number | null
  readonly made_at: Date
  readonly name: string
  readonly email: string
  readonly state: OrderState
  readonly currency: string
  readonly gross: number
  readonly refunded: number
  readonly bought: string
}

/** The kinds of gift that are sent by post, as SQL: words of ours. */
const posted = postedKinds.map((k) => `'${k}'`).join(", ")

/** Of an order `o`: one of its lines has something to be sent, and it hasn't been. */
export const waitsForPost = `EXISTS (SELECT 1 FROM order_line l JOIN offer_gift g ON g.offer_id = l.offer_id AND g.kind IN (${posted}) WHERE l.order_id = o.id AND l.posted_at IS NULL)`

type Asked = Pick<OrdersQuery, "search" | "state" | "offer" | "post" | "from" | "to">

function where(q: Asked): { sql: string; values: unknown[] } {
  const parts = ["1 = 1"]
  const values: unknown[] = []
  const text = q.search.trim()
  if (/^\d{1,9}$/.test(text)) {
    parts.push("(o.id = ? OR o.first_id = ?)")
    values.push(Number(text), Number(text))
  } else if (text) {
    const begins = `${text.toLowerCase().replace(/[\\%_]/g, "\\$&")}%`
    parts.push("(o.canonical LIKE ? OR o.name LIKE ?)")
    values.push(begins, begins)
  }
  if (q.state) {
    parts.push("o.state = ?")
    values.push(q.state)
  }
  if (q.offer) {
    parts.push("EXISTS (SELECT 1 FROM order_line l WHERE l.order_id = o.id AND l.offer_id = ?)")
    values.push(q.offer)
  }
  if (q.from) {
    parts.push("o.made_at >= ?")
    values.push(new Date(q.from))
  }
  if (q.to) {
    parts.push("o.made_at < ?")
    values.push(new Date(q.to))
  }
  if (q.post) parts.push(`o.state = 'paid' AND ${waitsForPost}`)
  return { sql: parts.join(" AND "), values }
}

const listed = `SELECT o.id, o.first_id, o.made_at, o.name, o.email, o.state, o.currency, o.gross,
   (SELECT COALESCE(SUM(c.refunded), 0) FROM charge c WHERE c.order_id = o.id) AS refunded,
   (SELECT GROUP_CONCAT(l.name ORDER BY l.id SEPARATOR ', ') FROM order_line l WHERE l.order_id = o.id) AS bought FROM orders o`

/** One page of orders, newest first. */
export async function listOrders(db: Db, q: OrdersQuery): Promise<OrderListed[]> {
  const { sql, values } = where(q)
  const rows = await db.rows<OrderListed>(
    `${listed} WHERE ${sql} ORDER BY o.made_at DESC, o.id DESC LIMIT ? OFFSET ?`,
    [...values, pageOfOrders, q.page * pageOfOrders],
  )
  return rows.map((r) => ({ ...r, gross: r.gross, refunded: r.refunded, bought: r.bought ?? "" }))
}

export async function countOrders(db: Db, q: OrdersQuery): Promise<number> {
  if (!q.search.trim() && !q.offer && !q.post && !q.from && !q.to)
    return (await countsOf(db, "orders"))
      .filter((c) => q.state === null || c.part === q.state)
      .reduce((sum, c) => sum + c.n, 0)
  const { sql, values } = where(q)
  return (await db.row<{ n: number }>(`SELECT COUNT(*) AS n FROM orders o WHERE ${sql}`, values))?.n ?? 0
}

export type StoryOrder = OrderListed & {
  readonly sentence: string
  readonly source: string
  readonly postal: string
  readonly step: string | null
  readonly coupon: string | null
  readonly card: string | null
  readonly person_id: number | null
  readonly lines: readonly {
    readonly id: number
    readonly name: string
    readonly role: "main" | "bump" | "further"
    readonly gross: number
    readonly says: string
    readonly post: string
    readonly posted_at: Date | null
  }[]
}
export type StoryCharge = {
  readonly id: number
  readonly order_id: number
  readonly plan: string | null
  readonly n: number
  readonly state: "sending" | "confirming" | "succeeded" | "refused" | "abandoned"
  readonly net: number
  readonly tax: number
  readonly gross: number
  readonly currency: string
  readonly refunded: number
  readonly reason: string | null
  readonly at: Date
}
export type OrderStory = {
  readonly orders: readonly StoryOrder[]
  readonly charges: readonly StoryCharge[]
  readonly refunds: readonly { id: number; amount: number; currency: string; state: string; why: string; at: Date }[]
  readonly facts: readonly ({ id: number; at: Date; kind: HappeningKind } & StoryFact)[]
  readonly mails: readonly { id: number; kind: MailKind; state: string; due_at: Date; sent_at: Date | null }[]
  /** Sums of the journal, by account; together they are zero. */
  readonly journal: readonly { readonly account: string; readonly currency: string; readonly amount: number }[]
}

/** The whole story that an order belongs to: the first order, the further ones, and everything that came of them. */
export async function orderStory(db: Db, order: number): Promise<OrderStory | undefined> {
  const one = await db.row<{ story: number; person_id: number | null; made_at: Date; funnel_id: number | null }>(
    "SELECT COALESCE(first_id, id) AS story, person_id, made_at, funnel_id FROM orders WHERE id = ?",
    [order],
  )
  if (!one) return undefined
  const orders = await db.rows<StoryOrder>(
    `${listed.replace("SELECT", "SELECT o.sentence, o.source, o.postal, o.person_id, t.name AS step, k.code AS coupon, IF(d.id IS NULL, NULL, CONCAT('ending in ', d.last4, ', good until ', d.expires)) AS card,")}
     LEFT JOIN step t ON t.id = o.step_id LEFT JOIN coupon k ON k.id = o.coupon_id LEFT JOIN card d ON d.id = o.card_id WHERE o.id = ? OR o.first_id = ? ORDER BY o.id`,
    [one.story, one.story],
  )
  const ids = orders.map((o) => o.id)
  const lines = await db.rows<StoryOrder["lines"][number] & { order_id: number; plan: string }>(
    `SELECT l.id, l.order_id, l.name, l.role, l.gross, l.plan, l.posted_at,
       COALESCE((SELECT GROUP_CONCAT(g.words SEPARATOR ', ') FROM offer_gift g WHERE g.offer_id = l.offer_id AND g.kind IN (${posted})), '') AS post
     FROM order_line l WHERE l.order_id IN (?) ORDER BY l.id`,
    [ids],
  )
  const charges = await db.rows<StoryCharge>(
    `SELECT c.id, c.order_id, l.name AS plan, c.n, c.state, c.net, c.tax, c.gross, c.currency, c.refunded, c.reason, c.at FROM charge c
     LEFT JOIN plan p ON p.id = c.plan_id LEFT JOIN order_line l ON l.id = p.order_line_id WHERE c.order_id IN (?) ORDER BY c.at, c.id`,
    [ids],
  )
  const refunds = await db.rows<OrderStory["refunds"][number]>(
    "SELECT r.id, r.amount, c.currency, r.state, r.why, r.at FROM refund r JOIN charge c ON c.id = r.charge_id WHERE c.order_id IN (?) ORDER BY r.id",
    [ids],
  )
  const facts = await db.rows<OrderStory["facts"][number]>(
    `SELECT f.id, f.at, f.kind, f.words, f.source, f.via, t.name AS step FROM fact f LEFT JOIN step t ON t.id = f.step_id
     WHERE f.person_id = ? AND f.subject_id IN (?) AND f.kind IN ('bought', 'declined', 'charged', 'charge-failed', 'plan-ended', 'refunded', 'sale-counted', 'sale-moved') ORDER BY f.at, f.id LIMIT 300`,
    [one.person_id ?? 0, ids],
  )
  const mails = await db.rows<OrderStory["mails"][number]>(
    "SELECT id, kind, state, due_at, sent_at FROM mail WHERE order_id IN (?) ORDER BY id LIMIT 200",
    [ids],
  )
  const journal = await db.rows<{ account: string; currency: string; amount: number }>(
    "SELECT account, currency, SUM(amount) AS amount FROM journal WHERE order_id = ? GROUP BY 1, 2 ORDER BY FIELD(account, 'cards', 'income', 'tax', 'refunds', 'fees', 'commission', 'affiliates', 'bank')",
    [one.story],
  )
  return {
    orders: orders.map((o) => ({
      ...o,
      gross: o.gross,
      refunded: o.refunded,
      lines: lines
        .filter((l) => l.order_id === o.id)
        .map((l) => ({ ...l, gross: l.gross, says: sentence([readPlan(l.plan)]) })),
    })),
    charges: charges.map((c) => ({
      ...c,
      net: c.net,
      tax: c.tax,
      gross: c.gross,
      refunded: c.refunded,
    })),
    refunds: refunds.map((r) => ({ ...r, amount: r.amount })),
    facts,
    mails,
    journal: journal.map((j) => ({ ...j, amount: j.amount })),
  }
}

/** What an order line sends by post is on its way. */
export async function markPosted(s: Context, line: number): Promise<void> {
  const at = await s.clock.now()
  const row = await s.db.row<{ order_id: number; name: string; person_id: number | null }>(
    "SELECT l.order_id, l.name, o.person_id FROM order_line l JOIN orders o ON o.id = l.order_id WHERE l.id = ? AND o.state = 'paid' AND l.posted_at IS NULL",
    [line],
  )
  if (!row) return
  await s.db.write("UPDATE order_line SET posted_at = ? WHERE id = ? AND posted_at IS NULL", [new Date(at), line])
  await happen(s.db, [
    { kind: "posted", at, once: `posted:${line}`, person: row.person_id, subject: row.order_id, words: row.name },
  ])
}

/** SQL: the sentence by which the sale of an order `o` explained itself when it was made; with what was given by hand since. */
const saleSays = `CONCAT_WS(' ', (SELECT f.words FROM fact f WHERE f.person_id = o.person_id AND f.kind = 'sale-counted' AND f.subject_id = s.order_id LIMIT 1), IF(s.moved_at IS NULL, NULL, CONCAT('Given by hand: ', s.moved_why)))`

const columns = [
  "number",
  "follows",
  "placed",
  "paid",
  "state",
  "name",
  "e-mail",
  "bought",
  "currency",
  "net",
  "tax",
  "gross",
  "refunded",
  "coupon",
  "source",
  "recommended by",
  "why",
  "mentions",
  "sentence",
] as const

/**
 * Every order that fits, as CSV (RFC 4180: CRLF, a header line; UTF-8), by the thousand. A cell that a spreadsheet would
 * take for a formula is defused with an apostrophe. Instants are ISO 8601 in UTC, amounts decimal numbers.
 */
export async function* exportOrders(db: Db, q: Asked): AsyncGenerator<string> {
  const { sql, values } = where(q)
  yield csv([[...columns]])
  for (let from = 0; ; ) {
    const rows = await db.rows<
      Pick<
        Row<"orders">,
        | "id"
        | "first_id"
        | "made_at"
        | "paid_at"
        | "name"
        | "email"
        | "currency"
        | "net"
        | "tax"
        | "gross"
        | "source"
        | "sentence"
      > & {
        state: OrderState
        bought: string | null
        refunded: number
        coupon: string | null
        by_code: string | null
        by_name: string | null
        why: string | null
        decision: string | null
      }
    >(
      `SELECT o.id, o.first_id, o.made_at, o.paid_at, o.state, o.name, o.email, o.currency, o.net, o.tax, o.gross, o.source, o.sentence, k.code AS coupon,
         a.code AS by_code, a.public_name AS by_name, ${saleSays} AS why, s.decision,
         (SELECT COALESCE(SUM(c.refunded), 0) FROM charge c WHERE c.order_id = o.id) AS refunded,
         (SELECT GROUP_CONCAT(l.name ORDER BY l.id SEPARATOR ', ') FROM order_line l WHERE l.order_id = o.id) AS bought
       FROM orders o LEFT JOIN coupon k ON k.id = o.coupon_id
       LEFT JOIN sale s ON s.order_id = COALESCE(o.first_id, o.id) LEFT JOIN affiliate a ON a.id = s.affiliate_id WHERE ${sql} AND o.id > ? ORDER BY o.id LIMIT 1000`,
      [...values, from],
    )
    if (!rows.length) return
    from = rows.at(-1)!.id
    const codes = await affiliateCodes(db, rows)
    yield csv(
      rows.map((o) => [
        o.id,
        o.first_id ?? "",
        o.made_at.toISOString(),
        o.paid_at?.toISOString() ?? "",
        orderStateWords(o.state, o.refunded),
        o.name,
        o.email,
        o.bought ?? "",
        o.currency,
        decimalOf(o.net, o.currency),
        decimalOf(o.tax, o.currency),
        decimalOf(o.gross, o.currency),
        decimalOf(o.refunded, o.currency),
        o.coupon ?? "",
        o.by_code === null ? o.source : `affiliate ${o.by_code}`,
        o.by_name ?? "",
        o.why ?? "",
        chainText(o.decision, codes),
        o.sentence,
      ]),
    )
  }
}

type Chain = {
  readonly chain: readonly { affiliate: number; at: number; sub: string; kind: string; verdict: string }[]
}

/** Every mention of a chain, oldest first: when, by which link, and what came of it. */
function chainText(decision: string | null, codes: ReadonlyMap<number, string>): string {
  if (!decision) return ""
  return (JSON.parse(decision) as Chain).chain
    .map((m) => {
      const code = codes.get(m.affiliate) ?? m.affiliate
      return `${new Date(m.at).toISOString()} ${m.kind} ${code}${m.sub ? `.${m.sub}` : ""} ${m.verdict}`
    })
    .join("; ")
}

async function affiliateCodes(
  db: Db,
  rows: readonly { decision: string | null }[],
): Promise<ReadonlyMap<number, string>> {
  const ids = new Set(
    rows.flatMap((r) => (r.decision ? (JSON.parse(r.decision) as Chain).chain.map((m) => m.affiliate) : [])),
  )
  const found = await db.rows<{ id: number; code: string }>("SELECT id, code FROM affiliate WHERE id IN (?)", [
    [0, ...ids],
  ])
  return new Map(found.map((f) => [f.id, f.code]))
}

const chargeColumns = [
  "number",
  "order",
  "at",
  "settled",
  "state",
  "for",
  "payment of the plan",
  "name",
  "e-mail",
  "currency",
  "net",
  "tax",
  "gross",
  "refunded",
  "reason",
  "payment",
] as const

/** Every charge of orders that fit, in the same form: first payments, plans, and what was refused. */
export async function* exportCharges(db: Db, q: Asked): AsyncGenerator<string> {
  const { sql, values } = where(q)
  yield csv([[...chargeColumns]])
  for (let from = 0; ; ) {
    const rows = await db.rows<
      Pick<
        Row<"charge">,
        | "id"
        | "order_id"
        | "at"
        | "settled_at"
        | "state"
        | "n"
        | "currency"
        | "net"
        | "tax"
        | "gross"
        | "refunded"
        | "reason"
        | "payment"
      > &
        Pick<Row<"orders">, "name" | "email"> & { plan: string | null; bought: string | null }
    >(
      `SELECT c.id, c.order_id, c.at, c.settled_at, c.state, l.name AS plan, c.n, o.name, o.email, c.currency, c.net, c.tax, c.gross, c.refunded, c.reason, c.payment,
         (SELECT GROUP_CONCAT(x.name ORDER BY x.id SEPARATOR ', ') FROM order_line x WHERE x.order_id = o.id) AS bought
       FROM charge c JOIN orders o ON o.id = c.order_id LEFT JOIN plan p ON p.id = c.plan_id LEFT JOIN order_line l ON l.id = p.order_line_id
       WHERE ${sql} AND c.id > ? ORDER BY c.id LIMIT 1000`,
      [...values, from],
    )
    if (!rows.length) return
    from = rows.at(-1)!.id
    yield csv(
      rows.map((c) => [
        c.id,
        c.order_id,
        c.at.toISOString(),
        c.settled_at?.toISOString() ?? "",
        c.state,
        c.plan ?? c.bought ?? "",
        c.plan === null ? "" : c.n + 1,
        c.name,
        c.email,
        c.currency,
        ...[c.net, c.tax, c.gross, c.refunded].map((minor) => decimalOf(minor, c.currency)),
        c.reason ?? "",
        c.payment ?? "",
      ]),
    )
  }
}
