// Effects as they are stored, with the names of what they are about.
import type { Action } from "@/core/sequence/effect/list"
import { type EffectKind, readDeed, refsOfDeed } from "@/core/sequence/effect/list"
import type { Db } from "../../db/pool"
import { namesOf } from "../../names"

export type ActionRow = { readonly id: number; readonly kind: EffectKind; readonly settings: string }

/** One about something that is gone is gone with it. */
export async function named(db: Db, rows: readonly ActionRow[]): Promise<Action[]> {
  const deeds = rows.map((r) => ({ id: r.id, kind: r.kind, settings: readDeed(r.kind, JSON.parse(r.settings)) }))
  const about = deeds.map((d) => refsOfDeed(d)[0])
  const name = await namesOf(
    db,
    about.filter((r) => r !== undefined),
  )
  return deeds.flatMap((d, i): Action[] => {
    const ref = about[i]
    const called = ref ? name(ref.to, ref.id) : ""
    return called === null ? [] : [{ ...d, name: called }]
  })
}
