// What the school wears: chosen in Settings, worn by everything that visitors and learners see.
import { isDeepStrictEqual } from "node:util"
import * as v from "valibot"
import { readWorn, type Worn, wear, wornSchema } from "@/core/look/look"
import { actorText } from "@/core/person/actor"
import { refusals } from "@/core/words/refusals"
import type { Context } from "./context"
import type { Db } from "./db/pool"
import type { Refused } from "./saved"
import { logoOf, schoolRow } from "./school-view"

export async function readLook(db: Db): Promise<Worn> {
  return readWorn((await schoolRow(db))?.look ?? "")
}

/** What was worn before, the latest first, at most twenty. */
export async function wornBefore(db: Db): Promise<{ readonly at: number; readonly worn: Worn }[]> {
  const rows = await db.rows<{ at: Date; look: string }>("SELECT at, look FROM worn ORDER BY id DESC LIMIT 20")
  return rows.map((r) => ({ at: r.at.getTime(), worn: readWorn(r.look) }))
}

/**
 * Learning area, e-mails and small pages wear it from now on; published pages when they are put out again (`wearEverywhere`). Colours on
 * which nothing can be read are refused; those that can be mended are, wherever they are worn. `base`: what whoever chose had before them.
 */
export async function saveLook(s: Context, typed: unknown, base?: unknown): Promise<{ readonly worn: Worn } | Refused> {
  const read = v.safeParse(wornSchema, typed)
  if (!read.success) return { refused: refusals.school.look, field: v.getDotPath(read.issues[0]) ?? undefined }
  const worn = read.output
  const hopeless = wear(worn).mended.find((m) => m.now === null)
  if (hopeless) return { refused: refusals.school.unreadable, field: hopeless.what }
  const at = new Date(await s.clock.now())
  return s.db.transaction(async (tx) => {
    await tx.row("SELECT id FROM school WHERE id = 1 FOR UPDATE")
    const now = await readLook(tx)
    if (base !== undefined && !isDeepStrictEqual(now, base)) return { refused: refusals.school.wornMeanwhile }
    if (worn.logo !== null && !(await logoOf(tx, worn.logo))) return { refused: refusals.school.logo, field: "logo" }
    if (!isDeepStrictEqual(now, worn)) {
      await tx.insert("worn", { at, look: JSON.stringify(now), actor: actorText(s.actor) })
      await tx.write("UPDATE school SET look = ?, revision = revision + 1 WHERE id = 1", [JSON.stringify(worn)])
    }
    return { worn }
  })
}
