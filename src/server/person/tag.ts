// Tags on people: put on and taken off, each time a happening.
import type { Db } from "../db/pool"
import { happen } from "../happen"
import type { Surroundings } from "../surroundings"
import { countsBy } from "../tally"

export type Tagging = { readonly person: number; readonly tag: number; readonly at: number; readonly name: string }

/** To be called inside a transaction. */
export async function putTagOn(tx: Db, t: Tagging): Promise<void> {
  const on = await tx.write(
    "INSERT IGNORE INTO person_tag (person_id, tag_id, at, joined_at) SELECT p.id, t.id, ?, p.joined_at FROM person p, tag t WHERE p.id = ? AND t.id = ?",
    [new Date(t.at), t.person, t.tag],
  )
  if (on.affected) await happen(tx, { kind: "tagged", at: t.at, person: t.person, subject: t.tag, words: t.name })
}

/** To be called inside a transaction. */
export async function takeTagOff(tx: Db, t: Tagging): Promise<void> {
  const off = await tx.write("DELETE FROM person_tag WHERE person_id = ? AND tag_id = ?", [t.person, t.tag])
  if (off.affected) await happen(tx, { kind: "untagged", at: t.at, person: t.person, subject: t.tag, words: t.name })
}

export type TagListed = { readonly id: number; readonly name: string; readonly people: number }

/** By name; at most 500. */
export async function listTags(db: Db): Promise<TagListed[]> {
  const counts = await countsBy(db, "tagged")
  const tags = await db.rows<{ id: number; name: string }>("SELECT id, name FROM tag ORDER BY name LIMIT 500")
  return tags.map((t) => ({ ...t, people: counts.get(t.id) ?? 0 }))
}

/** Takes a tag off everybody, and away with every effect that puts it on or off in a draft. What is published stays. */
export async function removeTag(s: Surroundings, tag: number): Promise<void> {
  await s.db.transaction(async (tx) => {
    await tx.write("DELETE e FROM effect e JOIN reference r ON r.effect_id = e.id WHERE r.tag_id = ?", [tag])
    // Rows that a foreign key deletes fire no trigger: the people are counted.
    await tx.write("DELETE FROM person_tag WHERE tag_id = ?", [tag])
    await tx.write("DELETE FROM tag WHERE id = ?", [tag])
  }, 60_000)
}
