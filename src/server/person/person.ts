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
  const person = await tx.insert("person", {
    name: p.name,
    email: p.email,
    zone: p.zone,
    joined_at: at,
    source: p.source,
    searched: searchedText(p.name, p.email),
  })
  const address = await tx.insert("address", {
    person_id: person.id,
    email: p.email,
    canonical: p.canonical,
    confirmed_at: p.confirmed ? at : null,
  })
  return { person: person.id, address: address.id }
}

/** Makes many at once; gives the number of each by its address as typed. To be called inside a transaction. */
export async function makePeople(
  tx: Db,
  people: readonly NewPerson[],
  now: number,
): Promise<ReadonlyMap<string, number>> {
  if (!people.length) return new Map()
  const at = new Date(now)
  const made = await tx.insert(
    "person",
    people.map((p) => ({
      name: p.name,
      email: p.email,
      zone: p.zone,
      joined_at: at,
      source: p.source,
      searched: searchedText(p.name, p.email),
    })),
  )
  // The numbers of one statement begin with its first, and mostly follow one another; where another's stand between them, they
  // are looked up by the addresses.
  type Row = { readonly id: number; readonly email: string }
  const next = await tx.rows<Row>("SELECT id, email FROM person WHERE id >= ? ORDER BY id LIMIT ?", [
    made.id,
    people.length,
  ])
  const rows = next.every((r, i) => r.email === people[i]!.email)
    ? next
    : await tx.rows<Row>("SELECT id, email FROM person WHERE id >= ? AND email IN (?)", [
        made.id,
        people.map((p) => p.email),
      ])
  const ids = new Map(rows.map((r) => [r.email, r.id]))
  await tx.insert(
    "address",
    people.map((p) => ({
      person_id: ids.get(p.email)!,
      email: p.email,
      canonical: p.canonical,
      confirmed_at: p.confirmed ? at : null,
    })),
  )
  return ids
}

/** What the people list searches in: folded so that José is found as jose, too. */
export function searchedText(name: string, email: string): string {
  return foldSearch(`${name} ${email}`).slice(0, 300)
}

export function foldSearch(text: string): string {
  return text.normalize("NFKD").replace(/\p{M}/gu, "").toLowerCase().trim()
}
