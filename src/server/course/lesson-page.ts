// The page of a lesson as stored, and what it needs to be shown.
import { isDeepStrictEqual } from "node:util"
import { blockKinds, refsOfPage } from "@/core/page/block/list"
import { allBlocks, type Page } from "@/core/page/document"
import { keptOn } from "@/core/page/kept"
import { isOnlyFiles, lessonPage } from "@/core/page/lesson"
import type { Picture } from "@/core/page/picture"
import { refusals } from "@/core/words/refusals"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { keptSections, unfitForLessons } from "../page/kept"
import { type PageSaved, readTyped, reconcilePage } from "../page/save"
import { keepVersion } from "../page/version"
import { type PictureRow, pictureColumns, pictureOf } from "../pictures"
import { writeReferences } from "../reference"
import type { LessonRow } from "./course"

/** Saves the page of a lesson as typed, merged with what another window has made of it since `revision`. */
export async function saveLessonPage(
  s: Context,
  lesson: number,
  revision: number,
  document: unknown,
  base?: unknown,
): Promise<PageSaved> {
  const typed = readTyped(document, base)
  if ("refused" in typed) return typed
  const strange = [...allBlocks(typed.page.blocks)].find((b) => !blockKinds[b.kind].inLessons)
  if (strange) return { refused: refusals.course.notInLessons(blockKinds[strange.kind].name) }
  for (const held of (await keptSections(s.db, keptOn(typed.page))).values()) {
    const unfit = unfitForLessons(held)
    if (unfit) return { refused: refusals.course.notInLessons(unfit) }
  }
  const at = await s.clock.now()
  return s.db.transaction(async (tx): Promise<PageSaved> => {
    const row = await tx.row<LessonRow>("SELECT * FROM lesson WHERE id = ? AND state <> 'removed' FOR UPDATE", [lesson])
    if (!row) return { refused: refusals.gone.lesson }
    const stored = lessonPage(row)
    const both = reconcilePage(typed, revision, stored, row.page_revision)
    if (!("write" in both)) return both
    const next = isDeepStrictEqual(stored, both.write) ? row.page_revision : row.page_revision + 1
    await tx.update("lesson", lesson, { page: JSON.stringify(both.write), page_revision: next })
    await keepVersion(tx, { lesson }, { before: stored, after: both.write, at, actor: s.actor })
    await referPage(tx, lesson, both.write)
    return both.write === typed.page ? { revision: next } : { revision: next, page: both.write }
  })
}

/** Writes what a lesson's page refers to, how long what it plays is, and whether it is only files. */
export async function referPage(tx: Db, lesson: number, page: Page): Promise<void> {
  const refs = refsOfPage(page)
  await writeReferences(
    tx,
    { lesson },
    refs.map((ref) => ({ from: { lesson }, ref })),
  )
  await tx.write(
    "UPDATE lesson SET only_files = ?, seconds = (SELECT COALESCE(SUM(m.seconds), 0) FROM reference r JOIN media m ON m.id = r.media_id WHERE r.from_lesson_id = ? AND r.say = 'plays it') WHERE id = ?",
    [isOnlyFiles(page), lesson, lesson],
  )
}

export type LessonMedia = {
  readonly id: number
  readonly kind: "picture" | "video" | "file"
  readonly stored: string
  readonly type: string
  readonly name: string
  readonly size: number
  /** Where it is one. */
  readonly picture: Picture | null
}

/** The media that a page names, by number. */
export async function mediaOf(db: Db, page: Page): Promise<Map<number, LessonMedia>> {
  const ids = refsOfPage(page).flatMap((r) => (r.to === "media" ? [r.id] : []))
  const rows = await db.rows<Omit<LessonMedia, "picture"> & PictureRow & { stored: string }>(
    `SELECT m.id, m.kind, m.type, m.name, m.size, ${pictureColumns} FROM media m WHERE m.id IN (?)`,
    [[0, ...ids]],
  )
  return new Map(rows.map((m) => [m.id, { ...m, picture: m.kind === "picture" ? pictureOf(m) : null }]))
}

/** Where the links of a lesson lead for whoever may open it; `fileAt`: where a file is fetched. */
export const addressesFor = (
  { addresses, media }: { addresses: ReadonlyMap<string, string>; media: ReadonlyMap<number, LessonMedia> },
  fileAt: (m: LessonMedia) => string,
): ReadonlyMap<string, string> =>
  new Map([...addresses, ...[...media].map(([id, m]) => [`file:${id}`, fileAt(m)] as const)])

/** The pictures among them. */
export const picturesAmong = (media: ReadonlyMap<number, LessonMedia>): Map<number, Picture> =>
  new Map([...media.values()].flatMap((m) => (m.picture ? [[m.id, m.picture] as const] : [])))
