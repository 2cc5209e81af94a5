// Kept sections: written once, shown on many pages. What is written is a draft until it is published, on all of these at once.
import { isDeepStrictEqual } from "node:util"
import * as v from "valibot"
import { blockKinds, refsOfPage } from "@/core/page/block/list"
import { allBlocks, type Block, type Page, readPage } from "@/core/page/document"
import { fillKept, type KeptSections, keptBlocks, keptOn } from "@/core/page/kept"
import { type LessonSource, lessonPage } from "@/core/page/lesson"
import { refusals } from "@/core/words/refusals"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import type { Row } from "../db/row"
import { usesOf, writeReferences } from "../reference"
import { type Made, ok, type Refused, refusal, type Saved } from "../saved"
import { type PageSaved, readTyped, reconcilePage } from "./save"
import { keepVersion } from "./version"

export type KeptRow = {
  readonly id: number
  readonly name: string
  /** On how many pages and lessons it stands. */
  readonly stands: number
  /** What is written is not what pages show. */
  readonly changed: boolean
}

/** In the order of their names. */
export async function listKept(db: Db): Promise<KeptRow[]> {
  const rows = await db.rows<{ id: number; name: string; stands: number; changed: number }>(
    `SELECT k.id, k.name, k.page <> k.live AS changed, COUNT(DISTINCT r.step_id) + COUNT(DISTINCT r.from_lesson_id) AS stands
     FROM kept_section k LEFT JOIN reference r ON r.section_id = k.id GROUP BY k.id ORDER BY k.name`,
  )
  return rows.map((r) => ({ ...r, changed: Boolean(r.changed) }))
}

/** What pages show of every kept section, or of these. */
export async function keptSections(db: Db, ids?: readonly number[]): Promise<KeptSections> {
  if (ids?.length === 0) return new Map()
  const rows = await db.rows<Pick<Row<"kept_section">, "id" | "live">>(
    `SELECT id, live FROM kept_section${ids ? " WHERE id IN (?)" : ""}`,
    ids ? [ids] : [],
  )
  return new Map(rows.map((r) => [r.id, readPage(JSON.parse(r.live)).blocks]))
}

/** Every kept section with what pages show of it, by name: for editors. */
export async function keptHere(db: Db): Promise<{ id: number; name: string; blocks: readonly Block[] }[]> {
  const shown = await keptSections(db)
  return (await listKept(db)).map(({ id, name }) => ({ id, name, blocks: shown.get(id) ?? [] }))
}

/** A lesson's page as learners get it. */
export async function shownLesson(db: Db, lesson: LessonSource): Promise<Page> {
  const page = lessonPage(lesson)
  return fillKept(page, await keptSections(db, keptOn(page)))
}

export type KeptSection = {
  readonly id: number
  readonly name: string
  readonly page: Page
  readonly revision: number
}

export async function readSection(db: Db, id: number): Promise<KeptSection | null> {
  const row = await db.row<Row<"kept_section">>("SELECT * FROM kept_section WHERE id = ?", [id])
  if (!row) return null
  const { name, revision } = row
  return { id, name, revision, page: readPage(JSON.parse(row.page)) }
}

const name = v.pipe(
  v.string(),
  v.trim(),
  v.nonEmpty(refusals.funnel.sectionName),
  v.maxLength(80, refusals.value.longest(80)),
)

const taken: Refused = { refused: refusals.funnel.sectionNamed, field: "name" }
const isNamed = async (tx: Db, name: string, but = 0): Promise<boolean> =>
  (await tx.row("SELECT 1 FROM kept_section WHERE name = ? AND id <> ? FOR UPDATE", [name, but])) !== undefined

/** Keeps blocks as a section of its own, at once as it stands. */
export async function keepSection(s: Context, input: unknown): Promise<Made | Refused> {
  const read = v.safeParse(v.object({ name, blocks: v.unknown() }), input)
  if (!read.success) return refusal(read.issues)
  const typed = readTyped({ version: 1, title: read.output.name, blocks: read.output.blocks }, undefined)
  if ("refused" in typed) return typed
  const strange = strangeIn(typed.page)
  if (strange) return { refused: refusals.funnel.notInSection(strange) }
  const page = JSON.stringify(typed.page)
  return s.db.transaction(async (tx) => {
    if (await isNamed(tx, read.output.name)) return taken
    const { id } = await tx.insert("kept_section", { name: read.output.name, page, live: page })
    await referSection(tx, id, typed.page)
    return { ...ok, id }
  })
}

export async function renameSection(s: Context, id: number, typed: unknown): Promise<Saved> {
  const read = v.safeParse(name, typed)
  if (!read.success) return refusal(read.issues)
  return s.db.transaction(async (tx) => {
    if (await isNamed(tx, read.output, id)) return taken
    await tx.update("kept_section", id, { name: read.output })
    return ok
  })
}

/** Saves what is written, merged with what another window has made of it since `revision`. Pages show it once it is published. */
export async function saveSection(
  s: Context,
  id: number,
  revision: number,
  document: unknown,
  base: unknown,
): Promise<PageSaved> {
  const typed = readTyped(document, base)
  if ("refused" in typed) return typed
  const strange = strangeIn(typed.page)
  if (strange) return { refused: refusals.funnel.notInSection(strange) }
  const at = await s.clock.now()
  return s.db.transaction(async (tx): Promise<PageSaved> => {
    const row = await tx.row<Row<"kept_section">>("SELECT * FROM kept_section WHERE id = ? FOR UPDATE", [id])
    if (!row) return { refused: refusals.gone.section }
    const stored = readPage(JSON.parse(row.page))
    const both = reconcilePage(typed, revision, stored, row.revision)
    if (!("write" in both)) return both
    const next = isDeepStrictEqual(stored, both.write) ? row.revision : row.revision + 1
    await tx.update("kept_section", id, { page: JSON.stringify(both.write), revision: next })
    await keepVersion(tx, { section: id }, { before: stored, after: both.write, at, actor: s.actor })
    await referSection(tx, id, both.write)
    return both.write === typed.page ? { revision: next } : { revision: next, page: both.write }
  })
}

/** Lessons show what is written from now on, and pages once they are put out again (`sectionEverywhere`). */
export async function publishSection(s: Context, id: number): Promise<Saved> {
  const section = await readSection(s.db, id)
  if (!section) return { refused: refusals.gone.section }
  const unfit = unfitForLessons(section.page.blocks)
  const inLesson = await s.db.row("SELECT 1 FROM reference WHERE section_id = ? AND from_lesson_id IS NOT NULL", [id])
  if (unfit && inLesson) return { refused: refusals.funnel.sectionInLesson(unfit) }
  await s.db.write("UPDATE kept_section SET live = page WHERE id = ?", [id])
  return ok
}

/** Removes one that stands nowhere. */
export async function removeSection(s: Context, id: number): Promise<Saved> {
  const places = new Set((await usesOf(s.db, "kept_section", id)).map((u) => u.says))
  if (places.size) return { refused: refusals.funnel.sectionUsed(places.size) }
  await s.db.write("DELETE FROM kept_section WHERE id = ?", [id])
  return ok
}

/** What of some blocks can't stand in a lesson, by its name; undefined: all of it can. */
export function unfitForLessons(blocks: readonly Block[]): string | undefined {
  const strange = [...allBlocks(blocks)].find((b) => !blockKinds[b.kind].inLessons)
  return strange && blockKinds[strange.kind].name
}

function strangeIn(page: Page): string | undefined {
  const strange = [...allBlocks(page.blocks)].find((b) => !keptBlocks.includes(b.kind))
  return strange && blockKinds[strange.kind].name
}

const referSection = (tx: Db, section: number, page: Page): Promise<void> =>
  writeReferences(
    tx,
    { section },
    refsOfPage(page).map((ref) => ({ from: { section }, ref })),
  )
