// Mail as the studio lists it.
import { type MailKind, mailKinds } from "@/core/mail/kind/list"
import { type HeldWhy, type MailWay, waySays } from "@/core/mail/way"
import type { Db } from "../db/pool"

const shown = {
  due: { where: "m.state = 'due'", order: "m.due_at, m.id" },
  sent: { where: "m.state = 'sent'", order: "m.due_at DESC, m.id DESC" },
  waiting: { where: "m.state = 'due' AND m.tries > 0", order: "m.try_at, m.id" },
  held: { where: "m.state = 'held'", order: "m.due_at, m.id" },
  unsure: { where: "m.state = 'unsure'", order: "m.due_at DESC, m.id DESC" },
  rejected: { where: "m.state = 'rejected'", order: "m.due_at DESC, m.id DESC" },
} as const

/** Which mails are listed: by how they stand. */
export type Show = keyof typeof shown

export const shows = Object.keys(shown) as Show[]

export type MailListed = {
  readonly id: number
  readonly kind: MailKind
  readonly to_email: string
  readonly person_id: number | null
  readonly due_at: Date
  readonly sent_at: Date | null
  readonly subject: string | null
  readonly trouble: string | null
  readonly sequence: string | null
  readonly mail_subject: string | null
}

/** At most 100, those first that matter first. */
export function listMail(db: Db, show: Show): Promise<MailListed[]> {
  return db.rows<MailListed>(
    `SELECT m.id, m.kind, m.to_email, m.person_id, m.due_at, m.sent_at, m.subject, m.trouble, q.name AS sequence, x.subject AS mail_subject
     FROM mail m LEFT JOIN sequence_mail x ON x.id = m.sequence_mail_id LEFT JOIN sequence q ON q.id = x.sequence_id WHERE ${shown[show].where} ORDER BY ${shown[show].order} LIMIT 100`,
  )
}

/** One e-mail, and its whole way in sentences; undefined where there is none such. */
export async function mailWay(
  db: Db,
  id: number,
): Promise<
  | {
      readonly to: string
      readonly person: number | null
      readonly subject: string
      readonly says: readonly string[]
    }
  | undefined
> {
  const m = await db.row<{
    kind: MailKind
    state: MailWay["state"]
    to_email: string
    person_id: number | null
    subject: string | null
    mail_subject: string | null
    sequence: string | null
    broadcast: string | null
    due_at: Date
    wanted_at: Date | null
    sent_at: Date | null
    tries: number
    paced: number
    trouble: string | null
    opened_at: Date | null
    clicked_at: Date | null
    bounced_at: Date | null
    bounce: string | null
    complained_at: Date | null
    left_at: Date | null
    zone: string | null
  }>(
    `SELECT m.*, x.subject AS mail_subject, q.name AS sequence, b.name AS broadcast, COALESCE(p.zone, (SELECT zone FROM school WHERE id = 1)) AS zone,
       (SELECT r.says FROM mail_report r WHERE r.mail_id = m.id AND r.kind <> 'complaint' ORDER BY r.id DESC LIMIT 1) AS bounce
     FROM mail m LEFT JOIN person p ON p.id = m.person_id LEFT JOIN sequence_mail x ON x.id = m.sequence_mail_id LEFT JOIN sequence q ON q.id = x.sequence_id LEFT JOIN broadcast b ON b.id = m.broadcast_id
     WHERE m.id = ?`,
    [id],
  )
  if (!m) return undefined
  const holds = await db.rows<{ from_at: Date; until_at: Date | null; why: HeldWhy }>(
    "SELECT from_at, until_at, why FROM mail_hold WHERE mail_id = ? ORDER BY from_at, id LIMIT 50",
    [id],
  )
  const ms = (at: Date | null) => at?.getTime() ?? null
  const label = mailKinds[m.kind].label
  const of = m.sequence
    ? `an e-mail of “${m.sequence}”`
    : m.broadcast
      ? `the broadcast “${m.broadcast}”`
      : `what the school calls “${label}”`
  return {
    to: m.to_email,
    person: m.person_id,
    subject: m.subject ?? m.mail_subject ?? label,
    says: waySays(
      {
        of,
        state: m.state,
        wanted: (m.wanted_at ?? m.due_at).getTime(),
        due: m.due_at.getTime(),
        sent: ms(m.sent_at),
        holds: holds.map((h) => ({ from: h.from_at.getTime(), until: ms(h.until_at), why: h.why })),
        paced: Boolean(m.paced),
        tries: m.tries,
        trouble: m.trouble,
        opened: ms(m.opened_at),
        clicked: ms(m.clicked_at),
        bounced: m.bounced_at && { at: m.bounced_at.getTime(), says: m.bounce ?? "no reason was given" },
        complained: ms(m.complained_at),
        left: ms(m.left_at),
      },
      m.zone ?? "UTC",
    ),
  }
}
