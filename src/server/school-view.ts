// What screens say of the school itself.
import { isLook, type Look } from "@/core/look"
import type { Db } from "./db/pool"

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
  const row = await db.row<{ look: string }>("SELECT look FROM school WHERE id = 1")
  return row && isLook(row.look) ? row.look : "harvest"
}
