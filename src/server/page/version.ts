// Pages, lessons, e-mails and kept sections as they were: kept with each save, listed, named, read again, and thinned out with age.
import { isDeepStrictEqual } from "node:util"
import * as v from "valibot"
import { type Page, PageError, readPage } from "@/core/page/document"
import { type Actor, actorText } from "@/core/person/actor"
import { refusals } from "@/core/words/refusals"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { gone, id, ok, type Refused, refusal, type Saved } from "../saved"

/** Whose page it is. */
export const pageOf = v.union([
  v.strictObject({ step: id }),
  v.strictObject({ lesson: id }),
  v.strictObject({ section: id }),
  v.strictObject({ mail: id }),
  v.strictObject({ broadcast: id }),
])
export type PageOf = v.InferOutput<typeof pageOf>

export type Version = {
  readonly id: number
  /** When it was last written to. */
  readonly at: Date
  readonly name: string | null
  /** The name of the account that wrote it, where one did. */
  readonly who: string | null
}

/** What is written without a pause of so long is one version, but none goes on for longer than the second, ms. */
const pause = 20_000
const longest = 180_000
/** As many are listed. */
const most = 200

/** The columns by which a table says whose page it is. */
export const owners = ["step_id", "lesson_id", "section_id", "mail_id", "broadcast_id"] as const
export type OwnerColumn = (typeof owners)[number]

/** By which column a table says whose page it is, and its number. */
export function ownerOf(of: PageOf): readonly [column: OwnerColumn, id: number] {
  const [[whose, id]] = Object.entries(of) as [[string, number]]
  return [`${whose}_id` as OwnerColumn, id]
}

/** Keeps what a page is from now on, and before its first change what it was. Within the transaction that saves it. */
export async function keepVersion(
  tx: Db,
  of: PageOf,
  { before, after, at, actor }: { before: Page; after: Page; at: number; actor: Actor },
): Promise<void> {
  if (isDeepStrictEqual(before, after)) return
  const [column, owner] = ownerOf(of)
  const last = await tx.row<{ id: number; began_at: Date; at: Date; name: string | null; actor: string | null }>(
    `SELECT id, began_at, at, name, actor FROM page_version WHERE ${column} = ? ORDER BY id DESC LIMIT 1`,
    [owner],
  )
  const who = actorText(actor)
  const write = (page: Page, actor: string | null) =>
    tx.insert("page_version", {
      [column]: owner,
      began_at: new Date(at),
      at: new Date(at),
      actor,
      page: JSON.stringify(page),
    })
  if (!last) await write(before, null)
  const goesOn =
    last?.name === null &&
    last.actor === who &&
    Math.abs(at - last.at.getTime()) < pause &&
    Math.abs(at - last.began_at.getTime()) < longest
  if (goesOn) await tx.update("page_version", last.id, { at: new Date(at), page: JSON.stringify(after) })
  else await write(after, who)
}

/** The latest first; at most 200. */
export function versionsOf(db: Db, of: PageOf): Promise<Version[]> {
  const [column, owner] = ownerOf(of)
  return db.rows<Version>(
    `SELECT p.id, p.at, p.name, a.name AS who FROM page_version p LEFT JOIN account a ON p.actor = CONCAT('account:', a.id) WHERE p.${column} = ? ORDER BY p.id DESC LIMIT ${most}`,
    [owner],
  )
}

/** A page as it was in a version. */
export async function readVersion(db: Db, of: PageOf, id: number): Promise<{ readonly page: Page } | Refused> {
  const [column, owner] = ownerOf(of)
  const row = await db.row<{ page: string }>(`SELECT page FROM page_version WHERE id = ? AND ${column} = ?`, [
    id,
    owner,
  ])
  return row ? readKept(row.page) : gone
}

/** A page as it was kept; in words where this program doesn't understand it: it was written by a later one. */
function readKept(json: string): { readonly page: Page } | Refused {
  try {
    return { page: readPage(JSON.parse(json)) }
  } catch (error) {
    if (error instanceof PageError) return { refused: refusals.funnel.versionUnread(error.message) }
    throw error
  }
}

/**
 * The version before another, or, where none is said, the latest that is not what stands there now; null: there is none. By it undo goes on
 * behind where an editor was opened.
 */
export async function versionBefore(
  db: Db,
  of: PageOf,
  before: number | null,
  now: Page,
): Promise<{ readonly id: number; readonly page: Page } | Refused | null> {
  const [column, owner] = ownerOf(of)
  const rows = await db.rows<{ id: number; page: string }>(
    `SELECT id, page FROM page_version WHERE ${column} = ? AND id < ? ORDER BY id DESC LIMIT 2`,
    [owner, before ?? 4_294_967_295],
  )
  for (const row of rows) {
    const read = readKept(row.page)
    if ("refused" in read) return read
    if (!isDeepStrictEqual(read.page, now)) return { id: row.id, ...read }
  }
  return null
}

const named = v.pipe(v.string(), v.trim(), v.maxLength(80))

/** Gives a version a name, by which it stays; an empty one takes it away. */
export async function nameVersion(s: Pick<Context, "db">, of: PageOf, id: number, typed: unknown): Promise<Saved> {
  const read = v.safeParse(named, typed)
  if (!read.success) return refusal(read.issues)
  const [column, owner] = ownerOf(of)
  const { affected } = await s.db.write(`UPDATE page_version SET name = ? WHERE id = ? AND ${column} = ?`, [
    read.output || null,
    id,
    owner,
  ])
  return affected ? ok : gone
}

/** Of versions that are so old (days), one is kept of each so many seconds. */
const kept = [
  [60, 86_400],
  [7, 3_600],
  [1, 600],
] as const

/** Thins out what has no name; gives how many went. */
export async function thinVersions(s: Context): Promise<number> {
  const now = await s.clock.now()
  let went = 0
  for (const [days, seconds] of kept) {
    const { affected } = await s.db.write(
      `DELETE p FROM page_version p JOIN (
         SELECT ${owners.join(", ")}, FLOOR(UNIX_TIMESTAMP(at) / ?) AS slot, MAX(id) AS last FROM page_version
         WHERE name IS NULL AND at < ? GROUP BY ${owners.join(", ")}, slot HAVING COUNT(*) > 1) k
       ON ${owners.map((o) => `p.${o} <=> k.${o}`).join(" AND ")} AND FLOOR(UNIX_TIMESTAMP(p.at) / ?) = k.slot AND p.id < k.last
       WHERE p.name IS NULL AND p.at < ?`,
      [seconds, new Date(now - days * 86_400_000), seconds, new Date(now - days * 86_400_000)],
    )
    went += affected
  }
  return went
}
