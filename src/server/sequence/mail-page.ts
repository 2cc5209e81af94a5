// The page of an e-mail of a sequence as it is written.
import { isDeepStrictEqual } from "node:util"
import { mailPage } from "@/core/mail/page"
import { refusals } from "@/core/words/refusals"
import type { Context } from "../context"
import type { Row } from "../db/row"
import { mailColumns, readTypedMail } from "../mail/page"
import { type PageSaved, reconcilePage } from "../page/save"
import { keepVersion } from "../page/version"
import { referSequence } from "./store"

/** Saves it as typed, merged with what another window has made of it since `revision`. Readers get it once the sequence is put live. */
export async function saveSequenceMailPage(
  s: Context,
  mail: number,
  revision: number,
  document: unknown,
  base?: unknown,
): Promise<PageSaved> {
  const typed = readTypedMail(document, base)
  if ("refused" in typed) return typed
  const at = await s.clock.now()
  return s.db.transaction(async (tx): Promise<PageSaved> => {
    const row = await tx.row<Row<"sequence_mail">>("SELECT * FROM sequence_mail WHERE id = ? FOR UPDATE", [mail])
    if (!row) return { refused: refusals.gone.thing }
    const stored = mailPage(row)
    const both = reconcilePage(typed, revision, stored, row.revision)
    if (!("write" in both)) return both
    const next = isDeepStrictEqual(stored, both.write) ? row.revision : row.revision + 1
    await tx.update("sequence_mail", mail, { ...(await mailColumns(tx, both.write)), revision: next })
    await keepVersion(tx, { mail }, { before: stored, after: both.write, at, actor: s.actor })
    await referSequence(tx, row.sequence_id)
    return both.write === typed.page ? { revision: next } : { revision: next, page: both.write }
  })
}
