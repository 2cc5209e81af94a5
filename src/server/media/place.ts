// Everything that was uploaded, in one place: found again, with where it is used, described, cut, put in another's stead, and taken away.
import { randomBytes } from "node:crypto"
import { copyFile, rename, rm } from "node:fs/promises"
import { join } from "node:path"
import * as v from "valibot"
import { readWorn } from "@/core/look/look"
import { refusals } from "@/core/words/refusals"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import type { Row } from "../db/row"
import { draw } from "../draw/draw"
import { type Use, usesOf } from "../reference"
import { gone, type Made, ok, refusal, type Saved } from "../saved"
import { schoolRow } from "../school-view"
import { type MediaNamed, type MediaRow, mediaColumns, mediaOf } from "./media-view"
import { type MediaKind, removeMedia } from "./store"

/** What a list of it is narrowed to. `page` counts from 0. */
export type MediaAsked = {
  readonly search: string
  readonly kind: MediaKind | null
  /** Only what is used nowhere. */
  readonly unused: boolean
  readonly page: number
}

export type MediaListed = MediaNamed & {
  readonly size: number
  readonly seconds: number | null
  readonly used: boolean
}

export const mediaPerPage = 48

/** The names in published pages, as they stand compiled: what is there counts though its draft has let go of it. */
const inPages = /[0-9a-f]{24}(?=[.-])/g

async function publishedNames(db: Db): Promise<string[]> {
  const rows = await db.rows<{ pages: string }>(
    "SELECT r.pages FROM `release` r JOIN funnel f ON f.live_release_id = r.id",
  )
  return [...new Set(rows.flatMap((r) => r.pages.match(inPages) ?? []))]
}

const elsewhere = ["teacher", "quote", "material", "bonus", "admission"] as const

/** Whether it is used; `?` are the number of the logo and the names in published pages. */
const usedSql = `(${["reference", ...elsewhere].map((t) => `EXISTS (SELECT 1 FROM ${t} x WHERE x.media_id = m.id)`).join(" OR ")} OR m.id = ? OR LEFT(m.stored, 24) IN (?))`

async function usedBy(db: Db): Promise<[number, string[]]> {
  return [readWorn((await schoolRow(db))?.look ?? "").logo ?? 0, ["", ...(await publishedNames(db))]]
}

/** The newest first, with how many there are in all. */
export async function listMedia(
  s: Context,
  asked: MediaAsked,
): Promise<{ readonly shown: MediaListed[]; readonly total: number }> {
  const used = await usedBy(s.db)
  const where = `m.kind <> 'handed-in' AND (? = '' OR m.kind = ?) AND (? = '' OR LOCATE(?, m.name) OR LOCATE(?, m.alt))${asked.unused ? ` AND NOT ${usedSql}` : ""}`
  const kind = asked.kind ?? ""
  const values = [kind, kind, asked.search, asked.search, asked.search, ...(asked.unused ? used : [])]
  const count = await s.db.row<{ n: number }>(`SELECT COUNT(*) AS n FROM media m WHERE ${where}`, values)
  const rows = await s.db.rows<MediaRow & { size: number; seconds: number | null; used: number }>(
    `SELECT ${mediaColumns}, m.size, m.seconds, ${usedSql} AS used FROM media m WHERE ${where} ORDER BY m.id DESC LIMIT ? OFFSET ?`,
    [...used, ...values, mediaPerPage, asked.page * mediaPerPage],
  )
  return {
    shown: rows.map((m) => ({ ...mediaOf(m, s.config), size: m.size, seconds: m.seconds, used: Boolean(m.used) })),
    total: count!.n,
  }
}

/** Where it is used; at most 200 places of each kind. */
export async function usesOfMedia(db: Db, id: number): Promise<Use[]> {
  const uses = await usesOf(db, "media", id)
  const add = (rows: readonly { says: string; href: string }[], use: string) =>
    uses.push(...rows.map((r) => ({ ...r, use })))
  add(
    await db.rows(
      "SELECT CONCAT('the teacher “', name, '”') AS says, '/studio/settings/teachers' AS href FROM teacher WHERE media_id = ? LIMIT 200",
      [id],
    ),
    "shows it as their portrait",
  )
  add(
    await db.rows(
      "SELECT CONCAT('what learners say of “', c.title, '”') AS says, CONCAT('/studio/courses/', c.id, '/words') AS href FROM quote q JOIN course c ON c.id = q.course_id WHERE q.media_id = ? LIMIT 200",
      [id],
    ),
    "shows it as a portrait",
  )
  add(
    await db.rows(
      "SELECT CONCAT('the affiliate programme of “', o.public_name, '”') AS says, CONCAT('/studio/affiliates/programmes/', o.id) AS href FROM material x JOIN offer o ON o.id = x.offer_id WHERE x.media_id = ? LIMIT 200",
      [id],
    ),
    "hands it out",
  )
  const [logo] = await usedBy(db)
  if (logo === id) add([{ says: "the look of the school", href: "/studio/settings/look" }], "shows it as the logo")
  const stem = (await db.row<{ stored: string }>("SELECT stored FROM media WHERE id = ?", [id]))?.stored.slice(0, 24)
  const live = await db.rows<{ says: string; href: string }>(
    "SELECT CONCAT('the published pages of “', f.name, '”') AS says, CONCAT('/studio/funnels/', f.id) AS href FROM `release` r JOIN funnel f ON f.live_release_id = r.id WHERE LOCATE(?, r.pages) LIMIT 200",
    [stem ?? ""],
  )
  // Said only where no draft says the same.
  add(
    live.filter((l) => !uses.some((u) => u.href.startsWith(l.href))),
    "show it",
  )
  return uses
}

const described = v.object({
  name: v.pipe(v.string(), v.trim(), v.nonEmpty(refusals.file.name), v.maxLength(200, refusals.value.longest(200))),
  alt: v.pipe(v.string(), v.trim(), v.maxLength(300, refusals.value.longest(300))),
})

/** What it is called, and what it shows in words. */
export async function describeMedia(s: Context, id: number, typed: unknown): Promise<Saved> {
  const read = v.safeParse(described, typed)
  if (!read.success) return refusal(read.issues)
  const { name, alt } = read.output
  await s.db.write("UPDATE media SET name = ?, alt = ? WHERE id = ? AND kind <> 'handed-in'", [name, alt, id])
  return ok
}

const hundredth = v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(100))

/** What matters in a picture, hundredths from its left and from its top: it is cut around that. Published pages, once they are put out again. */
export async function focusPicture(s: Context, id: number, at: unknown): Promise<Saved> {
  const read = v.safeParse(v.tuple([hundredth, hundredth]), at)
  if (!read.success) return refusal(read.issues)
  const [focus_x, focus_y] = read.output
  await s.db.update("media", id, { focus_x, focus_y })
  return ok
}

type Content = Pick<
  Row<"media">,
  | "type"
  | "name"
  | "stored"
  | "size"
  | "width"
  | "height"
  | "seconds"
  | "darkest"
  | "lightest"
  | "focus_x"
  | "focus_y"
  | "narrowed"
>

/**
 * Puts what is kept under one number in the stead of another: every place that shows `id` shows it from now on, published pages once they
 * are put out again. What stood there before is kept under the other number.
 */
export async function replaceMedia(s: Context, id: number, by: number): Promise<Saved> {
  if (id === by) return ok
  return s.db.transaction(async (tx): Promise<Saved> => {
    const rows = await tx.rows<Content & { id: number; kind: string }>(
      "SELECT id, kind, type, name, stored, size, width, height, seconds, darkest, lightest, focus_x, focus_y, narrowed FROM media WHERE id IN (?) AND kind <> 'handed-in' ORDER BY id FOR UPDATE",
      [[id, by]],
    )
    const [old, fresh] = [rows.find((r) => r.id === id), rows.find((r) => r.id === by)]
    if (!old || !fresh) return gone
    if (old.kind !== fresh.kind) return { refused: refusals.file.otherKind }
    const content = ({ id: _, kind: __, ...c }: (typeof rows)[number]): Content => c
    await tx.update("media", by, { stored: `~${fresh.stored}`.slice(0, 80) })
    // How long it plays is told to its lessons when it is measured.
    await tx.update("media", id, { ...content(fresh), seconds: null })
    await tx.update("media", by, content(old))
    return ok
  })
}

const cutOut = v.object({
  left: v.pipe(v.number(), v.minValue(0), v.maxValue(1)),
  top: v.pipe(v.number(), v.minValue(0), v.maxValue(1)),
  width: v.pipe(v.number(), v.gtValue(0), v.maxValue(1)),
  height: v.pipe(v.number(), v.gtValue(0), v.maxValue(1)),
})

/** Cuts a part out of a picture, in fractions of its sides, and shows that in its stead; the whole one is kept beside it, under the number that is given. */
export async function cutPicture(s: Context, id: number, typed: unknown): Promise<Made> {
  const read = v.safeParse(cutOut, typed)
  if (!read.success) return refusal(read.issues)
  const row = await s.db.row<Row<"media">>("SELECT * FROM media WHERE id = ? AND kind = 'picture'", [id])
  if (!row?.width || !row.height) return gone
  const { width, height } = row
  const left = Math.min(width - 1, Math.round(read.output.left * width))
  const top = Math.min(height - 1, Math.round(read.output.top * height))
  const cut = {
    left,
    top,
    width: Math.max(1, Math.min(width - left, Math.round(read.output.width * width))),
    height: Math.max(1, Math.min(height - top, Math.round(read.output.height * height))),
  }
  if (cut.width < 16 || cut.height < 16) return { refused: refusals.file.cutSmall }
  const inFolder = (name: string) => join(/* turbopackIgnore: true */ s.config.mediaFolder, name)
  const stem = randomBytes(12).toString("hex")
  const part = inFolder(`${stem}.part`)
  try {
    await copyFile(inFolder(row.stored), part)
    const drawn = await draw(null, "picture", { path: part, most: width * height, cut })
    if (!drawn) return { refused: refusals.file.damaged }
    const stored = `${stem}.webp`
    await rename(part, inFolder(stored))
    const made = await s.db.insert("media", {
      kind: "picture",
      type: "image/webp",
      name: row.name,
      stored,
      ...drawn,
      made_at: new Date(await s.clock.now()),
    })
    const put = await replaceMedia(s, id, made.id)
    return "refused" in put ? put : { ok: true, id: made.id }
  } finally {
    await rm(part, { force: true })
  }
}

/** Takes away what is used nowhere. */
export async function removeUnused(s: Context, id: number): Promise<Saved> {
  const row = await s.db.row<{ id: number; stored: string; used: number }>(
    `SELECT m.id, m.stored, ${usedSql} AS used FROM media m WHERE m.id = ? AND m.kind <> 'handed-in'`,
    [...(await usedBy(s.db)), id],
  )
  if (!row) return gone
  if (row.used) return { refused: refusals.file.used }
  // Whatever began to use it in between keeps it, by its foreign key.
  return removeMedia(s, row).then(
    () => ok,
    (error: { code?: string }) => {
      if (error.code !== "ER_ROW_IS_REFERENCED_2") throw error
      return { refused: refusals.file.used }
    },
  )
}
