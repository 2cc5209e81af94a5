// A due mail becomes a message: its words from the release, its links under our signature.
import { addressOf, type Funnel, type SequenceMail, stepById } from "@/core/funnel/draft"
import { compose, type Letter, linksOf } from "@/core/mail/compose"
import { escapeHtml } from "@/core/page/html"
import { nameInMail } from "@/core/person/name"
import { words } from "@/core/words/en"
import type { Config } from "../config"
import type { Db } from "../db/pool"
import { orderLetter } from "../ledger/letter"
import type { Message } from "../port/mailer"
import { type Release, releaseById } from "../releases"
import { sign } from "../sign"
import { type School, senderOf } from "./sender"

export type DueMail = {
  readonly id: number
  readonly kind:
    | "confirm"
    | "way-in"
    | "sequence"
    | "receipt"
    | "mend-card"
    | "access-ended"
    | "refund"
    | "studio-way-in"
    | "test"
  readonly person_id: number | null
  readonly to_email: string
  readonly to_name: string
  readonly funnel_id: number | null
  readonly enrolment_id: number | null
  readonly sequence_mail_id: number | null
  readonly position: number | null
  readonly pending_join_id: number | null
  readonly way_in_id: number | null
  readonly studio_way_in_id: number | null
  readonly order_id: number | null
  readonly plan_id: number | null
  readonly refund_id: number | null
  readonly message_id: string | null
  readonly tries: number
  readonly release_id: number | null
  readonly live_release_id: number | null
  readonly address_id: number | null
  readonly suppressed: "left" | "undeliverable" | null
}

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

/** Composes the message as of an instant (ms of business time), or null where nothing is left to be said. */
export async function writeLetter(
  db: Db,
  config: Config,
  school: School,
  due: DueMail,
  at: number,
): Promise<Message | null> {
  const mail = { ...due, to_name: nameInMail(due.to_name) }
  const foot = { school: school.name, postalAddress: school.postal_address, leave: null }
  const values = { "first-name": mail.to_name, course: "", teacher: "", school: school.name }
  const headers: Record<string, string> = {}
  let letter: Letter
  let track = (url: string, _n: number) => url

  if (mail.kind === "confirm") {
    const release = await releaseOfJoin(db, mail)
    const course =
      release?.funnel.courses.find((c) => c.id === release.funnel.steps.find((s) => s.kind === "learning")?.courseId)
        ?.title ??
      release?.funnel.name ??
      school.name
    const url = `${config.origin}/confirm/${sign(config.secret, "confirm", String(mail.pending_join_id))}`
    letter = {
      subject: words.mail.confirmSubject(course),
      body: paragraphs(words.mail.confirmText(mail.to_name, course)),
      button: { says: words.mail.confirmButton, url },
      after: `<p>${escapeHtml(words.mail.confirmAfter)}</p>`,
      foot,
    }
    headers["Auto-Submitted"] = "auto-generated"
  } else if (mail.kind === "way-in") {
    const url = `${config.origin}/way-in/${sign(config.secret, "way-in", String(mail.way_in_id))}`
    letter = {
      subject: words.mail.wayInSubject(school.name),
      body: paragraphs(words.mail.wayInText(mail.to_name)),
      button: { says: words.mail.wayInButton, url },
      after: `<p>${escapeHtml(words.mail.wayInAfter)}</p>`,
      foot,
    }
    headers["Auto-Submitted"] = "auto-generated"
  } else if (mail.kind === "studio-way-in") {
    const m = words.mail
    letter = {
      subject: m.studioSubject(school.name),
      body: paragraphs(m.studioText(mail.to_name)),
      button: {
        says: m.studioButton,
        url: `${config.origin}/studio-in/${sign(config.secret, "studio", String(mail.studio_way_in_id))}`,
      },
      after: `<p>${escapeHtml(m.studioAfter)}</p>`,
      foot,
    }
    headers["Auto-Submitted"] = "auto-generated"
  } else if (mail.kind !== "sequence") {
    const written = await orderLetter(db, config, mail)
    if (!written) return null
    letter = { ...written, foot }
    headers["Auto-Submitted"] = "auto-generated"
  } else {
    const found = await sequenceOf(db, mail)
    if (!found) return null
    const course =
      found.funnel.courses.find((c) => c.lessons.some((l) => l.id === found.mail.lessonId)) ?? found.funnel.courses[0]
    Object.assign(values, { course: course?.title ?? "", teacher: course?.teacher ?? "" })
    const leaveUrl = `${config.origin}/mails/${sign(config.secret, "leave", String(mail.address_id))}`
    track = (_, n) => `${config.origin}/go/${sign(config.secret, "click", `${mail.id}-${n}`)}`
    const target = linkTarget(found.funnel, found.mail, 0)
    letter = {
      subject: found.mail.subject,
      body: found.mail.body,
      button: target && found.mail.button ? { says: found.mail.button, url: target } : null,
      foot: { ...foot, leave: { says: found.sequence.leaveLine || words.mail.leaveLine, url: leaveUrl } },
    }
    // RFC 2369 and RFC 8058: one click, a POST, and no more.
    headers["List-Unsubscribe"] = `<${leaveUrl}>`
    headers["List-Unsubscribe-Post"] = "List-Unsubscribe=One-Click"
    headers["List-ID"] = `<sequence-${found.sequence.id}.${new URL(config.origin).hostname}>`
  }
  const composed = compose(letter, values, track)
  return {
    ...composed,
    messageId: mail.message_id!,
    date: new Date(at),
    from: senderOf(school, config),
    to: { name: mail.to_name, address: mail.to_email },
    headers,
  }
}

async function releaseOfJoin(db: Db, mail: DueMail): Promise<Release | undefined> {
  const join = await db.row<{ release_id: number }>("SELECT release_id FROM pending_join WHERE id = ?", [
    mail.pending_join_id,
  ])
  return join && releaseById(db, join.release_id)
}

function paragraphs(text: string): string {
  return text
    .split("\n\n")
    .map((p) => `<p>${escapeHtml(p)}</p>`)
    .join("")
}
