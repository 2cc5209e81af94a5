// Pictures, videos and files as they are chosen from in the studio.
import type { Colour } from "@/core/look/kind"
import type { Config } from "../config"
import type { Db } from "../db/pool"
import { type MediaKind, mediaLink } from "./store"

export type MediaNamed = {
  readonly id: number
  readonly kind: MediaKind
  readonly name: string
  readonly url: string
  readonly type: string
  readonly width: number
  readonly height: number
  /** The darkest and the lightest of a picture's pixels, where they are known. */
  readonly tones?: readonly [Colour, Colour]
}

type Row = Omit<MediaNamed, "url" | "tones"> & {
  readonly stored: string
  readonly darkest: Colour | null
  readonly lightest: Colour | null
}

const fields = "id, kind, name, stored, type, width, height, darkest, lightest"

/** The latest 300, the newest first. Addresses of videos and files work for a while. */
export async function mediaNames(db: Db, config: Config): Promise<MediaNamed[]> {
  const rows = await db.rows<Row>(`SELECT ${fields} FROM media WHERE kind <> 'handed-in' ORDER BY id DESC LIMIT 300`)
  return rows.map((m) => withUrl(m, config))
}

/** One of them by its number; not what a learner handed in. */
export async function mediaNamed(db: Db, config: Config, id: number): Promise<MediaNamed | undefined> {
  const row = await db.row<Row>(`SELECT ${fields} FROM media WHERE kind <> 'handed-in' AND id = ?`, [id])
  return row && withUrl(row, config)
}

const open: Record<MediaKind, boolean> = { picture: true, video: false, file: false }

const withUrl = ({ stored, darkest, lightest, ...m }: Row, config: Config): MediaNamed => ({
  ...m,
  ...(darkest && lightest ? { tones: [darkest, lightest] as const } : {}),
  url: open[m.kind] ? `/media/${stored}` : mediaLink(config, stored, Date.now()),
})
