// The mail server as the school knows it: whether it answers, what it said to the last test, and what waits for it.

import type { MailState } from "@/core/funnel/finding"
import { escapeHtml } from "@/core/html"
import { compose } from "@/core/mail/compose"
import { words } from "@/core/words/en"
import { refusals } from "@/core/words/refusals"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { beat } from "../heartbeat"
import { MailTrouble } from "../port/mailer"
import type { Refused } from "../saved"
import { footOf, mailSchool } from "./school"
import { senderOf } from "./sender"

/** Asks the server whether it is there, writes that down, and gives free what waited for it. */
export async function askMailServer(s: Context): Promise<boolean> {
  const trouble = await s.mailer.verify()
  await beat(s, "mail", trouble ?? "well")
  if (trouble === null)
    await s.db.write(
      "UPDATE mail SET try_at = ?, no_answer = 0 WHERE state = 'due' AND no_answer = 1 AND claimed_by IS NULL",
      [new Date(0)],
    )
  return trouble === null
}

/** Whether something waits for the server to answer again. */
export async function waitsForServer(db: Db): Promise<boolean> {
  return (await db.row("SELECT 1 FROM mail WHERE state = 'due' AND no_answer = 1 LIMIT 1")) !== undefined
}

/** Has everything that waits for another try tried again now; gives how many. */
export async function tryAgainNow(s: Context): Promise<number> {
  const done = await s.db.write(
    "UPDATE mail SET try_at = ?, no_answer = 0 WHERE state = 'due' AND tries > 0 AND claimed_by IS NULL",
    [new Date(0)],
  )
  return done.affected
}

/** How mail goes out, as far as is known: from the last time the server was asked, and the last test. */
export async function mailState(s: Pick<Context, "mailer">, db: Db): Promise<MailState> {
  if (!s.mailer.server) return "none"
  const known = await db.rows<{ note: string }>(
    "SELECT note FROM heartbeat WHERE name IN ('mail', 'mail-test') ORDER BY name = 'mail-test' DESC",
  )
  const trouble = known.find((k) => k.note !== "well")
  return trouble ? { refused: trouble.note } : "well"
}

export type MailServer = {
  /** Empty: none is connected. */
  readonly server: string
  readonly state: MailState
  readonly waiting: number
  readonly lastTest: { readonly at: Date; readonly note: string } | null
}

/** What Settings says of it. */
export async function readMailServer(s: Context): Promise<MailServer> {
  const test = await s.db.row<{ beat_at: Date; note: string }>(
    "SELECT beat_at, note FROM heartbeat WHERE name = 'mail-test'",
  )
  const waiting = await s.db.row<{ n: number }>("SELECT COUNT(*) AS n FROM mail WHERE state = 'due' AND tries > 0")
  return {
    server: s.mailer.server,
    state: await mailState(s, s.db),
    waiting: waiting?.n ?? 0,
    lastTest: test ? { at: test.beat_at, note: test.note } : null,
  }
}

/** Sends a test to whoever asks for it, at once, and says what the server answered. */
export async function sendTest(s: Context, account: number): Promise<{ sent: string } | Refused> {
  const to = await s.db.row<{ email: string; name: string }>("SELECT email, name FROM account WHERE id = ?", [account])
  const school = await mailSchool(s.db)
  if (!to || !school) return { refused: refusals.gone.account }
  const m = words.mail
  const letter = compose(
    {
      subject: m.testSubject(school.name),
      body: `<p>${escapeHtml(m.testText)}</p>`,
      button: { says: m.testButton, url: `${s.config.origin}/studio/settings/mail` },
      foot: footOf(school, s.config, null),
    },
    { "first-name": to.name, course: "", teacher: "", school: school.name },
    (url) => url,
  )
  const now = await s.clock.now()
  try {
    await s.mailer.send({
      ...letter,
      messageId: `<test.${now}.${s.config.installation}@${new URL(s.config.origin).hostname}>`,
      date: new Date(now),
      from: senderOf(school, s.config),
      to: { name: to.name, address: to.email },
      headers: { "Auto-Submitted": "auto-generated" },
    })
    await beat(s, "mail-test", "well")
    return { sent: to.email }
  } catch (error) {
    if (!(error instanceof MailTrouble)) throw error
    await beat(s, "mail-test", error.message.slice(0, 300))
    return { refused: inWords(error) }
  }
}

/** What the server answered, in words, with its own behind them. */
function inWords(trouble: MailTrouble): string {
  const { reply, message } = trouble
  const says =
    reply === undefined
      ? refusals.mailServer.noAnswer
      : [530, 534, 535, 538].includes(reply)
        ? refusals.mailServer.signIn
        : trouble.receiver
          ? refusals.mailServer.receiver
          : reply >= 500
            ? refusals.mailServer.sender
            : refusals.mailServer.later
  return `${says} It said: ${message.slice(0, 200)}`
}
