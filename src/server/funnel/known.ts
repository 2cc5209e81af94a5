// Somebody becomes known: person, address, consent, and what their journey owes them, in the caller's transaction.

import { addressOf, endOf } from "@/core/funnel/address"
import { consentOf } from "../consent"
import type { Db } from "../db/pool"
import { happen } from "../happen"
import { type FieldAnswers, keepAnswers } from "../person/field"
import { makePerson, searchedText } from "../person/person"
import { type Device, proveDevice } from "../person/session"
import type { Release } from "../releases"
import { sourceOfJourney } from "./journey"

export type NewJoin = {
  readonly canonical: string
  readonly email: string
  readonly name: string
  readonly zone: string
  readonly visitor: Buffer
  /** Whether the mailbox has proved itself. */
  readonly confirmed: boolean
}
export type Consented = NewJoin & {
  readonly wording: string
  readonly page: string
  readonly asked_at: Date
  readonly answers: FieldAnswers
}
/** Makes the person known and keeps their consent. `pressed`: the device on which their mailbox said yes. */
export async function becomeKnown(
  tx: Db,
  release: Release,
  join: Consented,
  ip: string,
  now: number,
  pressed?: Device,
): Promise<number> {
  const { funnel } = release
  const { person, address } = await personOf(tx, join, funnel.id, now)
  if (pressed) await proveDevice(tx, pressed, person)
  await consentOf(tx, address, {
    kind: "given",
    at: new Date(now),
    askedAt: join.asked_at,
    wording: join.wording,
    ip,
    page: join.page,
  })
  await tx.write("UPDATE journey SET person_id = ? WHERE funnel_id = ? AND visitor = ?", [
    person,
    funnel.id,
    join.visitor,
  ])
  await keepAnswers(tx, person, join.answers, now)
  await happen(tx, {
    kind: "joined",
    at: now,
    person,
    funnel: funnel.id,
    words: funnel.name,
    device: join.visitor,
  })
  return person
}
/** The person that this address is, made where there is none. */
export async function personOf(
  tx: Db,
  join: NewJoin,
  funnel: number,
  now: number,
): Promise<{ person: number; address: number }> {
  const at = new Date(now)
  const known = await tx.row<{ id: number; person_id: number }>(
    "SELECT id, person_id FROM address WHERE canonical = ? FOR UPDATE",
    [join.canonical],
  )
  if (known) {
    await tx.write(
      "UPDATE address SET confirmed_at = COALESCE(confirmed_at, ?), suppressed = NULL, suppressed_at = NULL, suppressed_why = NULL WHERE id = ?",
      [at, known.id],
    )
    if (join.name)
      await tx.update("person", known.person_id, { name: join.name, searched: searchedText(join.name, join.email) })
    await tx.update("person", known.person_id, { zone: join.zone })
    return { person: known.person_id, address: known.id }
  }
  return makePerson(tx, { ...join, source: await sourceOfJourney(tx, funnel, join.visitor) }, now)
}
/** Whoever has confirmed for this funnel before is mailed a way in. */
export async function knownHere(tx: Db, canonical: string, release: Release) {
  const known = await tx.row<{ person: number; email: string; name: string }>(
    `SELECT a.person_id AS person, a.email, p.name FROM address a JOIN person p ON p.id = a.person_id
     WHERE a.canonical = ? AND a.suppressed IS NULL AND EXISTS (SELECT 1 FROM admission d WHERE d.person_id = a.person_id AND d.origin = ?)`,
    [canonical, `funnel:${release.funnel.id}`],
  )
  if (!known) return undefined
  const end = endOf(release.funnel)
  return { ...known, leadsTo: end ? addressOf(release.funnel, end) : "/learn" }
}
