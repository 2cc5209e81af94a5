// An e-mail of a sequence: its words from the version that is live.
import { words } from "@/core/words/en"
import { followed } from "../../mail/follow"
import type { WriteLetter } from "../../port/letter"
import { releaseById, versionById } from "../../releases"

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
  const leads = { lesson: letter.lessonId, step: letter.stepId }
  return {
    subject: letter.subject,
    preview: letter.preview,
    from: document.from,
    body: letter.body,
    plain: letter.plain,
    // Where it leads is looked up when it is pressed.
    button: (leads.lesson !== null || leads.step !== null) && letter.button ? { says: letter.button, url: "" } : null,
    leads,
    course,
    ...followed(config, mail, `sequence-${version.sequence}`, document.leaveLine || words.mail.leaveLine),
  }
}
