// What a funnel sells, and where.

import type { SellingContext } from "../offer/finding"
import type { Offer } from "../offer/offer"
import { checkoutFormOf } from "../page/block/checkout"
import type { Funnel, Step } from "./draft"
import { offerOf } from "./step/list"

/** The numbers of everything a step sells: its offer, and the order bumps of its form. */
export function offersAt(step: Step): number[] {
  const offer = offerOf(step)
  return [...(offer === null ? [] : [offer]), ...(checkoutFormOf(step.page)?.bumps.map((b) => b.offer) ?? [])]
}

export function offersSoldIn(funnel: Funnel): Set<number> {
  return new Set(funnel.steps.flatMap(offersAt))
}

/** The same as they stand now; what is no longer to be had is left out. */
export function offersKnownAt(step: Step, context: SellingContext): Offer[] {
  return offersAt(step).flatMap((id) => context.offers.get(id) ?? [])
}
