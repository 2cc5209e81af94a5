// What the school knows of its people besides: where they ferment, and how many jars they have. Two of five have answered.

import type { Context } from "@/server/context"
import { listFields, newField, saveChoices } from "@/server/person/field"

/** Gives the choice that a segment asks for. */
export async function makeFields(s: Context): Promise<{ readonly field: number; readonly choice: number }> {
  const make = async (label: string, kind: string) => {
    const made = await newField(s, { label, kind })
    if ("refused" in made) throw new Error(made.refused)
    return made.id
  }
  const place = await make("Where do you ferment?", "choice")
  const jars = await make("Jars at home", "number")
  const says = ["On the kitchen counter", "In a cellar", "On the balcony", "Nowhere yet"]
  await saveChoices(
    s,
    place,
    says.map((x) => ({ id: null, says: x })),
  )
  const { choices } = (await listFields(s.db)).find((f) => f.id === place)!
  const die = (what: string) => `CRC32(CONCAT('${what}', p.id))`
  await s.db.write(
    `INSERT INTO person_field (person_id, field_id, value, folded, number, at)
     SELECT p.id, ?, x.v, x.v, x.v, p.joined_at FROM (SELECT p.id, p.joined_at, ELT(1 + ${die("place")} MOD 7 MOD 4, ?, ?, ?, ?) AS v FROM person p WHERE ${die("asked")} MOD 5 < 2) x JOIN person p ON p.id = x.id`,
    [place, ...choices.map((c) => String(c.id))],
  )
  await s.db.write(
    `INSERT INTO person_field (person_id, field_id, value, folded, number, at)
     SELECT p.id, ?, 1 + ${die("jars")} MOD 14, 1 + ${die("jars")} MOD 14, 1 + ${die("jars")} MOD 14, p.joined_at FROM person p WHERE ${die("asked")} MOD 5 < 2`,
    [jars],
  )
  return { field: place, choice: choices[1]!.id }
}
