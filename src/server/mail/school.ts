// Who the school is, as its e-mails say it.
import type { Db } from "../db/pool"
import type { LetterSchool } from "../port/letter"
import { lookOf } from "../school-view"

/** Undefined before there is a school. */
export async function mailSchool(db: Db): Promise<LetterSchool | undefined> {
  const row = await db.row<Omit<LetterSchool, "look"> & { look: string }>(
    "SELECT name, sender_name, sender_email, postal_address, look, zone FROM school WHERE id = 1",
  )
  return row && { ...row, look: lookOf(row.look) }
}
