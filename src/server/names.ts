// What things are called now, by what refers to them.
import type { NameOf } from "@/core/person/segment/kind"
import type { Ref, Referred } from "@/core/reference"
import type { Db } from "./db/pool"

const column: Readonly<Record<Referred, string>> = {
  offer: "public_name",
  course: "title",
  lesson: "title",
  tag: "name",
  sequence: "name",
  step: "name",
  media: "name",
  field: "label",
  choice: "says",
  webinar: "name",
  segment: "name",
  teacher: "name",
  kept_section: "name",
}

/** Names of everything that these refer to; null of what is no longer there. */
export async function namesOf(db: Db, refs: readonly Pick<Ref, "to" | "id">[]): Promise<NameOf> {
  const names = new Map<string, string>()
  for (const to of new Set(refs.map((r) => r.to))) {
    const ids = refs.filter((r) => r.to === to).map((r) => r.id)
    const rows = await db.rows<{ id: number; name: string }>(
      `SELECT id, ${column[to]} AS name FROM \`${to}\` WHERE id IN (?)`,
      [ids],
    )
    for (const r of rows) names.set(`${to}:${r.id}`, r.name)
  }
  return (to, id) => names.get(`${to}:${id}`) ?? null
}
