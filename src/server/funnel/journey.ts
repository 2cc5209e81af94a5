// A journey: one visitor, later person, on their way through one funnel. They stand at each step once, dated by the
// first time, so every journey is a path and the river adds up.
import type { Db } from "../db/pool"
import { happen, onceKey } from "../happen"

export type Visit = {
  readonly funnel: number
  readonly step: number
  readonly visitor: Buffer
  readonly source: string
  readonly at: number
}

const arrivalKey = (funnel: number, visitor: Buffer, step: number) =>
  `arrived:${funnel}:${visitor.toString("hex")}:${step}`

/**
 * Records visitors who have just been given their id: nothing can be known of them yet, so they go in by the hundred.
 * They travel as one JSON text, which costs the web process next to nothing; the key is the one of `arrive`.
 */
export async function recordNewcomers(db: Db, visits: readonly Visit[]): Promise<void> {
  if (!visits.length) return
  const json = JSON.stringify(visits.map((v) => [v.funnel, v.visitor.toString("hex"), v.step, v.source, v.at]))
  const table = `JSON_TABLE(?, '$[*]' COLUMNS (funnel INT PATH '$[0]', visitor CHAR(32) CHARACTER SET ascii PATH '$[1]', step INT PATH '$[2]', source VARCHAR(80) PATH '$[3]', at BIGINT PATH '$[4]')) v`
  await db.transaction(async (tx) => {
    await tx.write(
      `INSERT IGNORE INTO journey (funnel_id, visitor, source, begun_at, rest_step_id, rest_at)
       SELECT v.funnel, UNHEX(v.visitor), v.source, FROM_UNIXTIME(v.at / 1000), v.step, FROM_UNIXTIME(v.at / 1000) FROM ${table}`,
      [json],
    )
    await tx.write(
      `INSERT IGNORE INTO fact (once, at, recorded_at, kind, funnel_id, visitor, step_id, via, source, begun_at)
       SELECT UNHEX(LEFT(SHA2(CONCAT('arrived:', v.funnel, ':', v.visitor, ':', v.step), 256), 32)), FROM_UNIXTIME(v.at / 1000), ?, 'arrived',
         v.funnel, UNHEX(v.visitor), v.step, 'source', v.source, FROM_UNIXTIME(v.at / 1000) FROM ${table}`,
      [new Date(), json],
    )
  })
}

export type Arrival = {
  readonly funnel: number
  readonly visitor: Buffer
  readonly step: number
  readonly outcome: string | null
  readonly via: "page" | "mail"
  readonly at: number
  readonly source?: string
  readonly person?: number
  /** Minor units paid with this, if any: the journey carries them on. */
  readonly paid?: number
}

/**
 * A visitor or person comes to a step. A journey that isn't there yet begins; a step they have stood at before changes
 * nothing but the day they were last seen. To be called inside a transaction.
 */
export async function arrive(tx: Db, a: Arrival): Promise<void> {
  const at = new Date(a.at)
  const source = a.source ?? "direct"
  const made = await tx.write(
    "INSERT IGNORE INTO journey (funnel_id, visitor, person_id, source, begun_at, rest_step_id, rest_at) VALUES (?, ?, ?, ?, ?, ?, ?)",
    [a.funnel, a.visitor, a.person ?? null, source, at, a.step, at],
  )
  if (a.paid)
    await tx.write("UPDATE journey SET paid = paid + ? WHERE funnel_id = ? AND visitor = ?", [
      a.paid,
      a.funnel,
      a.visitor,
    ])
  const journey = await tx.row<{ source: string; begun_at: Date; rest_step_id: number; paid: number }>(
    "SELECT source, begun_at, rest_step_id, paid FROM journey WHERE funnel_id = ? AND visitor = ? FOR UPDATE",
    [a.funnel, a.visitor],
  )
  if (!journey) return
  const fresh = made.affected > 0
  const stood = fresh
    ? undefined
    : await tx.row("SELECT 1 FROM fact WHERE once = ?", [onceKey(arrivalKey(a.funnel, a.visitor, a.step))])
  if (stood === undefined)
    await happen(tx, [
      {
        kind: "arrived",
        at: a.at,
        once: arrivalKey(a.funnel, a.visitor, a.step),
        funnel: a.funnel,
        visitor: a.visitor,
        person: a.person,
        step: a.step,
        from: fresh ? null : journey.rest_step_id,
        outcome: fresh ? null : a.outcome,
        via: fresh ? "source" : a.via,
        source: journey.source,
        begunAt: journey.begun_at,
        money: Number(journey.paid),
      },
    ])
  await tx.write(
    "UPDATE journey SET rest_step_id = IF(?, ?, rest_step_id), rest_at = GREATEST(rest_at, ?), person_id = COALESCE(person_id, ?) WHERE funnel_id = ? AND visitor = ?",
    [stood === undefined ? 1 : 0, a.step, at, a.person ?? null, a.funnel, a.visitor],
  )
}

/** Where a visitor's journey through a funnel came from. */
export async function sourceOfJourney(db: Db, funnel: number, visitor: Buffer): Promise<string> {
  const journey = await db.row<{ source: string }>("SELECT source FROM journey WHERE funnel_id = ? AND visitor = ?", [
    funnel,
    visitor,
  ])
  return journey?.source ?? "direct"
}
