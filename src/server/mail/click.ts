// A link in a mail: recorded, and led on to where its letter says. The address is never in the link, so it can be led nowhere
// else. And the small picture by which a mail says that it was opened.

import { courseAt, readSettings, type StepKind, stepKinds, webinarOf } from "@/core/funnel/step/list"
import { linksOf } from "@/core/mail/body"
import { isOurLink, linkRefs } from "@/core/page/linked"
import type { Config } from "../config"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { happen } from "../happen"
import { mediaLink } from "../media/store"
import { addressesOf } from "../page/links"
import type { Leads } from "../port/letter"
import { verify, verifyId } from "../sign"
import { roomPath } from "../webinar/letter/seat"
import { latestSeat } from "../webinar/seat"
import { mailSchool } from "./school"
import { dueMail } from "./send"

/** `person`: whose e-mail it was. */
export type Followed = { readonly to: string; readonly person: number | null }

/** Where a signed link leads, or null where it isn't one of ours or leads nowhere any more. */
export async function followLink(s: Context, token: string): Promise<Followed | null> {
  const [id, n] = (verify(s.config.secret, "click", token) ?? "").split("-").map(Number)
  if (!id || n === undefined || Number.isNaN(n)) return null
  const mail = await dueMail(s.db, id)
  if (!mail) return null
  const school = await mailSchool(s.db)
  if (!school) return null
  const letter = await s.db.context.letters[mail.kind](s.db, s.config, school, mail)
  const target =
    letter &&
    (n === 0
      ? letter.leads && (await addressOfButton(s.db, letter.leads, { config: s.config, person: mail.person_id }))
      : await addressOfLink(s.db, linksOf(letter.body)[n - 1], { config: s.config, person: mail.person_id }))
  if (!target) return null
  const at = await s.clock.now()
  await s.db.transaction(async (tx) => {
    await tx.insert("mail_click", { mail_id: id, link: n, at: new Date(at) }, "ignore")
    // Whoever follows a link has opened the mail, whether or not it could tell.
    await tx.write(
      "UPDATE mail m LEFT JOIN enrolment e ON e.id = m.enrolment_id SET m.clicked_at = COALESCE(m.clicked_at, ?), m.opened_at = COALESCE(m.opened_at, ?), e.clicked = 1 WHERE m.id = ?",
      [new Date(at), new Date(at), id],
    )
    await happen(tx, [
      {
        kind: "clicked",
        at,
        once: `clicked:${id}:${n}`,
        person: mail.person_id,
        funnel: mail.funnel_id,
        subject: id,
        words: target,
      },
    ])
  })
  // What is given to the reader of an e-mail opens to whoever follows its link.
  const [, file] = /^\/media\/([^/?]+)$/.exec(target) ?? []
  return { to: file ? mediaLink(s.config, file, Date.now()) : target, person: mail.person_id }
}

/** The small picture of a mail was asked for, by its reader or by a machine on their behalf. */
export async function markOpened(s: Context, token: string): Promise<void> {
  const id = verifyId(s.config.secret, "open", token)
  if (id === null) return
  const at = await s.clock.now()
  await s.db.transaction(async (tx) => {
    const first = await tx.write(
      "UPDATE mail SET opened_at = ? WHERE id = ? AND opened_at IS NULL AND state = 'sent'",
      [new Date(at), id],
    )
    if (!first.affected) return
    const mail = await tx.row<{ person_id: number | null; subject: string | null }>(
      "SELECT person_id, subject FROM mail WHERE id = ?",
      [id],
    )
    if (mail?.person_id)
      await happen(tx, [
        { kind: "opened", at, person: mail.person_id, subject: id, words: mail.subject ?? "an e-mail" },
      ])
  })
}

/** Where a button leads now: the page as it is published, or the lesson. */
export async function addressOfButton(
  db: Db,
  leads: Leads,
  reader?: { readonly config: Config; readonly person: number | null },
): Promise<string | null> {
  if (leads.step !== null) {
    const step = await db.row<{ kind: StepKind; path: string; live: string | null; settings: string }>(
      "SELECT t.kind, t.path, (SELECT p.path FROM live_page p WHERE p.step_id = t.id LIMIT 1) AS live, t.settings FROM step t WHERE t.id = ?",
      [leads.step],
    )
    if (!step) return null
    const room = reader?.person ? await roomBehind(db, step, reader.config, reader.person) : null
    if (room) return room
    const path = step.live ?? step.path
    if (path) return `/${path}`
    const slug = await courseSlug(
      db,
      courseAt({ kind: step.kind, settings: readSettings(step.kind, JSON.parse(step.settings)) }),
    )
    return slug ? `/learn/${slug}` : "/learn"
  }
  const lesson = await db.row<{ slug: string }>(
    "SELECT c.slug FROM lesson l JOIN course c ON c.id = l.course_id WHERE l.id = ?",
    [leads.lesson],
  )
  return lesson ? `/learn/${lesson.slug}/${leads.lesson}` : null
}

/** Where a link of an e-mail leads now: it may name something of the school ("course:3"). Null: nowhere. */
export async function addressOfLink(
  db: Db,
  href: string | undefined,
  reader?: { readonly config: Config; readonly person: number | null },
): Promise<string | null> {
  // A button that leads nowhere yet.
  if (!href || href === "#") return null
  if (!isOurLink(href)) return href
  const [to, id] = href.split(":") as [string, string]
  if (to === "step") return addressOfButton(db, { step: Number(id), lesson: null }, reader)
  return (await addressesOf(db, linkRefs(`href="${href}"`))).get(href) ?? null
}

/** How many links of a body name what is no longer there. */
export async function deadLinksIn(db: Db, body: string): Promise<number> {
  let dead = 0
  for (const href of linksOf(body)) if ((await addressOfLink(db, href)) === null) dead++
  return dead
}

const courseSlug = async (db: Db, id: number | null) =>
  (await db.row<{ slug: string }>("SELECT slug FROM course WHERE id = ?", [id]))?.slug

/** Whoever has a seat at the webinar that a page shows is led into its room, by their own way. */
async function roomBehind(
  db: Db,
  step: { readonly kind: StepKind; readonly settings: string },
  config: Config,
  person: number,
): Promise<string | null> {
  if (!stepKinds[step.kind].awaits) return null
  const webinar = webinarOf({ kind: step.kind, settings: readSettings(step.kind, JSON.parse(step.settings)) })
  const seat = webinar === null ? undefined : await latestSeat(db, webinar, { person })
  return seat && !seat.calledOff ? roomPath(config, seat.id) : null
}
