// A journey: one visitor, later person, on their way through one funnel. They stand at each step once, dated by the
// first time, so every journey is a path and the river adds up. Somebody who comes back after so many days as the funnel
// says begins another.
import type { Device } from "@/core/device"
import type { Db } from "../db/pool"
import { happen, onceKey } from "../happen"

export type Visit = {
  readonly funnel: number
  readonly step: number
  readonly visitor: Buffer
  readonly source: string
  readonly at: number
  readonly device?: Device
}

const arrivalKey = (funnel: number, visitor: Buffer, step: number, run: number) =>
  `arrived:${funnel}:${visitor.toString("hex")}:${step}${run > 1 ? `:${run}` : ""}`

/**
 * Records visitors who have just been given their id: nothing can be known of them yet, so they go in by the hundred.
 * They travel as one JSON text, which costs the web process next to nothing; the key is the one of `arrive`, for a first journey.
 */
export async function recordNewcomers(db: Db, visits: readonly Visit[]): Promise<void> {
  if (!visits.length) return
  const json = JSON.stringify(
    visits.map((v) => [v.funnel, v.visitor.toString("hex"), v.step, v.source, v.at, v.device ?? "unknown"]),
  )
  const table = `JSON_TABLE(?, '$[*]' COLUMNS (funnel INT PATH '$[0]', visitor CHAR(32) CHARACTER SET ascii PATH '$[1]', step INT PATH '$[2]', source VARCHAR(80) PATH '$[3]', at BIGINT PATH '$[4]', device VARCHAR(8) CHARACTER SET ascii PATH '$[5]')) v`
  await db.transaction(async (tx) => {
    await tx.write(
      `INSERT IGNORE INTO journey (funnel_id, visitor, source, device, begun_at, rest_step_id, rest_at)
       SELECT v.funnel, UNHEX(v.visitor), v.source, v.device, FROM_UNIXTIME(v.at / 1000), v.step, FROM_UNIXTIME(v.at / 1000) FROM ${table}`,
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
  readonly device?: Device
  readonly person?: number
  /** Minor units paid with this, if any: the journey carries them on. */
  readonly paid?: number
  /** Of those who come from outside: days away after which their journey begins again; null or not given: never. */
  readonly againAfter?: number | null
}

/**
 * A visitor or person comes to a step. A journey that isn't there yet begins, and one that has rested for long enough
 * begins again; a step they have stood at before changes nothing but the day they were last seen. To be called inside a
 * transaction.
 */
export async function arrive(tx: Db, a: Arrival): Promise<void> {
  const first = await begin(tx, a, 1, a.person ?? null)
  let journey = await latest(tx, a.funnel, a.visitor)
  if (!journey) return
  let fresh = first
  if (!first && beginsAgain(a, journey)) {
    fresh = await begin(tx, a, journey.run + 1, a.person ?? journey.person_id)
    journey = (await latest(tx, a.funnel, a.visitor))!
  }
  const once = arrivalKey(a.funnel, a.visitor, a.step, journey.run)
  const stood = fresh ? undefined : await tx.row("SELECT 1 FROM fact WHERE once = ?", [onceKey(once)])
  const paid = journey.paid + (a.paid ?? 0)
  if (stood === undefined)
    await happen(tx, [
      {
        kind: "arrived",
        at: a.at,
        once,
        funnel: a.funnel,
        visitor: a.visitor,
        run: journey.run,
        person: a.person,
        step: a.step,
        from: fresh ? null : journey.rest_step_id,
        outcome: fresh ? null : a.outcome,
        via: fresh ? "source" : a.via,
        source: journey.source,
        begunAt: journey.begun_at,
        money: paid,
      },
    ])
  await tx.write(
    "UPDATE journey SET rest_step_id = IF(?, ?, rest_step_id), rest_at = GREATEST(rest_at, ?), person_id = COALESCE(person_id, ?), paid = ? WHERE funnel_id = ? AND visitor = ? AND run = ?",
    [stood === undefined ? 1 : 0, a.step, new Date(a.at), a.person ?? null, paid, a.funnel, a.visitor, journey.run],
  )
}

/**
 * Many who rest at one step come to another by the same outcome, at the same instant; whoever has stood there before is only seen again. To
 * be called inside a transaction.
 */
export async function arriveTogether(
  tx: Db,
  a: {
    readonly funnel: number
    readonly from: number
    readonly step: number
    readonly outcome: string
    readonly at: number
  },
  travellers: readonly { readonly person: number; readonly visitor: Buffer }[],
): Promise<void> {
  if (!travellers.length) return
  const visitors = travellers.map((t) => t.visitor)
  const rows = await tx.rows<Journey & { visitor: Buffer }>(
    `SELECT j.visitor, j.run, j.person_id, j.source, j.begun_at, j.rest_step_id, j.rest_at, j.paid FROM journey j FORCE INDEX (PRIMARY)
     WHERE j.funnel_id = ? AND j.visitor IN (?) AND j.rest_step_id = ? AND j.run = ${latestRun("j")} FOR UPDATE`,
    [a.funnel, visitors, a.from],
  )
  const keyOf = (r: (typeof rows)[number]) => arrivalKey(a.funnel, r.visitor, a.step, r.run)
  const stood = new Set(
    rows.length
      ? (
          await tx.rows<{ once: Buffer }>("SELECT once FROM fact WHERE once IN (?)", [
            rows.map((r) => onceKey(keyOf(r))),
          ])
        ).map((f) => f.once.toString("hex"))
      : [],
  )
  const fresh = rows.filter((r) => !stood.has(onceKey(keyOf(r)).toString("hex")))
  await happen(
    tx,
    fresh.map((r) => ({
      kind: "arrived" as const,
      at: a.at,
      once: keyOf(r),
      funnel: a.funnel,
      visitor: r.visitor,
      run: r.run,
      person: r.person_id,
      step: a.step,
      from: a.from,
      outcome: a.outcome,
      via: "page" as const,
      source: r.source,
      begunAt: r.begun_at,
      money: r.paid,
    })),
  )
  const at = new Date(a.at)
  for (const [moved, some] of [
    [1, fresh],
    [0, rows.filter((r) => !fresh.includes(r))],
  ] as const)
    if (some.length)
      await tx.write(
        "UPDATE journey SET rest_step_id = IF(?, ?, rest_step_id), rest_at = GREATEST(rest_at, ?) WHERE funnel_id = ? AND (visitor, run) IN (?)",
        [moved, a.step, at, a.funnel, some.map((r) => [r.visitor, r.run])],
      )
}

/** Begins a journey; whether it wasn't there yet. */
async function begin(tx: Db, a: Arrival, run: number, person: number | null): Promise<boolean> {
  const at = new Date(a.at)
  const made = await tx.insert(
    "journey",
    {
      funnel_id: a.funnel,
      visitor: a.visitor,
      run,
      person_id: person,
      source: a.source ?? "direct",
      device: a.device ?? "unknown",
      begun_at: at,
      rest_step_id: a.step,
      rest_at: at,
    },
    "ignore",
  )
  return made.affected > 0
}

type Journey = {
  readonly run: number
  readonly person_id: number | null
  readonly source: string
  readonly begun_at: Date
  readonly rest_step_id: number
  readonly rest_at: Date
  readonly paid: number
}

function latest(tx: Db, funnel: number, visitor: Buffer): Promise<Journey | undefined> {
  return tx.row<Journey>(
    "SELECT run, person_id, source, begun_at, rest_step_id, rest_at, paid FROM journey WHERE funnel_id = ? AND visitor = ? ORDER BY run DESC LIMIT 1 FOR UPDATE",
    [funnel, visitor],
  )
}

const beginsAgain = (a: Arrival, journey: Journey) =>
  typeof a.againAfter === "number" && a.at - journey.rest_at.getTime() >= a.againAfter * 86_400_000

/** SQL: which run is the latest of a journey of this alias. */
export const latestRun = (of: string) =>
  `(SELECT MAX(lr.run) FROM journey lr FORCE INDEX (PRIMARY) WHERE lr.funnel_id = ${of}.funnel_id AND lr.visitor = ${of}.visitor)`

/** Where a visitor's journey through a funnel came from, the latest one. */
export async function sourceOfJourney(db: Db, funnel: number, visitor: Buffer): Promise<string> {
  const journey = await db.row<{ source: string }>(
    "SELECT source FROM journey WHERE funnel_id = ? AND visitor = ? ORDER BY run DESC LIMIT 1",
    [funnel, visitor],
  )
  return journey?.source ?? "direct"
}
