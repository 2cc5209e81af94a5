// Leaving the e-mails, in one click; coming back; and the time zone they come in.
import { knownZone } from "@/core/mail/schedule"
import { words } from "@/core/words/en"
import type { Db } from "../db/pool"
import { happen } from "../happen"
import type { Surroundings } from "../surroundings"
import { endSequence } from "./end"

export type Receiver = {
  readonly person: number
  readonly email: string
  readonly receives: boolean
  readonly zone: string
}

export async function receiver(db: Db, address: number): Promise<Receiver | undefined> {
  const found = await db.row<{ person: number; email: string; suppressed: string | null; zone: string }>(
    "SELECT a.person_id AS person, a.email, a.suppressed, p.zone FROM address a JOIN person p ON p.id = a.person_id WHERE a.id = ?",
    [address],
  )
  return found && { person: found.person, email: found.email, receives: found.suppressed === null, zone: found.zone }
}

/** Leaving twice is leaving once. */
export async function leaveMails(s: Surroundings, address: number, from: { ip: string; how: string }): Promise<void> {
  const at = await s.clock.now()
  await s.db.transaction(async (tx) => {
    const left = await tx.write(
      "UPDATE address SET suppressed = 'left', suppressed_at = ? WHERE id = ? AND suppressed IS NULL",
      [new Date(at), address],
    )
    const who = await receiver(tx, address)
    if (!left.affected || !who) return
    await tx.write(
      "INSERT INTO consent (address_id, kind, at, wording, ip, page) VALUES (?, 'withdrawn', ?, ?, ?, ?)",
      [address, new Date(at), words.leave.button, from.ip, from.how],
    )
    await endSequence(tx, { person: who.person, sequence: null, why: "left", at })
    await happen(tx, [{ kind: "left-mail", at, person: who.person, words: from.how }])
  })
}

/** A change of mind, by the same link: the sequences that leaving ended go on where they stood. */
export async function returnToMails(s: Surroundings, address: number, from: { ip: string }): Promise<void> {
  const at = await s.clock.now()
  await s.db.transaction(async (tx) => {
    const back = await tx.write(
      "UPDATE address SET suppressed = NULL, suppressed_at = NULL WHERE id = ? AND suppressed = 'left'",
      [address],
    )
    const who = await receiver(tx, address)
    if (!back.affected || !who) return
    await tx.write(
      "INSERT INTO consent (address_id, kind, at, wording, ip, page) VALUES (?, 'given', ?, ?, ?, '/mails')",
      [address, new Date(at), words.leave.backButton, from.ip],
    )
    const ended = await tx.rows<{ id: number }>(
      "SELECT id FROM enrolment WHERE person_id = ? AND ended_why = 'left' FOR UPDATE",
      [who.person],
    )
    for (const e of ended) {
      const mails = await tx.write(
        "UPDATE mail SET state = 'due', due_at = GREATEST(due_at, ?), trouble = NULL WHERE enrolment_id = ? AND state = 'cancelled'",
        [new Date(at), e.id],
      )
      // Without an e-mail that was to come they waited at a step: they are looked at again.
      await tx.write(
        "UPDATE enrolment SET ended_at = NULL, ended_why = NULL, listens = 1, due_at = IF(step IS NULL OR ?, NULL, ?) WHERE id = ?",
        [mails.affected, new Date(at), e.id],
      )
    }
    await happen(tx, [{ kind: "returned-to-mail", at, person: who.person }])
  })
}

export async function changeZone(s: Surroundings, address: number, zone: string): Promise<boolean> {
  const who = await receiver(s.db, address)
  if (!who || knownZone(zone, "") === "") return false
  const at = await s.clock.now()
  await s.db.transaction(async (tx) => {
    const old = await tx.row<{ zone: string }>("SELECT zone FROM person WHERE id = ? FOR UPDATE", [who.person])
    if (!old || old.zone === zone) return
    await tx.write("UPDATE person SET zone = ? WHERE id = ?", [zone, who.person])
    await happen(tx, [{ kind: "zone-changed", at, person: who.person, words: zone }])
  })
  return true
}
