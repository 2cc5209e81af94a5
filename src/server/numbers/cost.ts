// What sources cost, by day: typed for some days together, or read from a file. What is said of a day again takes the place of what stood.
import Papa from "papaparse"
import { Temporal } from "temporal-polyfill"
import * as v from "valibot"
import { type DayCost, isDay, mostCosts, readCosts } from "@/core/numbers/cost"
import { parseAmount, shares } from "@/core/offer/money"
import { tidySource } from "@/core/source"
import { refusals } from "@/core/words/refusals"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { sellingRules } from "../offer/offer"
import { ok, type Refused, refusal, type Saved } from "../saved"
import { calledSources } from "./called"

/** What each source cost on the days of the school from `from` to `to`, both among them (YYYY-MM-DD); minor units of its currency. */
export async function costsOf(db: Db, from: string, to: string): Promise<ReadonlyMap<string, number>> {
  const rows = await db.rows<{ source: string; amount: number }>(
    "SELECT source, SUM(amount) AS amount FROM source_cost WHERE day BETWEEN ? AND ? GROUP BY source",
    [from, to],
  )
  const called = await calledSources(db)
  const costs = new Map<string, number>()
  for (const { source, amount } of rows) {
    const name = called.get(source) ?? source
    costs.set(name, (costs.get(name) ?? 0) + amount)
  }
  return costs
}

const typedCost = v.object({
  source: v.pipe(v.string(), v.transform(tidySource), v.nonEmpty(refusals.cost.source)),
  from: v.string(),
  to: v.string(),
  amount: v.string(),
})

/** What a source cost over some days, in equal parts. */
export async function sayCost(s: Context, input: unknown): Promise<Saved> {
  const read = v.safeParse(typedCost, input)
  if (!read.success) return refusal(read.issues)
  const { source } = read.output
  const [from, to] = [isDay(read.output.from), isDay(read.output.to)]
  const { currency } = await sellingRules(s.db)
  const amount = parseAmount(read.output.amount, currency)
  if (amount === null) return { refused: refusals.cost.amount, field: "amount" }
  if (from === null || to === null) return { refused: refusals.cost.days, field: "from" }
  const first = Temporal.PlainDate.from(from)
  const days = first.until(to, { largestUnit: "days" }).days + 1
  if (days < 1 || days > 401) return { refused: refusals.cost.days, field: "to" }
  const each = shares(amount, Array<number>(days).fill(1))
  await keepCosts(
    s.db,
    each.map((part, i) => ({ source, day: first.add({ days: i }).toString(), amount: part })),
  )
  return ok
}

/** The costs of a CSV; how many lines there were. Nothing is taken of one in which something is wrong. */
export async function readCostFile(s: Context, text: string): Promise<{ readonly lines: number } | Refused> {
  const { currency } = await sellingRules(s.db)
  const { data } = Papa.parse<string[]>(text.replace(/^\uFEFF/, "").trim(), {
    skipEmptyLines: "greedy",
    preview: mostCosts + 2,
  })
  const read = readCosts(data, currency)
  if ("refused" in read) return read
  await keepCosts(s.db, read.costs)
  return { lines: read.costs.length }
}

const keepCosts = (db: Db, costs: readonly DayCost[]) =>
  db.write("INSERT INTO source_cost (source, day, amount) VALUES ? ON DUPLICATE KEY UPDATE amount = VALUES(amount)", [
    costs.map((c) => [c.source, c.day, c.amount]),
  ])

/** Every cost that is kept, the latest first, as CSV lines that are read back. */
export async function exportCosts(db: Db): Promise<readonly DayCost[]> {
  return db.rows<DayCost>(
    "SELECT source, DATE_FORMAT(day, '%Y-%m-%d') AS day, amount FROM source_cost ORDER BY source_cost.day DESC, source LIMIT 20000",
  )
}

const margin = v.pipe(v.number(), v.minValue(0, "At least 0 %."), v.maxValue(95, "At most 95 %."))

/** What is to be left of what a visitor brings, percent. */
export async function setMargin(s: Context, percent: unknown): Promise<Saved> {
  const read = v.safeParse(margin, percent)
  if (!read.success) return refusal(read.issues)
  await s.db.write("UPDATE school SET margin = ? WHERE id = 1", [Math.round(read.output * 100)])
  return ok
}
