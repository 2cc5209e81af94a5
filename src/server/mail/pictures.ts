// The pictures of an e-mail, as its reader's program fetches them.
import { type PictureFile, picturesOf } from "@/core/mail/body"
import type { Db } from "../db/pool"
import { asJpeg } from "../media/store"

/** By their number; asked for only where a body has some. */
export async function pictureFiles(db: Db, origin: string, body: string): Promise<ReadonlyMap<number, PictureFile>> {
  const pictures = picturesOf(body)
  if (!pictures.length) return new Map()
  const rows = await db.rows<{ id: number; stored: string; width: number; height: number }>(
    "SELECT id, stored, width, height FROM media WHERE kind = 'picture' AND id IN (?)",
    [pictures.map((p) => p.media)],
  )
  return new Map(
    rows.map((r) => [r.id, { url: `${origin}/media/${asJpeg(r.stored)}`, width: r.width, height: r.height }]),
  )
}
