// Beginning a sequence for somebody.
import type { Again } from "@/core/funnel/effect/kind"
import type { Db } from "../db/pool"
import { happen } from "../happen"
import { endRuns } from "../mail/end"
import { doesWithout } from "../mail/leave"
import { whoIsIn } from "../person/segment"
import { versionById } from "../releases"

export type Beginning = {
  readonly person: number
  readonly sequence: number
  /** In which it was begun; null: in none. */
  readonly funnel: number | null
  readonly at: number
  /** Whether it begins for somebody who has had it before. */
  readonly again: Again
}

/** To be called inside a transaction. What isn't live doesn't begin, nor does it for whoever is at its goal. */
export async function beginSequence(tx: Db, b: Beginning): Promise<void> {
  const q = await tx.row<{ name: string; version: number }>(
    "SELECT name, live_version_id AS version FROM sequence WHERE id = ? AND state <> 'draft' AND live_version_id IS NOT NULL",
    [b.sequence],
  )
  const version = q && (await versionById(tx, q.version))
  if (!q || !version) return
  if (await doesWithout(tx, b.person, { sequence: b.sequence })) return
  const last = await tx.row<{ id: number; run: number; ended: number }>(
    "SELECT id, run, ended_at IS NOT NULL AS ended FROM enrolment WHERE person_id = ? AND sequence_id = ? ORDER BY run DESC LIMIT 1",
    [b.person, b.sequence],
  )
  if (last && (b.again === "no" || (b.again === "ended" && !last.ended))) return
  const { goal, steps } = version.document.flow
  if (goal && (await whoIsIn(tx, goal, [b.person], b.at)).size) {
    await happen(tx, {
      kind: "sequence-not-begun",
      at: b.at,
      person: b.person,
      funnel: b.funnel,
      subject: b.sequence,
      words: `${q.name}: they are at its goal`,
    })
    return
  }
  if (last && !last.ended)
    await endRuns(
      tx,
      [{ enrolment: last.id, person: b.person, sequence: b.sequence, name: q.name }],
      "begun again",
      b.at,
    )
  const made = await tx.write(
    "INSERT IGNORE INTO enrolment (person_id, sequence_id, run, funnel_id, begun_at, step, arrived_at) VALUES (?, ?, ?, ?, ?, ?, ?)",
    [b.person, b.sequence, (last?.run ?? 0) + 1, b.funnel, new Date(b.at), steps[0]?.id ?? null, new Date(b.at)],
  )
  if (!made.affected) return
  await happen(tx, [
    {
      kind: "sequence-begun",
      at: b.at,
      person: b.person,
      funnel: b.funnel,
      subject: b.sequence,
      words: q.name,
    },
  ])
  await tx.around.sequences.takeOn(tx, [made.id], b.at)
}
