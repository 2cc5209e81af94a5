// Beginning a sequence for somebody, or for many at once.
import type { Again } from "@/core/sequence/effect/kind"
import type { Db } from "../db/pool"
import { happen } from "../happen"
import { endRuns } from "../mail/end"
import { whoOptedOut } from "../mail/unsubscribe"
import { whoIsIn } from "../person/segment"
import { versionById } from "../releases"

export type Beginning = {
  readonly people: readonly number[]
  readonly sequence: number
  /** In which it was begun; null: in none. */
  readonly funnel: number | null
  readonly at: number
  /** Whether it begins for somebody who has had it before. */
  readonly again: Again
}

type Last = { readonly person: number; readonly id: number; readonly run: number; readonly ended: number }

/** To be called inside a transaction. What isn't live doesn't begin, nor does it for whoever is at its goal. */
export async function beginSequence(tx: Db, b: Beginning): Promise<void> {
  const q = await tx.row<{ name: string; version: number }>(
    "SELECT name, live_version_id AS version FROM sequence WHERE id = ? AND state <> 'draft' AND live_version_id IS NOT NULL",
    [b.sequence],
  )
  const version = q && (await versionById(tx, q.version))
  if (!q || !version || !b.people.length) return
  const without = await whoOptedOut(tx, b.people, { sequence: b.sequence })
  const had = new Map<number, Last>()
  for (const l of await tx.rows<Last>(
    "SELECT person_id AS person, id, run, ended_at IS NOT NULL AS ended FROM enrolment WHERE person_id IN (?) AND sequence_id = ? ORDER BY run",
    [b.people, b.sequence],
  ))
    had.set(l.person, l)
  const wanted = [...new Set(b.people)].filter((person) => {
    const last = had.get(person)
    return !without.has(person) && !(last && (b.again === "no" || (b.again === "ended" && !last.ended)))
  })
  const { goal, steps } = version.document.flow
  const there = goal ? await whoIsIn(tx, goal, wanted, b.at) : new Set<number>()
  const of = (person: number, words: string) => ({ at: b.at, person, funnel: b.funnel, subject: b.sequence, words })
  await happen(
    tx,
    wanted
      .filter((person) => there.has(person))
      .map((person) => ({ kind: "sequence-not-begun" as const, ...of(person, `${q.name}: they are at its goal`) })),
  )
  const people = wanted.filter((person) => !there.has(person))
  if (!people.length) return
  await endRuns(
    tx,
    people.flatMap((person) => {
      const last = had.get(person)
      return last && !last.ended ? [{ enrolment: last.id, person, sequence: b.sequence, name: q.name }] : []
    }),
    "begun again",
    b.at,
  )
  const at = new Date(b.at)
  // Where something else has begun it meanwhile, nothing comes back.
  const begun = await tx.rows<{ id: number; person: number }>(
    "INSERT IGNORE INTO enrolment (person_id, sequence_id, run, funnel_id, begun_at, step, arrived_at) VALUES ? RETURNING id, person_id AS person",
    [
      people.map((person) => [
        person,
        b.sequence,
        (had.get(person)?.run ?? 0) + 1,
        b.funnel,
        at,
        steps[0]?.id ?? null,
        at,
      ]),
    ],
  )
  if (!begun.length) return
  await happen(
    tx,
    begun.map((m) => ({ kind: "sequence-begun" as const, ...of(m.person, q.name) })),
  )
  await tx.context.sequences.takeOn(
    tx,
    begun.map((m) => m.id),
    b.at,
  )
}
