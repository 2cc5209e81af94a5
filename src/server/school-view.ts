// What screens say of the school itself.

import { isLook, type Look } from "@/core/look"
import type { Db } from "./db/pool"
import type { Row } from "./db/row"

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

/** The look of its pages. */
export async function schoolLook(db: Db): Promise<Look> {
  const row = await schoolRow(db)
  return row && isLook(row.look) ? row.look : "harvest"
}
