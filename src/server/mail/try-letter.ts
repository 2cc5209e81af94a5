// An e-mail while it is being written: what is to be seen to, how it looks to somebody, and a test of it to whoever writes it.
import * as v from "valibot"
import { linksOf, withPictures } from "@/core/mail/body"
import { checkLetter, type LetterFinding } from "@/core/mail/check"
import { type Composed, compose, plainOf } from "@/core/mail/compose"
import { fromSchema, fromSchool } from "@/core/mail/from"
import { mailGaps, mailPage } from "@/core/mail/page"
import type { Page } from "@/core/page/document"
import { nameInMail } from "@/core/person/name"
import { words } from "@/core/words/en"
import { refusals } from "@/core/words/refusals"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { cleanLetter } from "../page/rich-text"
import type { LetterSchool } from "../port/letter"
import { MailTrouble } from "../port/mailer"
import type { Refused } from "../saved"
import { buttonLeads } from "./button"
import { addressOfButton, addressOfLink, deadLinksIn } from "./click"
import { bodyOf } from "./page"
import { personalWords } from "./personal"
import { pictureFiles } from "./pictures"
import { footOf, mailSchool } from "./school"
import { senderOf } from "./sender"

const id = v.pipe(v.number(), v.integer(), v.minValue(1))
const letterInput = v.object({
  subject: v.pipe(v.string(), v.maxLength(300)),
  preview: v.pipe(v.string(), v.maxLength(300)),
  body: v.pipe(v.string(), v.maxLength(60_000)),
  plain: v.pipe(v.string(), v.maxLength(60_000)),
  /** Whom it comes from, where that isn't as the school says. */
  from: v.optional(fromSchema, fromSchool),
  button: v.pipe(v.string(), v.maxLength(200)),
  lesson: v.nullable(id),
  step: v.nullable(id),
  /** Which it is: one that is a page of blocks is taken as it is stored. */
  of: v.optional(v.union([v.strictObject({ mail: id }), v.strictObject({ broadcast: id })])),
})

export type LetterTyped = v.InferInput<typeof letterInput>
type LetterRead = v.InferOutput<typeof letterInput>

/** The page of an e-mail, where it is more than a text. */
async function pageOf(db: Db, { of }: LetterRead): Promise<Page | null> {
  if (!of) return null
  const row = await db.row<{ page: string | null }>(
    `SELECT page FROM ${"mail" in of ? "sequence_mail" : "broadcast"} WHERE id = ?`,
    [Object.values(of)[0]],
  )
  return row?.page ? mailPage({ page: row.page, body: "" }) : null
}

async function bodyNow(db: Db, m: LetterRead): Promise<string> {
  const page = await pageOf(db, m)
  return page ? bodyOf(db, page) : cleanLetter(m.body)
}

/** The letter as somebody gets it; `person` null: somebody of whom nothing is known. */
async function composed(s: Context, m: LetterRead, school: LetterSchool, person: number | null): Promise<Composed> {
  const who =
    person === null
      ? undefined
      : await s.db.row<{ name: string; zone: string }>("SELECT name, zone FROM person WHERE id = ?", [person])
  const course = await s.db.row<{ title: string; teacher: string }>(
    "SELECT c.title, c.teacher FROM lesson l JOIN course c ON c.id = l.course_id WHERE l.id = ?",
    [m.lesson ?? 0],
  )
  const body = await bodyNow(s.db, m)
  const links = new Map<string, string>()
  for (const href of linksOf(body)) {
    const address = await addressOfLink(s.db, href)
    links.set(href, address?.startsWith("/") ? s.config.origin + address : (address ?? "#"))
  }
  const values = await personalWords(
    s.db,
    { rich: [body], plain: [m.subject, m.preview, m.plain] },
    { person, name: who ? nameInMail(who.name) : "", zone: who?.zone ?? null },
    school,
    course,
    await s.clock.now(),
  )
  const target = m.button ? await addressOfButton(s.db, { lesson: m.lesson, step: m.step }) : null
  return compose(
    {
      ...m,
      body: withPictures(body, await pictureFiles(s.db, s.config.origin, body)),
      button: m.button && target ? { says: m.button, url: `${s.config.origin}${target}` } : null,
      foot: footOf(school, s.config, { says: words.mail.leaveLine, url: `${s.config.origin}/mails` }),
    },
    values,
    (url) => links.get(url) ?? url,
  )
}

/** The plain text that is made of a letter as typed, to be written on by hand. */
export async function plainTyped(s: Context, typed: unknown): Promise<string> {
  const m = v.parse(letterInput, typed)
  return plainOf({ body: await bodyNow(s.db, m), button: m.button ? { says: m.button, url: "" } : null })
}

/** What is to be seen to in a letter, as typed. */
export async function checkTyped(s: Context, typed: unknown): Promise<LetterFinding[]> {
  const m = v.parse(letterInput, typed)
  const school = await mailSchool(s.db)
  if (!school) return []
  const { html } = await composed(s, m, school, null)
  const body = await bodyNow(s.db, m)
  return checkLetter({
    ...m,
    body,
    dead: await deadLinksIn(s.db, body),
    gaps: mailGaps((await pageOf(s.db, m))?.blocks ?? []),
    leads: await buttonLeads(s.db, m),
    bytes: new TextEncoder().encode(html).length,
    sender: school.sender_name !== "" && school.sender_email !== "",
    postalAddress: school.postal_address !== "",
  })
}

export type LetterPreview = Composed & { readonly who: string; readonly from: string }

/** How a letter looks to somebody, found by name or address; empty: to somebody of whom nothing is known. */
export async function previewFor(s: Context, typed: unknown, whom: string): Promise<LetterPreview | Refused> {
  const m = v.parse(letterInput, typed)
  const school = await mailSchool(s.db)
  if (!school) return { refused: refusals.gone.thing }
  const found = whom.trim()
    ? await s.db.row<{ id: number; name: string; email: string }>(
        "SELECT id, name, email FROM person WHERE united_with IS NULL AND (email = ? OR name = ?) ORDER BY id LIMIT 1",
        [whom.trim(), whom.trim()],
      )
    : undefined
  if (whom.trim() && !found) return { refused: refusals.person.nobody }
  const from = senderOf(school, s.config)
  return {
    ...(await composed(s, m, school, found?.id ?? null)),
    who: found ? found.name || found.email : "",
    from: `${m.from.name || from.name} <${from.address}>${m.from.replyTo ? `, replies to ${m.from.replyTo}` : ""}`,
  }
}

/** Sends a letter as it is typed to whoever writes it, and to nobody else. */
export async function testLetter(s: Context, typed: unknown, account: number): Promise<{ sent: string } | Refused> {
  const m = v.parse(letterInput, typed)
  const school = await mailSchool(s.db)
  const to = await s.db.row<{ email: string; name: string }>("SELECT email, name FROM account WHERE id = ?", [account])
  if (!school || !to) return { refused: refusals.gone.account }
  const now = await s.clock.now()
  const letter = await composed(s, m, school, null)
  const from = senderOf(school, s.config)
  try {
    await s.mailer.send({
      ...letter,
      subject: `${words.mail.test}: ${letter.subject}`,
      messageId: `<test-letter.${now}.${s.config.installation}@${new URL(s.config.origin).hostname}>`,
      date: new Date(now),
      from: { ...from, name: m.from.name || from.name },
      ...(m.from.replyTo ? { replyTo: m.from.replyTo } : {}),
      to: { name: to.name, address: to.email },
      headers: {},
    })
    return { sent: to.email }
  } catch (error) {
    if (!(error instanceof MailTrouble)) throw error
    return { refused: error.message.slice(0, 300) }
  }
}
