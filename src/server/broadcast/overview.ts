// What the school's sequences and broadcasts have brought lately: sent, opened, clicked, bought, left.
import type { Db } from "../db/pool"
import { sequenceNames } from "../sequence/sequence-view"

export type Works = {
  readonly is: "Sequence" | "Broadcast"
  readonly id: number
  readonly name: string
  readonly state: string
  /** E-mails. */
  readonly sent: number
  readonly opened: number
  readonly clicked: number
  /** People who bought within `boughtWithin` days of getting one of them, and people who unsubscribed by one of them. */
  readonly bought: number
  readonly left: number
}

/** Days that are looked back, and days after an e-mail in which a purchase counts for it. */
export const lookedBack = 30
export const boughtAfterBroadcast = 7
const day = 86_400_000

/** A sequence or broadcast as a key; a letter of a sequence that is gone counts for nothing. */
const of = "IF(m.broadcast_id IS NULL, CONCAT('s', x.sequence_id), CONCAT('b', m.broadcast_id))"
const numbers =
  "COUNT(*) AS sent, COUNT(m.opened_at) AS opened, COUNT(m.clicked_at) AS clicked, COUNT(DISTINCT IF(m.left_at IS NULL, NULL, m.person_id)) AS gone"

/** Those of which anything went out in the last thirty days before `at` (ms), and those that could: who sells most first. */
export async function whatWorks(db: Db, at: number): Promise<Works[]> {
  const since = new Date(at - lookedBack * day)
  // Due a while before it was sent, where it was held back.
  const due = new Date(at - (lookedBack + 7) * day)
  const broadcasts = await db.rows<{ id: number; name: string; state: string }>(
    "SELECT id, name, state FROM broadcast WHERE state <> 'draft' AND begins_at >= ? ORDER BY begins_at DESC LIMIT 200",
    [due],
  )
  const [names, sequences, sent, bought] = await Promise.all([
    sequenceNames(db),
    db.rows<{ id: number; name: string; state: string }>(
      "SELECT id, name, state FROM sequence ORDER BY name LIMIT 200",
    ),
    db.rows<{ of: string; sent: number; opened: number; clicked: number; gone: number }>(
      `SELECT CONCAT('s', x.sequence_id) AS \`of\`, ${numbers} FROM sequence_mail x STRAIGHT_JOIN mail m FORCE INDEX (sequence_mail_id) ON m.sequence_mail_id = x.id
       WHERE m.state = 'sent' AND m.sent_at >= ? GROUP BY x.sequence_id
       UNION ALL SELECT CONCAT('b', m.broadcast_id), ${numbers} FROM mail m WHERE m.broadcast_id IN (?) AND m.state = 'sent' AND m.sent_at >= ? GROUP BY m.broadcast_id`,
      [since, [0, ...broadcasts.map((b) => b.id)], since],
    ),
    db.rows<{ of: string; n: number }>(
      `SELECT ${of} AS \`of\`, COUNT(DISTINCT m.person_id) AS n
       FROM orders o JOIN mail m ON m.person_id = o.person_id AND m.state = 'sent' AND m.sent_at <= o.paid_at AND m.sent_at > o.paid_at - INTERVAL ? DAY AND m.sent_at >= ?
         LEFT JOIN sequence_mail x ON x.id = m.sequence_mail_id
       WHERE o.paid_at >= ? AND o.state IN ('paid', 'refunded') AND o.gross > 0 AND (m.broadcast_id IS NOT NULL OR x.id IS NOT NULL) GROUP BY 1`,
      [boughtAfterBroadcast, since, since],
    ),
  ])
  const counted = new Map(sent.map((r) => [r.of, r]))
  const buyers = new Map(bought.map((r) => [r.of, r.n]))
  const works = (is: Works["is"]) => (x: { id: number; name: string; state: string }) => {
    const key = `${is[0]!.toLowerCase()}${x.id}`
    const n = counted.get(key)
    return {
      is,
      ...x,
      sent: n?.sent ?? 0,
      opened: n?.opened ?? 0,
      clicked: n?.clicked ?? 0,
      bought: buyers.get(key) ?? 0,
      left: n?.gone ?? 0,
    }
  }
  const called = new Map(names.map((n) => [n.id, n.name]))
  const apart = sequences.map((q) => ({ ...q, name: called.get(q.id) ?? q.name }))
  return [...apart.map(works("Sequence")), ...broadcasts.map(works("Broadcast"))].sort(
    (a, b) => b.bought - a.bought || b.clicked - a.clicked || b.sent - a.sent || a.name.localeCompare(b.name),
  )
}
