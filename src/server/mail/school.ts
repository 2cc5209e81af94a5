// Who the school is, as its e-mails say it.
import type { Letter } from "@/core/mail/compose"
import { mailLogoOf } from "@/core/page/picture"
import type { Config } from "../config"
import type { Db } from "../db/pool"
import type { LetterSchool } from "../port/letter"
import { lookOf, schoolLogo } from "../school-view"

/** Undefined before there is a school. */
export async function mailSchool(db: Db): Promise<LetterSchool | undefined> {
  const row = await db.row<Omit<LetterSchool, "look" | "logo"> & { look: string }>(
    "SELECT name, sender_name, sender_email, postal_address, look, zone FROM school WHERE id = 1",
  )
  return row && { ...row, look: lookOf(row.look), logo: await schoolLogo(db) }
}

/** What stands around each of its e-mails. */
export const footOf = (school: LetterSchool, config: Config, leave: Letter["foot"]["leave"]): Letter["foot"] => ({
  school: school.name,
  postalAddress: school.postal_address,
  look: school.look,
  logo: school.logo && { ...school.logo, url: config.origin + mailLogoOf(school.logo.url) },
  leave,
})
