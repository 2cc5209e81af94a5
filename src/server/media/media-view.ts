// Pictures, videos and files as they are chosen from in the studio.
import type { Picture } from "@/core/page/picture"
import type { Config } from "../config"
import type { Db } from "../db/pool"
import { type PictureRow, pictureColumns, pictureOf } from "../pictures"
import { type MediaKind, mediaLink } from "./store"

export type MediaNamed = {
  readonly id: number
  readonly kind: MediaKind
  readonly name: string
  readonly url: string
  readonly type: string
  /** What it shows, in words. */
  readonly alt: string
  readonly width: number
  readonly height: number
} & Pick<Picture, "tones" | "focus">

export type MediaRow = PictureRow & {
  readonly id: number
  readonly kind: MediaKind
  readonly name: string
  readonly type: string
  readonly alt: string
  readonly stored: string
}

/** The columns of one, for a table that is called `m`. */
export const mediaColumns = `m.id, m.kind, m.name, m.type, m.alt, ${pictureColumns}`

/** The latest 300, the newest first. Addresses of videos and files work for a while. */
export async function mediaNames(db: Db, config: Config): Promise<MediaNamed[]> {
  const rows = await db.rows<MediaRow>(
    `SELECT ${mediaColumns} FROM media m WHERE m.kind <> 'handed-in' ORDER BY m.id DESC LIMIT 300`,
  )
  return rows.map((m) => mediaOf(m, config))
}

/** In which narrower widths a film is there, pixels with commas between; null: none are made yet. */
export async function narrowedOf(db: Db, id: number): Promise<string | null> {
  return (await db.row<{ narrowed: string | null }>("SELECT narrowed FROM media WHERE id = ?", [id]))?.narrowed ?? null
}

/** One of them by its number; not what a learner handed in. */
export async function mediaNamed(db: Db, config: Config, id: number): Promise<MediaNamed | undefined> {
  const row = await db.row<MediaRow>(`SELECT ${mediaColumns} FROM media m WHERE m.kind <> 'handed-in' AND m.id = ?`, [
    id,
  ])
  return row && mediaOf(row, config)
}

export const mediaOf = (m: MediaRow, config: Config): MediaNamed => ({
  ...(pictureOf(m) ?? { width: 0, height: 0 }),
  id: m.id,
  kind: m.kind,
  name: m.name,
  type: m.type,
  alt: m.alt,
  url: m.kind === "picture" ? `/media/${m.stored}` : mediaLink(config, m.stored, Date.now()),
})
