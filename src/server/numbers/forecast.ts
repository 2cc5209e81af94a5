// What is assumed of a funnel, kept beside it, and what its offers are planned to bring.
import * as v from "valibot"
import { soldAt } from "@/core/funnel/step/list"
import { readJson } from "@/core/json"
import { expectedOf, type ForecastDocument, forecastDocument, freshForecast } from "@/core/numbers/forecast"
import { planOf } from "@/core/offer/plan"
import type { Context } from "../context"
import { loadFunnel } from "../funnel/load"
import { sellingRules } from "../offer/offer"
import { shelfOf } from "../offer/quote"
import { gone, ok, refusal, type Saved } from "../saved"

/** How many of a hundred pay each later charge, where nothing is known: common practice, from memory. */
const usuallyKeeps = 0.95

export async function readForecast(s: Context, funnel: number): Promise<ForecastDocument> {
  const row = await s.db.row<{ document: string }>("SELECT document FROM forecast WHERE funnel_id = ?", [funnel])
  return row ? readJson(forecastDocument, row.document) : freshForecast
}

export async function saveForecast(s: Context, funnel: number, typed: unknown): Promise<Saved> {
  const read = v.safeParse(forecastDocument, typed)
  if (!read.success) return refusal(read.issues)
  if (!(await s.db.row("SELECT 1 FROM funnel WHERE id = ?", [funnel]))) return gone
  await s.db.write(
    "INSERT INTO forecast (funnel_id, document, changed_at) VALUES (?, ?, ?) ON DUPLICATE KEY UPDATE document = VALUES(document), changed_at = VALUES(changed_at)",
    [funnel, JSON.stringify(read.output), new Date(await s.clock.now())],
  )
  return ok
}

/**
 * What somebody who buys at each step of a funnel is planned to bring, minor units without tax: by the step's number, on the terms that
 * are sold there, later charges by the chance that they still come. Only what is sold in the school's currency.
 */
export async function plannedOf(s: Context, funnel: number): Promise<ReadonlyMap<number, number>> {
  const found = await loadFunnel(s.db, funnel)
  const { currency, tax, zone } = await sellingRules(s.db)
  const shelf = await shelfOf(s.db)
  const start = await s.clock.now()
  return new Map(
    (found?.steps ?? []).flatMap((step) => {
      const sold = soldAt(step)
      const offer = sold?.offer ? shelf.offers.get(sold.offer) : undefined
      const terms = offer?.terms.find((t) => t.id === sold?.terms) ?? offer?.terms[0]
      if (!offer || !terms || offer.currency !== currency) return []
      const plan = planOf(terms.terms, { currency, tax, zone, start })
      return [[step.id, Math.round(expectedOf(plan, usuallyKeeps))] as const]
    }),
  )
}
