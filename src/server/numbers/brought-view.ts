// A table of Numbers: what each funnel or source brought, cost, and whether it paid.
import {
  addBrought,
  type Brought,
  type BroughtBy,
  type Cost,
  costOf,
  type Each,
  mostForClick,
  nothingBrought,
  perVisitor,
} from "@/core/numbers/brought"
import type { Db } from "../db/pool"
import type { Range } from "../funnel/rollup"
import { sellingRules } from "../offer/offer"
import { schoolRow } from "../school-view"
import { type Asked, broughtBy, type Looking, namesOf } from "./brought"
import { costsOf } from "./cost"
import { rollSold } from "./roll-sold"

/** Days of the school's zone, both among them (YYYY-MM-DD), with the same as instants, and as many days before them. */
export type Period = {
  readonly from: string
  readonly to: string
  readonly range: Range
  readonly before: Range
}

export type BroughtRow = {
  readonly key: string
  readonly name: string
  readonly now: Brought
  readonly before: Brought
  readonly value: Each | null
  /** The most one may pay for a visitor, minor units; null: nobody came. */
  readonly click: number | null
  /** Of a source; null: no cost of it is known. */
  readonly cost: Cost | null
  /** What it brought in other currencies than the school's, which nothing else here has in it. */
  readonly others: readonly { readonly currency: string; readonly income: number; readonly kept: number }[]
}

export type BroughtTable = {
  readonly rows: readonly BroughtRow[]
  readonly all: BroughtRow
  readonly currency: string
  /** What is to be left, basis points. */
  readonly margin: number
}

/** What is asked for besides the days. */
export type AskedTable = Pick<Asked, "funnel" | "credit" | "field">

/** The rows with most visitors first, then by what they brought. */
export async function broughtTable(
  s: Looking,
  by: BroughtBy,
  period: Period,
  asked: AskedTable = {},
): Promise<BroughtTable> {
  const { currency } = await sellingRules(s.db)
  const margin = (await schoolRow(s.db))?.margin ?? 0
  const read = (range: Range, c: string, until?: number) => broughtBy(s.db, by, { ...asked, range, currency: c, until })
  // The days before are looked at when they were as old as these are now; of more than a quarter of a year most are ripe.
  const length = period.range.to - period.range.from
  const then = length > ripe ? undefined : (await s.clock.now()) - length
  // Before both are read at once: one of them would take the changes, and the other not wait for it.
  while ((await rollSold(s.db)) > 0);
  const [now, before] = await Promise.all([read(period.range, currency), read(period.before, currency, then)])
  const elsewhere: [string, ReadonlyMap<string, Brought>][] = []
  for (const c of await otherCurrencies(s.db, currency)) elsewhere.push([c, await read(period.range, c)])
  const costs = by === "source" ? await costsOf(s.db, period.from, period.to) : new Map<string, number>()
  const keys = [
    ...new Set([...now.keys(), ...before.keys(), ...costs.keys(), ...elsewhere.flatMap(([, r]) => [...r.keys()])]),
  ]
  const names = await namesOf(s.db, by, keys, asked.field)
  const row = (
    key: string,
    name: string,
    is: Brought,
    was: Brought,
    cost: number | undefined,
    of: (rows: ReadonlyMap<string, Brought>) => Brought | undefined,
  ): BroughtRow => ({
    key,
    name,
    now: is,
    before: was,
    value: perVisitor(is),
    click: mostForClick(is, margin),
    cost: cost === undefined ? null : costOf(is, cost),
    others: elsewhere.flatMap(([c, rows]) => {
      const there = of(rows)
      return there?.orders ? [{ currency: c, income: there.income, kept: there.kept }] : []
    }),
  })
  const sum = (rows: ReadonlyMap<string, Brought>) => [...rows.values()].reduce(addBrought, nothingBrought)
  const spent = [...costs.values()].reduce((a, b) => a + b, 0)
  return {
    rows: keys
      .map((k) =>
        row(
          k,
          names.get(k) ?? "no longer there",
          now.get(k) ?? nothingBrought,
          before.get(k) ?? nothingBrought,
          costs.get(k),
          (rows) => rows.get(k),
        ),
      )
      .sort((a, b) => b.now.visited - a.now.visited || b.now.income - a.now.income || a.name.localeCompare(b.name)),
    all: row("", "All together", sum(now), sum(before), costs.size ? spent : undefined, sum),
    currency,
    margin,
  }
}

const ripe = 92 * 86_400_000

/** In what else something was sold. */
async function otherCurrencies(db: Db, currency: string): Promise<string[]> {
  const rows = await db.rows<{ currency: string }>(
    "SELECT DISTINCT currency FROM journal_day WHERE account = 'income' AND currency <> ? UNION SELECT DISTINCT currency FROM offer WHERE currency <> ? ORDER BY 1",
    [currency, currency],
  )
  return rows.map((r) => r.currency)
}
