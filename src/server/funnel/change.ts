// A change to a funnel's draft: read under lock, changed as a value, stored by the one writer.
import type { Funnel } from "@/core/funnel/draft"
import { undo as takenBack } from "@/core/funnel/edit"
import { keepStructure, readStructure } from "@/core/funnel/read"
import { actorText } from "@/core/person/actor"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { gone, ok, type Refused, type Saved } from "../saved"
import { loadFunnel } from "./load"
import { type StoredFunnel, storeFunnel } from "./store"

/** What a change makes of the draft, or why it can't be made; null: what it was about is gone. */
export type Changed = Funnel | Refused | null

/** Reads the draft of a funnel, holding its row until the transaction ends. */
export async function lockedDraft(tx: Db, funnel: number): Promise<Funnel | undefined> {
  await tx.row("SELECT id FROM funnel WHERE id = ? FOR UPDATE", [funnel])
  return loadFunnel(tx, funnel)
}

export type Change = {
  /** The funnel, or one of its parts. */
  readonly of: { readonly funnel: number } | { readonly step: number } | { readonly effect: number }
  /** What the change is, in words, where it is one of structure that can be taken back. */
  readonly says?: (draft: Funnel) => string
  change(draft: Funnel, tx: Db): Changed | Promise<Changed>
}

/** Changes a draft; gives what numbers new things were given. */
export async function changeDraft(s: Context, c: Change): Promise<StoredFunnel | Refused> {
  const at = await s.clock.now()
  return s.db.transaction(async (tx): Promise<StoredFunnel | Refused> => {
    const draft = await funnelOf(tx, c.of)
    if (!draft) return gone
    const changed = await c.change(draft, tx)
    if (changed === null) return gone
    if ("refused" in changed) return changed
    if (c.says && changed !== draft) await keepBefore(tx, s, draft, c.says(draft), at)
    return storeFunnel(tx, draft, changed, at)
  })
}

/** The same, where nothing new is given a number. */
export async function change(s: Context, c: Change): Promise<Saved> {
  const done = await changeDraft(s, c)
  return "refused" in done ? done : ok
}

async function funnelOf(tx: Db, of: Change["of"]): Promise<Funnel | undefined> {
  if ("funnel" in of) return lockedDraft(tx, of.funnel)
  const [sql, id] =
    "step" in of
      ? ["SELECT funnel_id AS id FROM step WHERE id = ?", of.step]
      : ["SELECT s.funnel_id AS id FROM effect e JOIN step s ON s.id = e.step_id WHERE e.id = ?", of.effect]
  const found = await tx.row<{ id: number }>(sql, [id])
  return found && lockedDraft(tx, found.id)
}

async function keepBefore(tx: Db, s: Context, draft: Funnel, what: string, at: number): Promise<void> {
  await tx.insert("funnel_before", {
    funnel_id: draft.id,
    at: new Date(at),
    what: what.slice(0, 200),
    structure: JSON.stringify(keepStructure(draft)),
    actor: actorText(s.actor),
  })
}

/** `who`: the name of the account that made it, where one did. */
export type LastChange = { readonly id: number; readonly at: Date; readonly what: string; readonly who: string | null }

/** What can be taken back, the latest first; at most 20. */
export function changesOf(db: Db, funnel: number): Promise<LastChange[]> {
  return db.rows<LastChange>(
    "SELECT b.id, b.at, b.what, a.name AS who FROM funnel_before b LEFT JOIN account a ON b.actor = CONCAT('account:', a.id) WHERE b.funnel_id = ? ORDER BY b.id DESC LIMIT 20",
    [funnel],
  )
}

/**
 * Takes the structure back to before a change, and with it every change since. Pages and names that were edited stay as
 * they are now; a step that was removed comes back with the page it had.
 */
export async function undo(s: Context, funnel: number, to: number): Promise<Saved> {
  const at = await s.clock.now()
  return s.db.transaction(async (tx): Promise<Saved> => {
    const draft = await lockedDraft(tx, funnel)
    const kept = await tx.row<{ structure: string }>(
      "SELECT structure FROM funnel_before WHERE id = ? AND funnel_id = ?",
      [to, funnel],
    )
    if (!draft || !kept) return gone
    await tx.write("DELETE FROM funnel_before WHERE funnel_id = ? AND id >= ?", [funnel, to])
    const structure = readStructure(JSON.parse(kept.structure))
    await storeFunnel(tx, draft, takenBack(draft, structure), at)
    // E-mails whose button led to a step that has come back lead there again.
    for (const { mail, step } of structure.mailsTo)
      await tx.write(
        "UPDATE sequence_mail SET step_id = ? WHERE id = ? AND step_id IS NULL AND lesson_id IS NULL AND EXISTS (SELECT 1 FROM step WHERE id = ?)",
        [step, mail, step],
      )
    return ok
  })
}
