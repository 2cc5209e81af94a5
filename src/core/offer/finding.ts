// What can be wrong with what is sold at a step.

import { type Finding, type Fix, type FoundAt, found } from "../finding"
import type { Availability, Offer } from "./offer"

export type SellingContext = {
  readonly offers: ReadonlyMap<number, Offer>
  /** Pieces gone, by offer. */
  readonly gone: ReadonlyMap<number, number>
  readonly processor: boolean
  readonly statement: string
  /** The legal pages that nobody can read yet, by their names; not given: none is missed. */
  readonly unwritten?: readonly string[]
  readonly at: number
}
/** A step that sells, and what it sells isn't there. `chosen`: it was once. */
export function withoutOffer(step: FoundAt, chosen: boolean): Finding[] {
  const fix: Fix = { go: "wiring", step: step.id }
  return [found("offer-missing", step, { step: step.name, where: "sale", chosen }, fix)]
}
/** An offer that visitors of a step can't have. */
export function notToBeHad(step: FoundAt, offer: Offer, state: Exclude<Availability, "open">): Finding {
  return found(
    "offer-not-to-be-had",
    step,
    { offer: offer.publicName, step: step.name, state },
    { go: "offer", offer: offer.id },
  )
}
