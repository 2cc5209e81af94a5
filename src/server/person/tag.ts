// Tags on people: put on and taken off, each time a happening.
import type { Db } from "../db/pool"
import { happen } from "../happen"

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
