// Taking people on from where they stand in their sequences, each sequence's together.
import { grouped } from "@/core/group"
import type { Goes } from "@/core/mail/sending-rules"
import type { Db } from "../db/pool"
import { versionById } from "../releases"
import { advance } from "./advance"

type RunRow = {
  readonly enrolment: number
  readonly sequence: number
  readonly version: number
  readonly paused: number
  readonly goes: Goes
  readonly person: number
  readonly zone: string
  readonly email: string
  readonly name: string
  readonly funnel: number | null
  readonly step: number | null
  readonly arrived: Date | null
}

/** Where these are who still go on, by the sequence they are in. */
export async function takenOnRuns(tx: Db, enrolments: readonly number[]): Promise<Map<number, RunRow[]>> {
  const rows = await tx.rows<RunRow>(
    `SELECT n.id AS enrolment, n.sequence_id AS sequence, q.live_version_id AS version, q.state = 'paused' AS paused, q.goes, p.id AS person, p.zone, p.email, p.name,
       n.funnel_id AS funnel, n.step, n.arrived_at AS arrived
     FROM enrolment n JOIN sequence q ON q.id = n.sequence_id AND q.live_version_id IS NOT NULL JOIN person p ON p.id = n.person_id
     WHERE n.id IN (?) AND n.ended_at IS NULL ORDER BY n.id`,
    [[0, ...enrolments]],
  )
  return grouped(rows, (r) => r.sequence)
}

/** Takes these on from where they stand; those of a paused sequence when it goes on. To be called inside a transaction. */
export async function takeOn(tx: Db, enrolments: readonly number[], at: number): Promise<void> {
  for (const [sequence, rows] of await takenOnRuns(tx, enrolments)) {
    const [first] = rows
    const version = await versionById(tx, first!.version)
    if (!version) continue
    if (first!.paused) {
      await tx.write("UPDATE enrolment SET due_at = NULL WHERE id IN (?)", [rows.map((r) => r.enrolment)])
      continue
    }
    await advance(
      tx,
      { sequence, goes: first!.goes },
      version.document,
      rows.map((r) => ({ ...r, place: { step: r.step, arrived: r.arrived?.getTime() ?? at } })),
      at,
    )
  }
}
