// Mail as the studio lists it.
import type { MailKind } from "@/core/mail/kind/list"
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
