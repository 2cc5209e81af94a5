// What came of a broadcast, each share with its interval.

import { linksOf } from "@/core/mail/body"
import { bestOf, type Outcome, type Tried } from "@/core/mail/subject-test"
import { type Proportion, proportion } from "@/core/proportion"
import { type Db, number } from "../db/pool"
import { addressOfLink } from "../mail/click"
import type { BroadcastKept } from "./store"

/** How each of the subjects that were tried did so far. */
export async function triedOf(db: Db, b: BroadcastKept): Promise<Tried[]> {
  const rows = await db.rows<{ variant: number; sent: number; opened: number; clicked: number }>(
    "SELECT variant, COUNT(*) AS sent, COUNT(opened_at) AS opened, COUNT(clicked_at) AS clicked FROM mail WHERE broadcast_id = ? AND again = 0 AND state = 'sent' AND variant IS NOT NULL GROUP BY variant",
    [b.id],
  )
  return b.document.subjects.map((_, i) => {
    const r = rows.find((x) => x.variant === i)
    return { sent: r?.sent ?? 0, opened: r?.opened ?? 0, clicked: r?.clicked ?? 0 }
  })
}

export type Result = {
  /** How many mails there are, by how they stand. */
  readonly states: Readonly<Partial<Record<string, number>>>
  readonly sent: number
  readonly opened: Proportion
  readonly clicked: Proportion
  readonly left: Proportion
  readonly bounced: Proportion
  /** Who bought within so many days of getting it, and for how much (minor units, before anything was given back). */
  readonly bought: Proportion
  readonly money: readonly { readonly currency: string; readonly amount: number }[]
  readonly links: readonly { readonly says: string; readonly clicked: Proportion }[]
  readonly tried: readonly Tried[]
  readonly trial: Outcome | null
  /** Sent once more, to those who did not open. */
  readonly again: number
}

/** The first mail to each counts; whoever got it twice is one. */
export async function resultOf(db: Db, b: BroadcastKept): Promise<Result> {
  const states = await db.rows<{ state: string; n: number }>(
    "SELECT state, COUNT(*) AS n FROM mail WHERE broadcast_id = ? GROUP BY state",
    [b.id],
  )
  const row = await db.row<Record<"sent" | "opened" | "clicked" | "gone" | "bounced" | "again", string>>(
    `SELECT COUNT(DISTINCT person_id) AS sent, COUNT(DISTINCT IF(opened_at IS NULL, NULL, person_id)) AS opened, COUNT(DISTINCT IF(clicked_at IS NULL, NULL, person_id)) AS clicked,
       COUNT(DISTINCT IF(left_at IS NULL, NULL, person_id)) AS gone, COUNT(DISTINCT IF(bounced_at IS NULL, NULL, person_id)) AS bounced, SUM(again) AS again
     FROM mail WHERE broadcast_id = ? AND (state = 'sent' OR bounced_at IS NOT NULL)`,
    [b.id],
  )
  const sent = number(row?.sent)
  const of = (n: string | undefined) => proportion(Math.min(number(n), sent), sent)
  const bought = await db.rows<{ currency: string; people: string; amount: number }>(
    `SELECT o.currency, COUNT(DISTINCT o.person_id) AS people, SUM(o.gross) AS amount FROM mail m JOIN orders o ON o.person_id = m.person_id AND o.state IN ('paid', 'refunded')
       AND o.paid_at >= m.sent_at AND o.paid_at < m.sent_at + INTERVAL ? DAY
     WHERE m.broadcast_id = ? AND m.state = 'sent' AND m.again = 0 GROUP BY o.currency`,
    [b.document.boughtWithin, b.id],
  )
  const buyers = await db.row<{ n: string }>(
    `SELECT COUNT(DISTINCT m.person_id) AS n FROM mail m JOIN orders o ON o.person_id = m.person_id AND o.state IN ('paid', 'refunded')
       AND o.paid_at >= m.sent_at AND o.paid_at < m.sent_at + INTERVAL ? DAY WHERE m.broadcast_id = ? AND m.state = 'sent' AND m.again = 0`,
    [b.document.boughtWithin, b.id],
  )
  const clicks = await db.rows<{ link: number; n: string }>(
    "SELECT c.link, COUNT(DISTINCT m.person_id) AS n FROM mail_click c JOIN mail m ON m.id = c.mail_id WHERE m.broadcast_id = ? GROUP BY c.link",
    [b.id],
  )
  const says = [b.document.button]
  for (const href of linksOf(b.document.body)) says.push((await addressOfLink(db, href)) ?? href)
  const tried = await triedOf(db, b)
  return {
    states: Object.fromEntries(states.map((x) => [x.state, x.n])),
    sent,
    opened: of(row?.opened),
    clicked: of(row?.clicked),
    left: of(row?.gone),
    bounced: of(row?.bounced),
    bought: of(buyers?.n),
    money: bought.map((x) => ({ currency: x.currency, amount: x.amount })),
    links: says.flatMap((x, link) => (x ? [{ says: x, clicked: of(clicks.find((c) => c.link === link)?.n) }] : [])),
    tried,
    trial: b.document.subjects.length > 1 ? bestOf(tried) : null,
    again: number(row?.again),
  }
}
