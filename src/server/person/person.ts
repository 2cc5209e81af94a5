// Somebody the school comes to know: by an address, proved or only typed.
import type { Db } from "../db/pool"

export type NewPerson = {
  readonly canonical: string
  readonly email: string
  readonly name: string
  readonly zone: string
  readonly source: string
  /** Whether the mailbox has proved itself. */
  readonly confirmed: boolean
}

export async function makePerson(tx: Db, p: NewPerson, now: number): Promise<{ person: number; address: number }> {
  const at = new Date(now)
  const person = await tx.write(
    "INSERT INTO person (name, email, zone, joined_at, source, searched) VALUES (?, ?, ?, ?, ?, ?)",
    [p.name, p.email, p.zone, at, p.source, searchedText(p.name, p.email)],
  )
  const address = await tx.write(
    "INSERT INTO address (person_id, email, canonical, confirmed_at) VALUES (?, ?, ?, ?)",
    [person.id, p.email, p.canonical, p.confirmed ? at : null],
  )
  return { person: person.id, address: address.id }
}

/** What the people list searches in: folded so that José is found as jose, too. */
export function searchedText(name: string, email: string): string {
  return foldSearch(`${name} ${email}`).slice(0, 300)
}

export function foldSearch(text: string): string {
  return text.normalize("NFKD").replace(/\p{M}/gu, "").toLowerCase().trim()
}
