// What was tried in a forecast becomes the funnel's draft: offers put in, exchanged, and left out. Visitors see none of it until it is published.
import { isDeepStrictEqual } from "node:util"
import { exchangePlaces, removeStep } from "@/core/funnel/edit"
import { kindsThat } from "@/core/funnel/step/list"
import { unknownFurther } from "@/core/numbers/measured"
import { furtherOffers, withAdded } from "@/core/numbers/what-if"
import { refusals } from "@/core/words/refusals"
import type { Context } from "../context"
import { change } from "../funnel/change"
import { insertStep } from "../funnel/steps"
import { gone, ok, type Saved } from "../saved"
import { measuredFunnel } from "./change-view"
import { countedRange, readForecast, saveForecast, writeForecast } from "./forecast"

const [furtherKind] = kindsThat((k) => k.sells?.as === "more")

/**
 * Keeps a forecast and adopts what it tries; each part can be undone in the funnel. What is assumed goes along to the new steps.
 *
 * @param seen the steps that it was tried with, in their order: where they have changed since, nothing is done
 */
export async function adoptForecast(
  s: Context,
  funnel: number,
  typed: unknown,
  seen: readonly number[],
): Promise<Saved> {
  const found = await measuredFunnel(s, funnel, countedRange(await s.clock.now()))
  if (!found) return gone
  if (
    !isDeepStrictEqual(
      found.steps.map((x) => x.id),
      seen,
    )
  )
    return { refused: refusals.numbers.notAdopted }
  const kept = await saveForecast(s, funnel, typed)
  if ("refused" in kept) return kept
  const doc = await readForecast(s, funnel, found.steps)
  const made = new Map<number, number>()
  const real = (step: number) => made.get(step) ?? step
  const places = furtherOffers(withAdded(found.steps, doc.added, unknownFurther())).map((o) => o.id)
  const isOrder = doc.order.length === places.length && places.every((p) => doc.order.includes(p))
  if ((doc.order.length > 0 && !isOrder) || doc.without.some((w) => !places.includes(w)))
    return { refused: refusals.numbers.notAdopted }
  for (const [i, a] of doc.added.entries()) {
    const put = await insertStep(s, { after: real(a.after), outcome: a.outcome, kind: furtherKind, offer: a.offer })
    if ("refused" in put) return put
    made.set(-(i + 1), put.id)
  }
  const changed = await change(s, {
    of: { funnel },
    says: () => "adopted what was tried in the forecast",
    change(f) {
      const exchanged = doc.order.length ? exchangePlaces(f, places.map(real), doc.order.map(real)) : f
      const left = doc.without.reduce<typeof exchanged>((g, step) => g && removeStep(g, real(step)), exchanged)
      return left ?? { refused: refusals.numbers.notAdopted }
    },
  })
  if ("refused" in changed) return changed
  await writeForecast(s, funnel, {
    ...doc,
    rates: doc.rates.map((r) => ({ ...r, step: real(r.step) })),
    brings: doc.brings.map((b) => ({ ...b, step: real(b.step) })),
    added: [],
    order: [],
    without: [],
  })
  return ok
}
