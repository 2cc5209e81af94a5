// Costs of sources, as they are read from a file: one source on one day a line.
import { Temporal } from "temporal-polyfill"
import { type Minor, parseAmount } from "../offer/money"
import { tidySource } from "../source"
import { refusals } from "../words/refusals"

export type DayCost = { readonly source: string /** YYYY-MM-DD. */; readonly day: string; readonly amount: Minor }

/** The most lines of one file. */
export const mostCosts = 20_000

const names: Readonly<Record<string, "day" | "source" | "amount" | "currency">> = {
  date: "day",
  day: "day",
  source: "source",
  utm_source: "source",
  amount: "amount",
  cost: "amount",
  spend: "amount",
  currency: "currency",
}

/**
 * Costs from the rows of a CSV, its first row the names of its columns; or what is wrong, with its line. Nothing is taken of a file in
 * which something is wrong.
 *
 * @param currency the school's; an amount without one is in it
 */
export function readCosts(
  rows: readonly (readonly string[])[],
  currency: string,
): { readonly costs: readonly DayCost[] } | { readonly refused: string } {
  const wrong = refusals.cost
  const head = (rows[0] ?? []).map((h) => names[h.trim().toLowerCase()])
  const at = (column: "day" | "source" | "amount" | "currency") => head.indexOf(column)
  if (at("day") < 0 || at("source") < 0 || at("amount") < 0) return { refused: wrong.header }
  if (rows.length - 1 > mostCosts) return { refused: wrong.many(mostCosts) }
  const stands = new Map<string, number>()
  const costs: DayCost[] = []
  for (const [i, row] of rows.entries()) {
    if (i === 0) continue
    const line = i + 1
    const day = isDay((row[at("day")] ?? "").trim())
    if (day === null) return { refused: wrong.date(line) }
    const source = tidySource(row[at("source")] ?? "")
    if (!source) return { refused: wrong.lineSource(line) }
    const is = at("currency") < 0 ? "" : (row[at("currency")] ?? "").trim().toUpperCase()
    if (is && is !== currency) return { refused: wrong.currency(line, is, currency) }
    const amount = parseAmount(row[at("amount")] ?? "", currency)
    if (amount === null) return { refused: wrong.lineAmount(line) }
    const key = `${day} ${source}`
    const before = stands.get(key)
    if (before !== undefined) return { refused: wrong.twice(line, before) }
    stands.set(key, line)
    costs.push({ source, day, amount })
  }
  return costs.length ? { costs } : { refused: wrong.none }
}

/** A day as it is written in a file, or null. */
export function isDay(text: string): string | null {
  try {
    return /^\d{4}-\d{2}-\d{2}$/.test(text) ? Temporal.PlainDate.from(text, { overflow: "reject" }).toString() : null
  } catch {
    return null
  }
}
