// A link in a mail: recorded, and led on to where the release says. The address is never in the link, so it can be led
// nowhere else.

import { happen } from "../happen"
import type { DueMail } from "../port/letter"
import { verify } from "../sign"
import type { Surroundings } from "../surroundings"
import { linkTarget, sequenceOf } from "./letter/sequence"

/** Where a signed link leads, or null where it isn't one of ours or leads nowhere any more. */
export async function followLink(s: Surroundings, token: string): Promise<string | null> {
  const [id, n] = (verify(s.config.secret, "click", token) ?? "").split("-").map(Number)
  if (!id || n === undefined || Number.isNaN(n)) return null
  const mail = await s.db.row<DueMail>(
    `SELECT m.id, m.kind, m.person_id, m.funnel_id, m.sequence_mail_id, n.release_id, f.live_release_id
     FROM mail m LEFT JOIN enrolment n ON n.id = m.enrolment_id LEFT JOIN funnel f ON f.id = m.funnel_id WHERE m.id = ?`,
    [id],
  )
  const found = mail && (await sequenceOf(s.db, mail))
  const target = found && linkTarget(found.funnel, found.mail, n)
  if (!mail || !target) return null
  await happen(s.db, [
    {
      kind: "clicked",
      at: await s.clock.now(),
      once: `clicked:${id}:${n}`,
      person: mail.person_id,
      funnel: mail.funnel_id,
      subject: id,
      words: target,
    },
  ])
  return target
}
