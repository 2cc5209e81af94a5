// What screens say of the school itself.

import { type Look, readWorn, wear } from "@/core/look/look"
import type { Picture } from "@/core/page/picture"
import type { Db } from "./db/pool"
import type { Row } from "./db/row"
import { picturesOf } from "./pictures"

/** Its row, read anew each time; undefined before it is opened. */
export const schoolRow = (db: Db) => db.row<Row<"school">>("SELECT * FROM school WHERE id = 1")

export type SchoolHead = { readonly name: string; readonly postalAddress: string; readonly zone: string }

/** Its name, its address by post and its time zone; empty and UTC before it is opened. */
export async function schoolHead(db: Db): Promise<SchoolHead> {
  const row = await db.row<SchoolHead>("SELECT name, postal_address AS postalAddress, zone FROM school WHERE id = 1")
  return row ?? { name: "", postalAddress: "", zone: "UTC" }
}

/** The time zone in which the studio's days begin and end. */
export async function schoolZone(db: Db): Promise<string> {
  return (await schoolHead(db)).zone
}

/** What is kept of what it wears, as pages are made in it. */
export function lookOf(kept = ""): Look {
  if (latest?.kept !== kept) latest = { kept, look: wear(readWorn(kept)) }
  return latest.look
}

/** Worked out once for what every screen asks: colours of one's own take some milliseconds to mend. */
let latest: { readonly kept: string; readonly look: Look } | undefined

/** Its logo; null: it has none, and goes by its name. */
export async function schoolLogo(db: Db): Promise<Picture | null> {
  return logoOf(db, readWorn((await schoolRow(db))?.look ?? "").logo)
}

/** A picture as a logo; null where there is none of this number. */
export async function logoOf(db: Db, media: number | null): Promise<Picture | null> {
  return media ? ((await picturesOf(db, [media])).get(media) ?? null) : null
}

/** The look of its pages. */
export async function schoolLook(db: Db): Promise<Look> {
  return lookOf((await schoolRow(db))?.look)
}
