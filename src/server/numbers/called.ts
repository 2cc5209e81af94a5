// Sources that are counted under another name than links say: one that was misspelt, two that are one.
import * as v from "valibot"
import { codeOfSource, tidySource } from "@/core/source"
import { refusals } from "@/core/words/refusals"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { ok, refusal, type Saved } from "../saved"

/** The names under which sources are counted, by what links say. */
export async function calledSources(db: Db): Promise<ReadonlyMap<string, string>> {
  const rows = await db.rows<{ source: string; called: string }>(
    "SELECT source, called FROM source_called ORDER BY source",
  )
  return new Map(rows.map((r) => [r.source, r.called]))
}

const name = v.pipe(v.string(), v.transform(tidySource), v.nonEmpty(refusals.cost.source))
const renaming = v.object({ source: name, called: name })

/**
 * Counts a source under another name from now on and for all the time before, its costs too; under its own again where that is typed.
 * What was counted under it goes along. Affiliates keep the name that they have.
 */
export async function callSource(s: Context, typed: unknown): Promise<Saved> {
  const read = v.safeParse(renaming, typed)
  if (!read.success) return refusal(read.issues)
  const { source, called } = read.output
  if (codeOfSource(source) !== null || codeOfSource(called) !== null)
    return { refused: refusals.cost.affiliate, field: "source" }
  return s.db.transaction(async (tx) => {
    if (source === called) {
      await tx.write("DELETE FROM source_called WHERE source = ?", [source])
      return ok
    }
    const further = await tx.row<{ called: string }>("SELECT called FROM source_called WHERE source = ?", [called])
    const to = further?.called ?? called
    if (to === source) await tx.write("DELETE FROM source_called WHERE source = ?", [called])
    const under = to === source ? called : to
    await tx.write(
      "INSERT INTO source_called (source, called) VALUES (?, ?) ON DUPLICATE KEY UPDATE called = VALUES(called)",
      [source, under],
    )
    await tx.write("UPDATE source_called SET called = ? WHERE called = ? AND source <> ?", [under, source, under])
    await tx.write("DELETE FROM source_called WHERE source = called")
    return ok
  })
}
