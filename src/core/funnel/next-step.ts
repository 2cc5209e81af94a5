// What this person meets next, given all they have and all they have said: the outcome's stream, past every further offer
// that can't be made to them.
import type { Availability } from "../offer/offer"
import { type Funnel, type Step, stepById, streamTo } from "./draft"
import { type Outcome, offerOf, soldAt, stepKinds } from "./step/list"

export type FunnelStanding = {
  /** Whether everything that an offer gives is theirs already. */
  has(offer: number): boolean
  /** Whether an offer can be had now; "removed" where it is no longer there. */
  availability(offer: number): Availability | "removed"
  /** What they said to further offers, by step. */
  readonly said: ReadonlyMap<number, "accepted" | "declined">
}

export type Skipped = {
  readonly step: number
  readonly as: "accepted" | "declined"
  readonly why: "has it" | "sold out" | "over" | "answered" | "seen before" | "nothing to offer"
}

export type Next = { readonly step: Step | null; readonly skipped: readonly Skipped[] }

/**
 * The step that follows an outcome. A further offer is skipped, and the way goes on as set at the step, where they have
 * it, it is sold out, over or gone; and as they answered, where they answered it, here or at another step with the same
 * offer. Every way ends: no step is passed twice, and one that goes round leads to the welcome page.
 */
export function nextStep(funnel: Funnel, from: number, outcome: Outcome, standing: FunnelStanding): Next {
  const skipped: Skipped[] = []
  const passed = new Set<number>([from])
  let step = streamTo(funnel, from, outcome)
  while (step && soldAt(step)?.as === "more") {
    if (passed.has(step.id)) {
      step = funnel.steps.find((s) => stepKinds[s.kind].welcomes)
      break
    }
    const skip = skipOf(funnel, step, standing)
    if (!skip) break
    passed.add(step.id)
    skipped.push(skip)
    step = streamTo(funnel, step.id, skip.as)
  }
  return { step: step ?? null, skipped }
}

/** Why a further offer is not made, and how the way goes on; null where it is made. */
export function skipOf(funnel: Funnel, step: Step, standing: FunnelStanding): Skipped | null {
  const answered = standing.said.get(step.id)
  if (answered) return { step: step.id, as: answered, why: "answered" }
  const { offer, skipAs } = soldAt(step) ?? { offer: null, skipAs: "accepted" }
  if (offer === null) return { step: step.id, as: skipAs, why: "nothing to offer" }
  if (standing.has(offer)) return { step: step.id, as: skipAs, why: "has it" }
  const sells = (other: number) => {
    const found = stepById(funnel, other)
    return found ? offerOf(found) : null
  }
  const before = [...standing.said].find(([other]) => sells(other) === offer)
  if (before) return { step: step.id, as: before[1], why: "seen before" }
  const available = standing.availability(offer)
  if (available === "open") return null
  return { step: step.id, as: skipAs, why: available === "sold-out" ? "sold out" : "over" }
}
