// A broadcast's letter: its words are those that it had when it was planned.
import { words } from "@/core/words/en"
import { followed } from "../mail/follow"
import type { WriteLetter } from "../port/letter"
import { readBroadcast } from "./store"

export const broadcastLetter: WriteLetter = async (db, config, _, mail) => {
  const b = mail.broadcast_id === null ? undefined : await readBroadcast(db, mail.broadcast_id)
  if (!b) return null
  const { document: d, winner } = b
  const leads = { lesson: d.lesson, step: d.step }
  return {
    subject: d.subjects[mail.variant ?? winner ?? 0] ?? d.subjects[0]!,
    preview: d.preview,
    from: d.from,
    body: d.body,
    plain: d.plain,
    button: (leads.lesson !== null || leads.step !== null) && d.button ? { says: d.button, url: "" } : null,
    leads,
    ...followed(config, mail, `broadcast-${b.id}`, words.mail.leaveLine),
  }
}
