// A due mail becomes a message: its letter by its kind, composed for its reader.
import { withPictures } from "@/core/mail/body"
import { compose } from "@/core/mail/compose"
import { mailKinds } from "@/core/mail/kind/list"
import { nameInMail } from "@/core/person/name"
import type { Config } from "../config"
import type { Db } from "../db/pool"
import type { DueMail, LetterSchool } from "../port/letter"
import type { Message } from "../port/mailer"
import { signLower } from "../sign"
import { personalWords } from "./personal"
import { pictureFiles } from "./pictures"
import { footOf } from "./school"
import { senderOf } from "./sender"

/** Composes the message as of an instant (ms of business time), or null where nothing is left to be said. */
export async function writeMail(
  db: Db,
  config: Config,
  school: LetterSchool,
  due: DueMail,
  at: number,
): Promise<Message | null> {
  const mail = { ...due, to_name: nameInMail(due.to_name) }
  const written = await db.context.letters[mail.kind](db, config, school, mail)
  if (!written) return null
  const composed = compose(
    {
      ...written,
      body: withPictures(written.body, await pictureFiles(db, config.origin, written.body)),
      foot: footOf(school, config, written.leave ?? null),
    },
    await personalWords(
      db,
      {
        rich: [written.body, written.after ?? ""],
        plain: [written.subject, written.preview ?? "", written.plain ?? ""],
      },
      { person: mail.person_id, name: mail.to_name, zone: mail.zone },
      school,
      written.course,
      at,
    ),
    written.track ?? ((url) => url),
  )
  const from = senderOf(school, config)
  return {
    ...composed,
    messageId: mail.message_id!,
    date: new Date(at),
    from: { ...from, name: written.from?.name || from.name },
    ...(written.calendar ? { calendar: written.calendar } : {}),
    ...(written.attached ? { attached: written.attached } : {}),
    ...(written.from?.replyTo ? { replyTo: written.from.replyTo } : {}),
    returnPath: `bounce-${signLower(config.secret, "bounce", mail.id)}@${from.address.split("@")[1]}`,
    to: { name: mail.to_name, address: mail.to_email },
    headers: { ...(mailKinds[mail.kind].asked ? { "Auto-Submitted": "auto-generated" } : {}), ...written.headers },
  }
}
