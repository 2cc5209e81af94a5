// Who else has a page open in the editor, and what has become of it meanwhile.
import * as v from "valibot"
import { mailPage } from "@/core/mail/page"
import type { Page } from "@/core/page/document"
import { lessonPage } from "@/core/page/lesson"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import type { Row } from "../db/row"
import { type OwnerColumn, ownerOf, owners, type PageOf } from "./version"

/** Another window that has the page open. */
export type AlsoOpen = { readonly who: string; readonly me: boolean; readonly since: Date }

export type OpenPage = {
  readonly others: readonly AlsoOpen[]
  /** What stands there now, where it is of another revision than is known. */
  readonly now: { readonly revision: number; readonly page: Page } | null
}

/** A window that hasn't been heard of for so long is gone, ms of real time. */
const goneAfter = 6_000
const windowId = v.pipe(v.string(), v.uuid())

/** Says that a window has a page open, of a revision; gives who else has, and the page where it has changed. Null: it is no window, or gone. */
export async function lookIn(
  s: Pick<Context, "db" | "clock" | "actor">,
  of: PageOf,
  window: unknown,
  revision: number,
): Promise<OpenPage | null> {
  const id = v.safeParse(windowId, window)
  const stored = await storedPage(s.db, of, revision)
  if (!id.success || s.actor.is !== "account" || stored === undefined) return null
  const [column, owner] = ownerOf(of)
  const seen = new Date()
  await s.db.write(
    `INSERT INTO page_open (window_id, ${column}, account_id, since, seen_at) VALUES (?, ?, ?, ?, ?)
     ON DUPLICATE KEY UPDATE since = IF(${column} <=> VALUES(${column}) AND account_id = VALUES(account_id), since, VALUES(since)),
       ${owners.map((o) => `${o} = VALUES(${o})`).join(", ")}, account_id = VALUES(account_id), seen_at = VALUES(seen_at)`,
    [id.output, owner, s.actor.id, new Date(await s.clock.now()), seen],
  )
  const rows = await s.db.rows<{ who: string; account: number; since: Date }>(
    `SELECT a.name AS who, o.account_id AS account, o.since FROM page_open o JOIN account a ON a.id = o.account_id
     WHERE o.${column} = ? AND o.seen_at > ? AND o.window_id <> ? ORDER BY o.since, o.window_id LIMIT 20`,
    [owner, new Date(seen.getTime() - goneAfter), id.output],
  )
  const me = s.actor.id
  return { others: rows.map((r) => ({ who: r.who, me: r.account === me, since: r.since })), now: stored }
}

const revisions: Readonly<Record<OwnerColumn, string>> = {
  step_id: "SELECT revision FROM step WHERE id = ? AND page IS NOT NULL",
  lesson_id: "SELECT page_revision AS revision FROM lesson WHERE id = ? AND state <> 'removed'",
  section_id: "SELECT revision FROM kept_section WHERE id = ?",
  mail_id: "SELECT revision FROM sequence_mail WHERE id = ?",
  broadcast_id: "SELECT revision FROM broadcast WHERE id = ?",
}
/** The page, and of an e-mail its text. */
const pages: Readonly<Record<Exclude<OwnerColumn, "lesson_id">, string>> = {
  step_id: "SELECT revision, page FROM step WHERE id = ?",
  section_id: "SELECT revision, page FROM kept_section WHERE id = ?",
  mail_id: "SELECT revision, page, body FROM sequence_mail WHERE id = ?",
  broadcast_id: "SELECT revision, page, JSON_VALUE(document, '$.body') AS body FROM broadcast WHERE id = ?",
}

/** The page, where it is of another revision; null: of this one; undefined: it is gone. */
async function storedPage(db: Db, of: PageOf, known: number): Promise<OpenPage["now"] | undefined> {
  const [column, owner] = ownerOf(of)
  const is = await db.row<{ revision: number }>(revisions[column], [owner])
  if (!is || is.revision === known) return is && null
  if (column === "lesson_id") {
    const lesson = await db.row<Row<"lesson">>("SELECT * FROM lesson WHERE id = ?", [owner])
    return lesson && { revision: lesson.page_revision, page: lessonPage(lesson) }
  }
  const row = await db.row<{ revision: number; page: string | null; body?: string }>(pages[column], [owner])
  return row && { revision: row.revision, page: mailPage({ page: row.page, body: row.body ?? "" }) }
}

/** Windows that are long gone. */
export async function sweepOpen(db: Db): Promise<void> {
  await db.write("DELETE FROM page_open WHERE seen_at < ?", [new Date(Date.now() - 3_600_000)])
}
