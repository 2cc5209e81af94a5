// A table of Numbers: what each funnel or source brought, cost, and whether it paid.
import {
  addBrought,
  type Brought,
  type Cost,
  costOf,
  type Each,
  mostForClick,
  nothingBrought,
  perVisitor,
} from "@/core/numbers/brought"
import type { Context } from "../context"
import type { Range } from "../funnel/rollup"
import { sellingRules } from "../offer/offer"
import { schoolRow } from "../school-view"
import { type BroughtBy, broughtBy, namesOf } from "./brought"
import { costsOf } from "./cost"

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
}

export type BroughtTable = {
  readonly rows: readonly BroughtRow[]
  readonly all: BroughtRow
  readonly currency: string
  /** What is to be left, basis points. */
  readonly margin: number
}

/** The rows with most visitors first. */
export async function broughtTable(
  s: Context,
  by: BroughtBy,
  period: Period,
  funnel: number | null = null,
): Promise<BroughtTable> {
  const { currency } = await sellingRules(s.db)
  const margin = (await schoolRow(s.db))?.margin ?? 0
  const [now, before] = [
    await broughtBy(s.db, by, period.range, currency, funnel),
    await broughtBy(s.db, by, period.before, currency, funnel),
  ]
  const costs = by === "source" ? await costsOf(s.db, period.from, period.to) : new Map<string, number>()
  const keys = [...new Set([...now.keys(), ...before.keys(), ...costs.keys()])]
  const names = await namesOf(s.db, by, keys)
  const row = (key: string, name: string, is: Brought, was: Brought, cost: number | undefined): BroughtRow => ({
    key,
    name,
    now: is,
    before: was,
    value: perVisitor(is),
    click: mostForClick(is, margin),
    cost: cost === undefined ? null : costOf(is, cost),
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
        ),
      )
      .sort((a, b) => b.now.visited - a.now.visited || a.name.localeCompare(b.name)),
    all: row("", "All together", sum(now), sum(before), costs.size ? spent : undefined),
    currency,
    margin,
  }
}
