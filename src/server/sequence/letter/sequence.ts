// An e-mail of a sequence: its words from the version that is live, each of its links counted, and a way to leave.
import { linksOf } from "@/core/mail/compose"
import { words } from "@/core/words/en"
import type { WriteLetter } from "../../port/letter"
import { releaseById, versionById } from "../../releases"
import { sign } from "../../sign"

export const sequenceLetter: WriteLetter = async (db, config, _, mail) => {
  const version = mail.live_version_id === null ? undefined : await versionById(db, mail.live_version_id)
  const letter = version?.document.mails.find((m) => m.id === mail.sequence_mail_id)
  if (!version || !letter) return null
  const { document } = version
  // What brings no lesson speaks of the course of the funnel it was begun in.
  const funnel = mail.live_release_id === null ? undefined : await releaseById(db, mail.live_release_id)
  const course =
    document.courses.find((c) => c.lessons.some((l) => l.id === letter.lessonId)) ??
    funnel?.funnel.courses[0] ??
    document.courses[0]
  const leaveUrl = `${config.origin}/mails/${sign(config.secret, "leave", String(mail.address_id))}`
  const leads = letter.lessonId !== null || letter.stepId !== null
  return {
    subject: letter.subject,
    body: letter.body,
    // Where it leads is looked up when it is pressed.
    button: leads && letter.button ? { says: letter.button, url: "" } : null,
    leave: { says: document.leaveLine || words.mail.leaveLine, url: leaveUrl },
    course,
    track: (_, n) => `${config.origin}/go/${sign(config.secret, "click", `${mail.id}-${n}`)}`,
    // RFC 2369 and RFC 8058: one click, a POST, and no more.
    headers: {
      "List-Unsubscribe": `<${leaveUrl}>`,
      "List-Unsubscribe-Post": "List-Unsubscribe=One-Click",
      "List-ID": `<sequence-${version.sequence}.${new URL(config.origin).hostname}>`,
    },
  }
}

/** The address in a letter's text, by its number from 1. */
export const linkIn = (body: string, n: number): string | null => linksOf(body)[n - 1] ?? null
