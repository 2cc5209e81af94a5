// The page of an e-mail: read as typed, and made into the body that is sent. What it speaks of is looked up then; what changes between then
// and when it is sent, a price or an end, is a chip in it.
import { bodyOfPage, mailBlocks, onlyText } from "@/core/mail/page"
import type { MailAt } from "@/core/page/block/kind"
import { blockKinds, refsOfPage } from "@/core/page/block/list"
import { allBlocks, type Page, readPage } from "@/core/page/document"
import type { Ref } from "@/core/reference"
import { refusals } from "@/core/words/refusals"
import { loadCourseCards } from "../course/card"
import type { Db } from "../db/pool"
import { cleanMailPage } from "../page/rich-text"
import { readTyped, type TypedPage } from "../page/save"
import type { Refused } from "../saved"

/** As `readTyped`; what an e-mail can't carry is refused. */
export function readTypedMail(document: unknown, base: unknown): TypedPage | Refused {
  const typed = readTyped(document, base, cleanMailPage)
  const strange = "page" in typed && [...allBlocks(typed.page.blocks)].find((b) => !mailBlocks.includes(b.kind))
  return strange ? { refused: refusals.mail.notInMails(blockKinds[strange.kind].name) } : typed
}

/** As they are stored: the page, null where it says nothing but a text, and the body that is made of it. */
export async function mailColumns(
  db: Db,
  page: Page,
): Promise<{ readonly page: string | null; readonly body: string }> {
  const text = onlyText(page)
  return text === null ? { page: JSON.stringify(page), body: await bodyOf(db, page) } : { page: null, body: text }
}

export async function bodyOf(db: Db, page: Page): Promise<string> {
  const refs = refsOfPage(page)
  const offers = await db.rows<{ id: number; name: string }>(
    "SELECT id, public_name AS name FROM offer WHERE id IN (?)",
    [[0, ...refs.flatMap((r) => (r.to === "offer" ? [r.id] : []))]],
  )
  return bodyOfPage(page, {
    courses: await loadCourseCards(db, refs),
    teachers: await teachersIn(db, refs),
    offers: new Map(offers.map((o) => [o.id, o.name])),
  })
}

/** Everybody who teaches, or those who are referred to, by number. */
export async function teachersIn(db: Db, refs?: readonly Ref[]): Promise<MailAt["teachers"]> {
  const ids = refs?.flatMap((r) => (r.to === "teacher" ? [r.id] : []))
  const rows = await db.rows<{ id: number; name: string; about: string; media: number | null }>(
    `SELECT id, name, about, media_id AS media FROM teacher${ids ? " WHERE id IN (?)" : " ORDER BY position, id LIMIT 200"}`,
    ids ? [[0, ...ids]] : [],
  )
  return new Map(rows.map(({ id, ...t }) => [id, t]))
}

/** What an e-mail refers to by its blocks alone: what it names in its body is found there. */
export const refsBesideBody = (page: string | null): Ref[] =>
  page === null
    ? []
    : refsOfPage(readPage(JSON.parse(page))).filter((r) => r.to === "teacher" || r.use === "lists its lessons")
