// Pictures as pages show them, from their rows.
import type { Colour } from "@/core/look/kind"
import type { Picture } from "@/core/page/picture"
import type { Db } from "./db/pool"
import type { Row } from "./db/row"

/** The columns of a picture, for a table that is called `m`. */
export const pictureColumns = "m.stored, m.width, m.height, m.darkest, m.lightest, m.focus_x, m.focus_y"

type Stored = Pick<Row<"media">, "stored" | "width" | "height" | "darkest" | "lightest" | "focus_x" | "focus_y">

/** A row of a join in which there may be none. */
export type PictureRow = Stored | { readonly [K in keyof Stored]: null }

/** Null where there is none, or where it isn't a picture. */
export function pictureOf(m: PictureRow): Picture | null {
  if (m.stored === null || !m.width || !m.height) return null
  return {
    url: `/media/${m.stored}`,
    width: m.width,
    height: m.height,
    ...(m.darkest && m.lightest ? { tones: [m.darkest as Colour, m.lightest as Colour] as const } : {}),
    ...(m.focus_x === 50 && m.focus_y === 50 ? {} : { focus: [m.focus_x, m.focus_y] as const }),
  }
}

/** Pictures by their number. */
export async function picturesOf(db: Db, ids: readonly number[]): Promise<Map<number, Picture>> {
  if (!ids.length) return new Map()
  const rows = await db.rows<Stored & { id: number }>(
    `SELECT m.id, ${pictureColumns} FROM media m WHERE m.kind = 'picture' AND m.id IN (?)`,
    [ids],
  )
  return new Map(
    rows.flatMap((m) => [[m.id, pictureOf(m)] as const]).filter((x): x is [number, Picture] => x[1] !== null),
  )
}
