// An e-mail of a sequence: its words from the release, each of its links counted, and a way to leave.
import { addressOf } from "@/core/funnel/address"
import { type Funnel, type SequenceMail, stepById } from "@/core/funnel/draft"
import { linksOf } from "@/core/mail/compose"
import { words } from "@/core/words/en"
import type { Db } from "../../db/pool"
import type { DueMail, WriteLetter } from "../../port/letter"
import { type Release, releaseById } from "../../releases"
import { sign } from "../../sign"

/** The sequence as it stands now where it is live, otherwise as it was when this person began it. */
export async function sequenceOf(
  db: Db,
  mail: DueMail,
): Promise<{ funnel: Funnel; sequence: Funnel["sequences"][number]; index: number; mail: SequenceMail } | undefined> {
  for (const id of [mail.live_release_id, mail.release_id]) {
    const release: Release | undefined = id === null ? undefined : await releaseById(db, id)
    const sequence = release?.funnel.sequences.find((q) => q.mails.some((m) => m.id === mail.sequence_mail_id))
    if (!release || !sequence) continue
    const index = sequence.mails.findIndex((m) => m.id === mail.sequence_mail_id)
    return { funnel: release.funnel, sequence, index, mail: sequence.mails[index]! }
  }
  return undefined
}

/** Where link n of a sequence's mail leads (0 is the button), or null where there is none such. */
export function linkTarget(funnel: Funnel, mail: SequenceMail, n: number): string | null {
  if (n === 0) {
    const step = stepById(funnel, mail.stepId)
    if (step) return addressOf(funnel, step)
    const course = funnel.courses.find((c) => c.lessons.some((l) => l.id === mail.lessonId))
    return course ? `/learn/${course.slug}/${mail.lessonId}` : null
  }
  return linksOf(mail.body)[n - 1] ?? null
}

export const sequenceLetter: WriteLetter = async (db, config, _, mail) => {
  const found = await sequenceOf(db, mail)
  if (!found) return null
  const { funnel, sequence } = found
  const course = funnel.courses.find((c) => c.lessons.some((l) => l.id === found.mail.lessonId)) ?? funnel.courses[0]
  const leaveUrl = `${config.origin}/mails/${sign(config.secret, "leave", String(mail.address_id))}`
  const target = linkTarget(funnel, found.mail, 0)
  return {
    subject: found.mail.subject,
    body: found.mail.body,
    button: target && found.mail.button ? { says: found.mail.button, url: target } : null,
    leave: { says: sequence.leaveLine || words.mail.leaveLine, url: leaveUrl },
    course,
    track: (_, n) => `${config.origin}/go/${sign(config.secret, "click", `${mail.id}-${n}`)}`,
    // RFC 2369 and RFC 8058: one click, a POST, and no more.
    headers: {
      "List-Unsubscribe": `<${leaveUrl}>`,
      "List-Unsubscribe-Post": "List-Unsubscribe=One-Click",
      "List-ID": `<sequence-${sequence.id}.${new URL(config.origin).hostname}>`,
    },
  }
}
