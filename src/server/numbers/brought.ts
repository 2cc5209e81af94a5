// What was brought in a period: by source, funnel and device from the sums of journeys, by offer, sequence, webinar, coupon and field from
// whoever had to do with it; money from the journal.

import { offerOf } from "@/core/funnel/step/list"
import { addBrought, type Brought, type BroughtBy, nothingBrought } from "@/core/numbers/brought"
import { codeOfSource } from "@/core/source"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { loadFunnel } from "../funnel/load"
import { flowsIn, type Range, spansOf } from "../funnel/rollup"
import { listFields } from "../person/field"
import { namesOfSources } from "../programme/sources"
import { calledSources } from "./called"
import { bookedOfLines, type Credit, lineSums, rollSold } from "./roll-sold"

/** What is needed to look something up: a letter has no more. */
export type Looking = Pick<Context, "clock"> & { readonly db: Db }

/** By what a row is of: the number of a funnel, an offer …, or the name of a source. */
export type BroughtRows = ReadonlyMap<string, Brought>

export type Asked = {
  readonly range: Range
  readonly currency: string
  /** Of this one alone; null: of all. Not for sequences, webinars, coupons and fields, which have no funnel of their own. */
  readonly funnel?: number | null
  /** An order counts for the journey in which it was made, or for the first of its buyer, in whatever funnel that was. */
  readonly credit?: Credit
  /** By which field of a person. */
  readonly field?: number | null
  /** What was ordered and booked before this instant alone, ms, counted order by order; not given: all by now, from sums. */
  readonly until?: number | undefined
}

type Part = Partial<Brought>
type Keyed = Part & { readonly k: string | number }

/**
 * What was brought in a range of business time (ms, on quarter-hours), in one currency (ISO 4217), by now. Of journeys that began in it:
 * an order belongs to one of them, whatever was paid, refunded or owed for it later. Of whoever began a sequence, had a seat at a webinar
 * or joined in it: the orders that they made afterwards.
 */
export async function broughtBy(db: Db, by: BroughtBy, asked: Asked): Promise<BroughtRows> {
  const rows = new Map<string, Brought>()
  for (const { k, ...part } of await readers[by](db, asked)) {
    const key = String(k)
    rows.set(key, addBrought(rows.get(key) ?? nothingBrought, { ...nothingBrought, ...part }))
  }
  return rows
}

const readers: Readonly<Record<BroughtBy, (db: Db, asked: Asked) => Promise<readonly Keyed[]>>> = {
  source: async (db, asked) => {
    const called = await calledSources(db)
    return (await ofJourneys(db, "source", asked)).map((r) => ({ ...r, k: called.get(String(r.k)) ?? r.k }))
  },
  funnel: (db, asked) => ofJourneys(db, "funnel_id", asked),
  device: (db, asked) => ofJourneys(db, "device", asked),
  offer: ofOffers,
  sequence: (db, asked) =>
    afterwards(db, asked, {
      all: "enrolment w FORCE INDEX (begun)",
      by: "enrolment w",
      k: "w.sequence_id",
      person: "w.person_id",
      since: "w.begun_at",
      did: "w.clicked",
    }),
  webinar: (db, asked) =>
    afterwards(db, asked, {
      by: "registration w",
      k: "w.webinar_id",
      person: "w.person_id",
      since: "w.made_at",
      did: "w.came IN ('attended', 'left-early')",
      only: "w.state = 'registered' AND w.person_id IS NOT NULL",
      persons: true,
    }),
  coupon: async (db, asked) => {
    const x = await soldOf(db, asked)
    return db.rows<Keyed>(
      `SELECT o.coupon_id AS k, COUNT(DISTINCT x.buyer) AS bought, ${sums} FROM orders o FORCE INDEX (first_made) JOIN ${x.sold} x ON x.order_id = o.id
       WHERE o.coupon_id IS NOT NULL AND o.first_id IS NULL AND o.made_at >= ? AND o.made_at < ? AND x.currency = ? GROUP BY 1`,
      [...x.values, new Date(asked.range.from), new Date(asked.range.to), asked.currency],
    )
  },
  field: (db, asked) =>
    afterwards(db, asked, {
      by: `person w JOIN person_field f ON f.person_id = w.id AND f.field_id = ${Math.trunc(asked.field ?? 0)}`,
      k: "f.folded",
      person: "w.id",
      since: "w.joined_at",
      did: "0",
    }),
}

const sums = "COUNT(*) AS orders, SUM(x.income) AS income, SUM(x.kept) AS kept, SUM(x.kept * x.kept) AS keptSquares"

/**
 * Orders with what came of them, as SQL with its values: by now as they are summed, or as they were before an instant, of which only what was
 * booked of since is counted anew. Nobody orders before they come, so that of the latter only those since the range began are looked at.
 */
async function soldOf(db: Db, { range, until, currency }: Asked): Promise<{ sold: string; values: unknown[] }> {
  while ((await rollSold(db)) > 0);
  if (until === undefined) return { sold: "sold", values: [] }
  const of = `s.order_id, s.currency, s.buyer, s.made_at, s.funnel_id, s.begun_at, s.source, s.device, s.first_funnel_id, s.first_begun_at, s.first_source, s.first_device`
  const then = "s.currency = ? AND s.made_at >= ? AND s.made_at < ?"
  const [from, to] = [new Date(range.from), new Date(until)]
  return {
    sold: `(SELECT ${of}, s.income, s.kept FROM sold s FORCE INDEX (made) WHERE ${then} AND s.booked_at < ? UNION ALL
      SELECT ${of}, -SUM(IF(l.account IN ('income', 'refunds'), l.amount, 0)) AS income, -SUM(l.amount) AS kept
      FROM sold s FORCE INDEX (made) JOIN journal l ON l.order_id = s.order_id AND l.currency = s.currency AND l.at < ? AND l.account IN ('income', 'refunds', 'fees', 'commission')
      WHERE ${then} AND s.booked_at >= ? GROUP BY s.order_id)`,
    values: [currency, from, to, to, to, currency, from, to, to],
  }
}

async function ofJourneys(db: Db, key: "source" | "funnel_id" | "device", asked: Asked): Promise<Keyed[]> {
  const { range, funnel = null, credit = "made" } = asked
  // By name, so that the rows of a range are found by their key.
  const funnels =
    funnel === null ? [0, ...(await db.rows<{ id: number }>("SELECT id FROM funnel")).map((f) => f.id)] : [funnel]
  const people = await db.rows<Keyed>(
    `SELECT ${key} AS k, SUM(visited) AS visited, SUM(joined) AS joined${credit === "made" ? ", SUM(bought) AS bought" : ""} FROM (${[
      ...spansOf(range).map(
        (p) =>
          `SELECT funnel_id, source, device, visited, joined, bought FROM source_${p.by} WHERE funnel_id IN (?) AND begun >= ? AND begun < ?`,
      ),
      "SELECT funnel_id, source, device, visited, joined, bought FROM source_change WHERE funnel_id IN (?) AND begun_at >= ? AND begun_at < ?",
    ].join(" UNION ALL ")}) came GROUP BY 1`,
    [...spansOf(range), range].flatMap((p) => [funnels, new Date(p.from), new Date(p.to)]),
  )
  return [...people, ...(await (asked.until === undefined ? fromSums : asTheyWere)(db, key, asked, funnels))]
}

/** The orders of journeys by now, from their sums. */
async function fromSums(
  db: Db,
  key: string,
  { range, currency, credit = "made" }: Asked,
  funnels: number[],
): Promise<Keyed[]> {
  while ((await rollSold(db)) > 0);
  const spans = spansOf(range)
  return db.rows<Keyed>(
    `SELECT ${key} AS k, SUM(orders) AS orders, SUM(income) AS income, SUM(kept) AS kept, SUM(squares) AS keptSquares${credit === "first" ? ", SUM(buyers) AS bought" : ""} FROM (${spans
      .map(
        (p) =>
          `SELECT funnel_id, source, device, orders, buyers, income, kept, squares FROM sold_${p.by} WHERE credit = ? AND currency = ? AND funnel_id IN (?) AND begun >= ? AND begun < ?`,
      )
      .join(" UNION ALL ")}) sold GROUP BY 1`,
    spans.flatMap((p) => [credit, currency, funnels, new Date(p.from), new Date(p.to)]),
  )
}

/** The orders of journeys as they were before an instant, order by order. */
async function asTheyWere(db: Db, key: string, asked: Asked, funnels: number[]): Promise<Keyed[]> {
  const of = asked.credit === "first" ? "x.first_" : "x."
  const x = await soldOf(db, asked)
  return db.rows<Keyed>(
    `SELECT ${of}${key} AS k, ${sums}${asked.credit === "first" ? ", COUNT(DISTINCT x.buyer) AS bought" : ""} FROM ${x.sold} x
     WHERE ${of}funnel_id IN (?) AND ${of}begun_at >= ? AND ${of}begun_at < ? GROUP BY 1`,
    [...x.values, funnels, new Date(asked.range.from), new Date(asked.range.to)],
  )
}

/** Something that people begin, in SQL of a table `w`: what it is of, who, since when, and what they may have done; `all`: to count them by. */
type Begun = {
  readonly all?: string
  readonly by: string
  readonly k: string
  readonly person: string
  readonly since: string
  readonly did: string
  readonly only?: string
  /** Whoever began it more than once counts once; otherwise it is counted how often it was begun. */
  readonly persons?: true
}

/** How often something was begun, or by how many, and the orders that each made afterwards. */
async function afterwards(
  db: Db,
  asked: Asked,
  { all, by, k, person, since, did, only = "TRUE", persons }: Begun,
): Promise<Keyed[]> {
  const span = [new Date(asked.range.from), new Date(asked.range.to)]
  const x = await soldOf(db, asked)
  const counts = persons
    ? `COUNT(DISTINCT ${person}) AS visited, COUNT(DISTINCT IF(${did}, ${person}, NULL)) AS joined`
    : `COUNT(*) AS visited, SUM(${did}) AS joined`
  const within = `${since} >= ? AND ${since} < ? AND ${only}`
  return [
    ...(await db.rows<Keyed>(`SELECT ${k} AS k, ${counts} FROM ${all ?? by} WHERE ${within} GROUP BY 1`, span)),
    ...(await db.rows<Keyed>(
      `SELECT x.k, COUNT(DISTINCT x.buyer) AS bought, ${sums} FROM (
         SELECT DISTINCT ${k} AS k, o.buyer, o.order_id, o.income, o.kept FROM ${x.sold} o STRAIGHT_JOIN ${by} ON ${person} = o.buyer AND ${since} <= o.made_at
         WHERE o.currency = ? AND o.made_at >= ? AND ${within}) x GROUP BY 1`,
      [...x.values, asked.currency, span[0], ...span],
    )),
  ]
}

/** By offer: who came to a step that sells it, and what was kept of it. */
async function ofOffers(db: Db, { range, currency, funnel = null, until }: Asked): Promise<Keyed[]> {
  const funnels = funnel === null ? (await db.rows<{ id: number }>("SELECT id FROM funnel")).map((f) => f.id) : [funnel]
  const came: Keyed[] = []
  for (const id of funnels) {
    const sold = new Map(
      (await loadFunnel(db, id))?.steps.flatMap((s) => {
        const offer = offerOf(s)
        return offer ? [[s.id, offer] as const] : []
      }),
    )
    if (!sold.size) continue
    for (const f of await flowsIn(db, id, range)) {
      const offer = sold.get(f.step)
      if (offer) came.push({ k: offer, visited: f.n })
    }
  }
  while ((await rollSold(db)) > 0);
  const begun = [currency, new Date(range.from), new Date(range.to), [0, ...funnels]]
  const then = "r.currency = ? AND r.begun_at >= ? AND r.begun_at < ? AND r.funnel_id IN (?)"
  const whole = `SELECT r.offer_id, r.buyer, r.income, r.kept FROM sold_line r WHERE ${then}`
  const at = new Date(until ?? 0)
  const { lines, values } =
    until === undefined
      ? { lines: whole, values: begun }
      : {
          lines: `${whole} AND r.made_at < ? AND r.booked_at < ? UNION ALL
            SELECT r.offer_id, r.buyer, ${lineSums} FROM sold_line r JOIN order_line i ON i.id = r.line_id JOIN orders o ON o.id = i.order_id ${bookedOfLines} AND l.at < ?
            WHERE ${then} AND r.made_at < ? AND r.booked_at >= ? GROUP BY r.line_id`,
          values: [...begun, at, at, at, ...begun, at, at],
        }
  const sold = await db.rows<Keyed>(
    `SELECT offer_id AS k, COUNT(DISTINCT buyer) AS bought, COUNT(*) AS orders, ROUND(SUM(income)) AS income, ROUND(SUM(kept)) AS kept, ROUND(SUM(kept * kept)) AS keptSquares
     FROM (${lines}) r GROUP BY 1`,
    values,
  )
  return [...came, ...sold]
}

/** The names of what the rows are of. Affiliates by what they are called; answers by their words. */
export async function namesOf(
  db: Db,
  by: BroughtBy,
  keys: readonly string[],
  field: number | null = null,
): Promise<ReadonlyMap<string, string>> {
  const stored = named[by]
  if (stored) {
    const rows = await db.rows<{ id: number; name: string }>(`${stored} WHERE id IN (?)`, [[0, ...keys]])
    return new Map(rows.map((r) => [String(r.id), r.name]))
  }
  if (by === "field") {
    const choices = (await listFields(db)).find((f) => f.id === field)?.choices ?? []
    return new Map(keys.map((k) => [k, choices.find((c) => String(c.id) === k)?.says ?? k]))
  }
  const names = await namesOfSources(db, keys)
  return new Map(
    keys.map((k) => {
      const code = codeOfSource(k)
      return [k, code === null ? k : names.get(code) || code]
    }),
  )
}

const named: Readonly<Partial<Record<BroughtBy, string>>> = {
  funnel: "SELECT id, name FROM funnel",
  offer: "SELECT id, COALESCE(NULLIF(internal_name, ''), public_name) AS name FROM offer",
  sequence: "SELECT id, name FROM sequence",
  webinar: "SELECT id, name FROM webinar",
  coupon: "SELECT id, code AS name FROM coupon",
}

export const funnelNames = (db: Db) =>
  db.rows<{ readonly id: number; readonly name: string }>("SELECT id, name FROM funnel ORDER BY name, id")

/** The funnel of which most was kept in a range; null: nobody came to any. */
export async function mostKept(db: Db, range: Range, currency: string): Promise<number | null> {
  const [most] = [...(await broughtBy(db, "funnel", { range, currency }))].sort(([, a], [, b]) => b.kept - a.kept)
  return most ? Number(most[0]) : null
}

/** The funnel that is most likely meant where none is said: that of which most was kept, or the first; 0: there is none. */
export async function likelyFunnel(db: Db, range: Range, currency: string): Promise<number> {
  return (await mostKept(db, range, currency)) ?? (await funnelNames(db))[0]?.id ?? 0
}
