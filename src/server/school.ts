// The school's own settings.
import * as v from "valibot"
import { knownZone } from "@/core/mail/schedule"
import { isLook } from "@/core/page/style"
import { parseAddress } from "@/core/person/address"
import type { Surroundings } from "./surroundings"

const oneLine = (most: number) =>
  v.pipe(
    v.string(),
    v.trim(),
    v.maxLength(most, `Keep it to ${most} characters.`),
    v.check((t) => !/\p{Cc}/u.test(t), "One line, please."),
  )

const input = v.object({
  name: v.pipe(oneLine(120), v.nonEmpty("The school needs a name.")),
  senderName: oneLine(120),
  senderEmail: v.pipe(
    oneLine(254),
    v.check((e) => e === "" || parseAddress(e) !== null, "That doesn't look like an e-mail address."),
  ),
  postalAddress: oneLine(400),
  zone: v.pipe(
    v.string(),
    v.check((z) => knownZone(z, "") !== "", "This time zone isn't known here."),
  ),
  look: v.pipe(v.string(), v.check(isLook, "Choose one of the looks.")),
})

export async function saveSchool(s: Surroundings, typed: unknown): Promise<{ refused: string; field?: string } | null> {
  const read = v.safeParse(input, typed)
  if (!read.success) {
    const issue = read.issues[0]
    return { refused: issue.message, field: v.getDotPath(issue) ?? undefined }
  }
  const f = read.output
  await s.db.write(
    "UPDATE school SET name = ?, sender_name = ?, sender_email = ?, postal_address = ?, zone = ?, look = ? WHERE id = 1",
    [f.name, f.senderName, f.senderEmail, f.postalAddress, f.zone, f.look],
  )
  return null
}
