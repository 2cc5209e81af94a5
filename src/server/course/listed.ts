// Courses as a catalogue lists them.
import type { ListedCourse } from "@/core/page/cards"
import type { Db } from "../db/pool"
import { type PictureRow, pictureColumns, pictureOf } from "../pictures"

export async function listedCourses(db: Db): Promise<Record<number, ListedCourse>> {
  const rows = await db.rows<PictureRow & { id: number; title: string; promise: string; takes: 0 | 1 }>(
    `SELECT c.id, c.title, c.promise, c.state IN ('live', 'announced') AND c.signing_up AS takes, ${pictureColumns}
     FROM course c LEFT JOIN media m ON m.id = c.picture_id ORDER BY c.id LIMIT 2000`,
  )
  return Object.fromEntries(
    rows.map((r) => [r.id, { title: r.title, about: r.promise, picture: pictureOf(r), takes: Boolean(r.takes) }]),
  )
}
