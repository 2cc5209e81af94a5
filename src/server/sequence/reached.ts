// Whether an e-mail of a sequence reached somebody, and why not.
import { sequenceMissSays } from "@/core/sequence/miss"
import type { Context } from "../context"
import { personAt, type Reached } from "../mail/reached"
import { withoutSince } from "../mail/unsubscribe"
import { versionById } from "../releases"
import { gone, type Refused } from "../saved"
import { schoolZone } from "../school-view"
import { stepWords } from "./edit"

/** Looks somebody up by any address of theirs. */
export async function reachedBy(s: Context, letter: number, typed: string): Promise<Reached | Refused> {
  const q = await s.db.row<{ id: number; version: number | null }>(
    "SELECT q.id, q.live_version_id AS version FROM sequence_mail m JOIN sequence q ON q.id = m.sequence_id WHERE m.id = ?",
    [letter],
  )
  if (!q) return gone
  const who = await personAt(s.db, typed)
  if ("refused" in who) return who
  const mail = await s.db.row<{ id: number }>(
    "SELECT id FROM mail WHERE person_id = ? AND sequence_mail_id = ? ORDER BY id DESC LIMIT 1",
    [who.id, letter],
  )
  if (mail) return { person: who.id, mail: mail.id, says: [] }
  const runs = await s.db.rows<{ begun: Date; ended: Date | null; why: string | null; step: number | null }>(
    "SELECT begun_at AS begun, ended_at AS ended, ended_why AS why, step FROM enrolment WHERE person_id = ? AND sequence_id = ? ORDER BY run",
    [who.id, q.id],
  )
  const notBegun = await s.db.row<{ at: Date; words: string | null }>(
    "SELECT at, words FROM fact WHERE person_id = ? AND kind = 'sequence-not-begun' AND subject_id = ? ORDER BY at DESC LIMIT 1",
    [who.id, q.id],
  )
  const flow = q.version === null ? null : ((await versionById(s.db, q.version))?.document.flow ?? null)
  const words = flow ? await stepWords(s.db, flow) : {}
  return {
    person: who.id,
    mail: null,
    says: sequenceMissSays(
      {
        flow,
        mail: letter,
        runs: runs.map((r) => ({ ...r, begun: r.begun.getTime(), ended: r.ended?.getTime() ?? null })),
        notBegun: notBegun ? { at: notBegun.at.getTime(), why: notBegun.words?.split(": ").at(-1) ?? "" } : null,
        without: await withoutSince(s.db, who.id, { sequence: q.id }),
        says: (step) => words[step] ?? "",
      },
      await schoolZone(s.db),
    ),
  }
}
