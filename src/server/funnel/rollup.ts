// The rollup: facts of arrival summed by quarter-hour, so that a river costs the same after ten million visits.

import { type Funnel, streamTo } from "@/core/funnel/draft"
import {
  type Measure,
  moneyRiverOf,
  type Resting,
  type River,
  type RiverFlow,
  riverOf,
  type Way,
} from "@/core/funnel/river"
import type { Outcome } from "@/core/funnel/step/list"
import { sequenceBegun } from "@/core/sequence/effect/list"
import { codeOfSource, sourceOfVia } from "@/core/source"
import { takeChanges } from "../changes"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { namesOfSources } from "../programme/sources"

const quarterOf = "FROM_UNIXTIME(FLOOR(UNIX_TIMESTAMP(begun_at) / 900) * 900)"
const dayBegun = "DATE(begun_at)"

/** Takes arrivals into the sums by the quarter-hour and by the day of UTC in which their journeys began; gives how many. */
export async function rollUp(s: Pick<Context, "db">, batch = 20_000): Promise<number> {
  return takeChanges(s.db, "flow_change", batch, async (tx, ids) => {
    for (const [table, span] of [
      ["river_flow", quarterOf],
      ["river_day", dayBegun],
    ] as const) {
      await tx.write(
        `INSERT INTO ${table} (funnel_id, quarter, step_id, from_step_id, outcome, via, source, n, money)
         SELECT funnel_id, ${span}, step_id, from_step_id, outcome, via, source, COUNT(*), SUM(money) FROM flow_change WHERE id IN (?) GROUP BY 1, 2, 3, 4, 5, 6, 7
         ON DUPLICATE KEY UPDATE n = ${table}.n + VALUES(n), money = ${table}.money + VALUES(money)`,
        ids,
      )
      await gatherSources(tx, table)
    }
  })
}

/** Takes changes of where journeys rest into the sums by quarter-hour and by day; gives how many. */
export async function rollRests(s: Pick<Context, "db">, batch = 20_000): Promise<number> {
  return takeChanges(s.db, "rest_change", batch, async (tx, ids) => {
    for (const [table, span] of [
      ["rest_quarter", quarterOf],
      ["rest_day", dayBegun],
    ])
      await tx.write(
        `INSERT INTO ${table} (funnel_id, begun, step_id, moved, n, money)
         SELECT funnel_id, ${span}, step_id, moved, SUM(n), SUM(money) FROM rest_change WHERE id IN (?) GROUP BY 1, 2, 3, 4
         ON DUPLICATE KEY UPDATE n = ${table}.n + VALUES(n), money = ${table}.money + VALUES(money)`,
        ids,
      )
  })
}

const longAgo = "1970-01-01"
/** Days after which it no longer matters when a journey last moved. */
const forgetMoves = 40

/** Gathers rests whose last move was long ago into one row each, so that old days stay small; gives how many went. */
export async function gatherRests(s: Pick<Context, "db" | "clock">): Promise<number> {
  const before = dayOf((await s.clock.now()) - forgetMoves * day)
  let gone = 0
  for (const table of ["rest_quarter", "rest_day"])
    gone += await s.db.transaction(async (tx) => {
      const days = await tx.rows<{ moved: string }>(
        `SELECT DISTINCT DATE_FORMAT(moved, '%Y-%m-%d') AS moved FROM ${table} WHERE moved > ? AND moved < ? ORDER BY 1 LIMIT 5`,
        [longAgo, before],
      )
      if (!days.length) return 0
      const moved = [days.map((d) => d.moved)]
      await tx.write(
        `INSERT INTO ${table} (funnel_id, begun, step_id, moved, n, money) SELECT f.funnel_id, f.begun, f.step_id, '${longAgo}', SUM(f.n), SUM(f.money) FROM ${table} f
         WHERE f.moved IN (?) GROUP BY 1, 2, 3 ON DUPLICATE KEY UPDATE n = ${table}.n + VALUES(n), money = ${table}.money + VALUES(money)`,
        moved,
      )
      return (await tx.write(`DELETE FROM ${table} WHERE moved IN (?)`, moved)).affected
    })
  return gone
}

const day = 86_400_000
const dayOf = (at: number) => new Date(at).toISOString().slice(0, 10)

/** Sources of a funnel kept by name: the largest. Made-up ones, by the thousand, become "others". */
const mostSources = 200
const others = "others"

/** Gathers the small sources of funnels that have twice as many as are kept, so that a new one has room to grow. */
async function gatherSources(tx: Db, table: string): Promise<void> {
  const many = await tx.rows<{ funnel_id: number }>(
    `SELECT funnel_id FROM ${table} WHERE via = 'source' GROUP BY funnel_id HAVING COUNT(DISTINCT source) > ?`,
    [2 * mostSources],
  )
  for (const { funnel_id: funnel } of many) {
    const largest = await tx.rows<{ source: string }>(
      `SELECT source FROM ${table} WHERE funnel_id = ? AND via = 'source' AND source <> ? GROUP BY source ORDER BY SUM(n) DESC, source LIMIT ?`,
      [funnel, others, mostSources],
    )
    const kept = [["", others, ...largest.map((l) => l.source)]]
    await tx.write(
      `INSERT INTO ${table} (funnel_id, quarter, step_id, from_step_id, outcome, via, source, n, money)
       SELECT f.funnel_id, f.quarter, f.step_id, f.from_step_id, f.outcome, f.via, '${others}', SUM(f.n), SUM(f.money) FROM ${table} f
       WHERE f.funnel_id = ? AND f.via = 'source' AND f.source NOT IN (?) GROUP BY 1, 2, 3, 4, 5, 6
       ON DUPLICATE KEY UPDATE n = ${table}.n + VALUES(n), money = ${table}.money + VALUES(money)`,
      [funnel, ...kept],
    )
    await tx.write(`DELETE FROM ${table} WHERE funnel_id = ? AND via = 'source' AND source NOT IN (?)`, [
      funnel,
      ...kept,
    ])
  }
}

/** A range of business time in ms, from inclusive, to exclusive; both on quarter-hours. */
export type Range = { readonly from: number; readonly to: number }

const week = 7 * 86_400_000

export type Rivers = { readonly people: River; readonly money: River }

/** The river in one measure; see readRivers. */
export async function readRiver(
  s: Context,
  funnel: Funnel,
  range: Range,
  measure: Measure = "people",
  ways: readonly Way[] = [],
): Promise<River> {
  return (await readRivers(s, funnel, range, ways))[measure]
}

/**
 * The river of the journeys that began in the range, as far as they have come by now, in people and in money: of all of
 * them, or only of those that took every one of the given ways, or of those with a seat for a date of a webinar.
 */
export async function readRivers(
  s: Context,
  funnel: Funnel,
  range: Range,
  ways: readonly Way[] = [],
  date: number | null = null,
  /** Affiliates as a source each, instead of all together. */
  each = false,
): Promise<Rivers> {
  const now = await s.clock.now()
  const span = [new Date(range.from), new Date(range.to)]
  const parts = partsOf(range)
  const took = [
    ...ways.map(
      () =>
        " AND EXISTS (SELECT 1 FROM fact w WHERE w.funnel_id = j.funnel_id AND w.from_step_id = ? AND w.outcome = ? AND w.visitor = j.visitor AND w.run = j.run AND w.kind = 'arrived')",
    ),
    ...(date === null
      ? []
      : [
          " AND EXISTS (SELECT 1 FROM registration g WHERE g.date_id = ? AND g.person_id = j.person_id AND g.state = 'registered')",
        ]),
  ].join("")
  const wayValues = [...ways.flatMap((w) => [w.step, w.outcome]), ...(date === null ? [] : [date])]
  const some = ways.length > 0 || date !== null
  const found = some
    ? await flowsOf(
        s.db,
        `SELECT f.step_id, COALESCE(f.from_step_id, 0) AS from_step_id, COALESCE(f.outcome, '') AS outcome, f.via, f.source, COUNT(*) AS n, SUM(f.money) AS money
           FROM journey j JOIN fact f ON f.funnel_id = j.funnel_id AND f.visitor = j.visitor AND f.run = j.run AND f.kind = 'arrived'
           WHERE j.funnel_id = ? AND j.begun_at >= ? AND j.begun_at < ?${took} GROUP BY 1, 2, 3, 4, 5`,
        [funnel.id, ...span, ...wayValues],
      )
    : await flowsIn(s.db, funnel.id, range)
  const names = each
    ? await namesOfSources(
        s.db,
        found.map((f) => f.source),
      )
    : null
  const flows = found.map((f) => ({ ...f, source: affiliateSource(f.source, names) }))
  const rows = some
    ? await s.db.rows<Rest>(
        `SELECT j.rest_step_id AS step, j.rest_at > ? AS recent, COUNT(*) AS n, SUM(j.paid) AS money FROM journey j
           WHERE j.funnel_id = ? AND j.begun_at >= ? AND j.begun_at < ?${took} GROUP BY 1, 2`,
        [new Date(now - week), funnel.id, ...span, ...wayValues],
      )
    : await s.db.rows<Rest>(
        `SELECT step_id AS step, recent, SUM(n) AS n, SUM(money) AS money FROM (${[
          ...parts.map(
            (p) =>
              `SELECT step_id, moved > ? AS recent, n, money FROM ${p.rest} WHERE funnel_id = ? AND begun >= ? AND begun < ?`,
          ),
          "SELECT step_id, moved > ? AS recent, n, money FROM rest_change WHERE funnel_id = ? AND begun_at >= ? AND begun_at < ?",
        ].join(" UNION ALL ")}) rests GROUP BY 1, 2`,
        [...parts, range].flatMap((p) => [dayOf(now - week), funnel.id, new Date(p.from), new Date(p.to)]),
      )
  const resting = (of: readonly Rest[]) => {
    const by = new Map<number, Resting>()
    for (const r of of) {
      const before = by.get(r.step) ?? { n: 0, money: 0 }
      by.set(r.step, { n: before.n + r.n, money: before.money + r.money })
    }
    return by
  }
  const edge = some ? [] : await movedAtTheEdge(s.db, funnel.id, now, span)
  const recent = resting([...rows.filter((r) => r.recent === 1), ...edge])
  // Those of the same journeys whose outcome leads nowhere in the river, and that begins a sequence.
  const begun = await s.db.rows<{ sequence: number; n: number }>(
    `SELECT e.sequence_id AS sequence, COUNT(DISTINCT e.person_id) AS n FROM enrolment e JOIN journey j ON j.person_id = e.person_id AND j.funnel_id = e.funnel_id
     WHERE e.sequence_id IN (?) AND e.funnel_id = ? AND j.begun_at >= ? AND j.begun_at < ?${took} GROUP BY 1`,
    [[0, ...sequencesAside(funnel)], funnel.id, ...span, ...wayValues],
  )
  return {
    people: riverOf(funnel, flows, recent, new Map(begun.map((b) => [b.sequence, b.n])), ways),
    money: moneyRiverOf(funnel, flows, recent, resting(rows)),
  }
}

/** Sequences that are begun by an outcome which leads nowhere: whoever met it isn't in a stream. */
function sequencesAside(funnel: Funnel): number[] {
  return funnel.effects.flatMap((e) => {
    const begins = sequenceBegun(e)
    return begins && !streamTo(funnel, e.step, e.outcome) ? [begins] : []
  })
}

/** All who came by links of affiliates are one source, or one for each of those by their names. */
function affiliateSource(source: string, names: ReadonlyMap<string, string> | null): string {
  const code = codeOfSource(source)
  if (code === null) return source
  return sourceOfVia(names ? names.get(code) || code : "affiliates")
}

type Rest = { readonly step: number; readonly recent: number; readonly n: number; readonly money: number }

/** A range as whole days of UTC, and quarter-hours at its ends. */
export function spansOf(range: Range): (Range & { readonly by: "quarter" | "day" })[] {
  const first = Math.ceil(range.from / day) * day
  const last = Math.floor(range.to / day) * day
  if (first >= last) return [{ by: "quarter", ...range }]
  return [
    { by: "quarter" as const, from: range.from, to: first },
    { by: "day" as const, from: first, to: last },
    { by: "quarter" as const, from: last, to: range.to },
  ].filter((p) => p.from < p.to)
}

/** The same, with the tables that hold their sums. */
const partsOf = (range: Range) =>
  spansOf(range).map((p) =>
    p.by === "day" ? { ...p, flow: "river_day", rest: "rest_day" } : { ...p, flow: "river_flow", rest: "rest_quarter" },
  )

/**
 * The sums keep the day on which a journey moved. Of the day on which seven times twenty-four hours ago lies, those that moved
 * after that instant are counted themselves.
 */
function movedAtTheEdge(db: Db, funnel: number, now: number, span: readonly Date[]): Promise<Rest[]> {
  return db.rows<Rest>(
    `SELECT rest_step_id AS step, 1 AS recent, COUNT(*) AS n, SUM(paid) AS money FROM journey
     WHERE funnel_id = ? AND rest_at > ? AND rest_at < ? AND begun_at >= ? AND begun_at < ? GROUP BY 1`,
    [funnel, new Date(now - week), new Date((Math.floor((now - week) / day) + 1) * day), ...span],
  )
}

/** How many journeys have moved within the last seven days and rest at one of these steps. */
export async function underWay(
  s: Pick<Context, "db" | "clock">,
  funnel: number,
  steps: readonly number[],
): Promise<number> {
  const now = await s.clock.now()
  const values = [funnel, [0, ...steps], dayOf(now - week)]
  const edge = await movedAtTheEdge(s.db, funnel, now, [new Date(0), new Date(now + week)])
  const row = await s.db.row<{ n: number | null }>(
    `SELECT SUM(n) AS n FROM (SELECT n FROM rest_day WHERE funnel_id = ? AND step_id IN (?) AND moved > ?
     UNION ALL SELECT n FROM rest_change WHERE funnel_id = ? AND step_id IN (?) AND moved > ?) rests`,
    [...values, ...values],
  )
  return (row?.n ?? 0) + edge.filter((r) => steps.includes(r.step)).reduce((sum, r) => sum + r.n, 0)
}

/** How many journeys of each funnel began between two instants (ms, on quarter-hours), by where they came in. */
export async function cameBetween(db: Db, range: Range): Promise<Map<number, number>> {
  return arrivals(db, range, "via = 'source'")
}

/** How many journeys of each funnel went out by one of these outcomes, of those that began between two instants. */
export async function wentBy(db: Db, range: Range, outcomes: readonly Outcome[]): Promise<Map<number, number>> {
  return arrivals(db, range, "outcome IN (?)", [[...outcomes]])
}

async function arrivals(db: Db, range: Range, which: string, values: unknown[] = []): Promise<Map<number, number>> {
  const parts = partsOf(range)
  // By name, so that the rows of a range are found by their key.
  const funnels = [[0, ...(await db.rows<{ id: number }>("SELECT id FROM funnel")).map((f) => f.id)]]
  const rows = await db.rows<{ funnel: number; n: number }>(
    `SELECT funnel_id AS funnel, SUM(n) AS n FROM (${[
      ...parts.map(
        (p) =>
          `SELECT funnel_id, n FROM ${p.flow} WHERE funnel_id IN (?) AND quarter >= ? AND quarter < ? AND ${which}`,
      ),
      `SELECT funnel_id, 1 AS n FROM flow_change WHERE funnel_id IN (?) AND begun_at >= ? AND begun_at < ? AND ${which}`,
    ].join(" UNION ALL ")}) came GROUP BY 1`,
    [...parts, range].flatMap((p) => [...funnels, new Date(p.from), new Date(p.to), ...values]),
  )
  return new Map(rows.map((r) => [r.funnel, r.n]))
}

/** How many of the journeys that began in a range came to each step, and how. */
export const flowsIn = (db: Db, funnel: number, range: Range): Promise<RiverFlow[]> =>
  flowsOf(
    db,
    `SELECT step_id, from_step_id, outcome, via, source, SUM(n) AS n, SUM(money) AS money FROM (${[
      ...partsOf(range).map(
        (p) =>
          `SELECT step_id, from_step_id, outcome, via, source, n, money FROM ${p.flow} WHERE funnel_id = ? AND quarter >= ? AND quarter < ?`,
      ),
      "SELECT step_id, from_step_id, outcome, via, source, 1, money FROM flow_change WHERE funnel_id = ? AND begun_at >= ? AND begun_at < ?",
    ].join(" UNION ALL ")}) flows GROUP BY 1, 2, 3, 4, 5`,
    [...partsOf(range), range].flatMap((p) => [funnel, new Date(p.from), new Date(p.to)]),
  )

async function flowsOf(db: Db, sql: string, values: unknown[]): Promise<RiverFlow[]> {
  const rows = await db.rows<{
    step_id: number
    from_step_id: number
    outcome: string
    via: RiverFlow["via"]
    source: string
    n: number
    money: number
  }>(sql, values)
  return rows.map((r) => ({
    step: r.step_id,
    from: r.from_step_id,
    outcome: r.outcome,
    via: r.via,
    source: r.source,
    n: r.n,
    money: r.money,
  }))
}
