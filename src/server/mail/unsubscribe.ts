// Leaving the e-mails, in one click; coming back; and the time zone they come in.

import { knownZone } from "@/core/calendar/zone"
import { words } from "@/core/words/en"
import { consentOf } from "../consent"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { happen } from "../happen"
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

/** What a reader can do without while they take the rest: letters to everybody, or one sequence. */
export type Unwanted = "broadcasts" | { readonly sequence: number }

const unwantedKey = (what: Unwanted) => (what === "broadcasts" ? what : `sequence:${what.sequence}`)

/** Doing without one thing, and wanting it again. */
export async function choose(s: Context, person: number, what: Unwanted, wanted: boolean): Promise<void> {
  const at = await s.clock.now()
  await s.db.transaction(async (tx) => {
    if (wanted) {
      await tx.write("DELETE FROM unwanted WHERE person_id = ? AND what = ?", [person, unwantedKey(what)])
      return
    }
    await tx.insert("unwanted", { person_id: person, what: unwantedKey(what), at: new Date(at) }, "ignore")
    if (what === "broadcasts")
      await tx.write(
        "UPDATE mail SET state = 'cancelled', trouble = 'their reader does without' WHERE person_id = ? AND broadcast_id IS NOT NULL AND state IN ('due', 'held')",
        [person],
      )
    else await endSequence(tx, { person, sequence: what.sequence, why: "left this one", at })
  })
}

export async function hasOptedOut(db: Db, person: number, what: Unwanted): Promise<boolean> {
  return (await withoutSince(db, person, what)) !== null
}

/** Who of these does without something. */
export async function whoOptedOut(db: Db, people: readonly number[], what: Unwanted): Promise<ReadonlySet<number>> {
  const rows = await db.rows<{ person: number }>(
    "SELECT person_id AS person FROM unwanted WHERE person_id IN (?) AND what = ?",
    [people, unwantedKey(what)],
  )
  return new Set(rows.map((r) => r.person))
}

/** Since when (ms) somebody does without something; null: they don't. */
export async function withoutSince(db: Db, person: number, what: Unwanted): Promise<number | null> {
  const row = await db.row<{ at: Date }>("SELECT at FROM unwanted WHERE person_id = ? AND what = ?", [
    person,
    unwantedKey(what),
  ])
  return row?.at.getTime() ?? null
}

/** The mail whose link somebody came by, where it is one of theirs, and the sequence it is of. */
export async function cameBy(
  db: Db,
  person: number,
  mail: number,
): Promise<
  { readonly mail: number; readonly sequence: { readonly id: number; readonly name: string } | null } | undefined
> {
  const row = await db.row<{ id: number | null; name: string | null }>(
    "SELECT q.id, q.name FROM mail m LEFT JOIN enrolment n ON n.id = m.enrolment_id LEFT JOIN sequence q ON q.id = n.sequence_id WHERE m.id = ? AND m.person_id = ?",
    [mail, person],
  )
  return row && { mail, sequence: row.id === null ? null : { id: row.id, name: row.name ?? "" } }
}

/** Leaving twice is leaving once. `mail`: the one whose link was followed. */
export async function leaveMails(
  s: Context,
  address: number,
  from: { ip: string; how: string; mail?: number },
): Promise<void> {
  const at = await s.clock.now()
  await s.db.transaction(async (tx) => {
    const left = await tx.write(
      "UPDATE address SET suppressed = 'left', suppressed_at = ? WHERE id = ? AND suppressed IS NULL",
      [new Date(at), address],
    )
    const who = await receiver(tx, address)
    if (!left.affected || !who) return
    await consentOf(tx, address, {
      kind: "withdrawn",
      at: new Date(at),
      wording: words.leave.button,
      ip: from.ip,
      page: from.how,
    })
    await endSequence(tx, { person: who.person, sequence: null, why: "left", at })
    await tx.write(
      "UPDATE mail SET state = 'cancelled', trouble = 'its reader has left' WHERE person_id = ? AND to_email = ? AND broadcast_id IS NOT NULL AND state IN ('due', 'held')",
      [who.person, who.email],
    )
    if (from.mail)
      await tx.write("UPDATE mail SET left_at = ? WHERE id = ? AND person_id = ? AND left_at IS NULL", [
        new Date(at),
        from.mail,
        who.person,
      ])
    await happen(tx, [{ kind: "left-mail", at, person: who.person, words: from.how }])
  })
}

/** A change of mind, by the same link: the sequences that leaving ended go on where they stood. */
export async function returnToMails(s: Context, address: number, from: { ip: string }): Promise<void> {
  const at = await s.clock.now()
  await s.db.transaction(async (tx) => {
    const back = await tx.write(
      "UPDATE address SET suppressed = NULL, suppressed_at = NULL WHERE id = ? AND suppressed = 'left'",
      [address],
    )
    const who = await receiver(tx, address)
    if (!back.affected || !who) return
    await consentOf(tx, address, {
      kind: "given",
      at: new Date(at),
      wording: words.leave.backButton,
      ip: from.ip,
      page: "/mails",
    })
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

export async function changeZone(s: Context, address: number, zone: string): Promise<boolean> {
  const who = await receiver(s.db, address)
  if (!who || knownZone(zone, "") === "") return false
  const at = await s.clock.now()
  await s.db.transaction(async (tx) => {
    const old = await tx.row<{ zone: string }>("SELECT zone FROM person WHERE id = ? FOR UPDATE", [who.person])
    if (!old || old.zone === zone) return
    await tx.update("person", who.person, { zone })
    await happen(tx, [{ kind: "zone-changed", at, person: who.person, words: zone }])
  })
  return true
}
