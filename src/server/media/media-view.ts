// Pictures, videos and files as they are chosen from in the studio.
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
}

/** The latest 300, the newest first. Addresses of videos and files work for a while. */
export async function mediaNames(db: Db, config: Config): Promise<MediaNamed[]> {
  const rows = await db.rows<Omit<MediaNamed, "url"> & { stored: string }>(
    "SELECT id, kind, name, stored, type, width, height FROM media WHERE kind <> 'handed-in' ORDER BY id DESC LIMIT 300",
  )
  const open: Record<MediaKind, boolean> = { picture: true, video: false, file: false }
  return rows.map(({ stored, ...m }) => ({
    ...m,
    url: open[m.kind] ? `/media/${stored}` : mediaLink(config, stored, Date.now()),
  }))
}
