// Terms: how an offer is paid. What a plan is made from.

import * as v from "valibot"
import { refusals } from "../words/refusals"
import { mostMoney } from "./money"

const amount = v.pipe(
  v.number(),
  v.integer(refusals.value.wholeCents),
  v.minValue(0, refusals.value.notNegative),
  v.maxValue(mostMoney, refusals.value.tooMuch),
)
const price = v.pipe(amount, v.minValue(1, refusals.offer.free))
const whole = (most: number, says: string) =>
  v.pipe(
    v.number(),
    v.integer(refusals.value.wholeNumber),
    v.minValue(1, refusals.value.atLeastOne),
    v.maxValue(most, says),
  )

const interval = v.object({
  unit: v.picklist(["week", "month", "year"]),
  count: whole(24, refusals.value.most(24)),
})

const trial = v.object({
  length: whole(366, refusals.value.most(366)),
  unit: v.picklist(["day", "month"]),
  /** Paid on the first day; 0: the trial is free. */
  amount,
})

export const termsSchema = v.variant("kind", [
  v.object({ kind: v.literal("free") }),
  v.object({ kind: v.literal("full"), amount: price }),
  v.object({
    kind: v.literal("instalments"),
    /** Paid today, and the instalments begin one interval later; 0: the first instalment is paid today. */
    upFront: amount,
    amount: price,
    times: v.pipe(
      v.number(),
      v.integer(refusals.value.wholeNumber),
      v.minValue(1, refusals.value.atLeastOne),
      v.maxValue(120, refusals.value.most(120)),
    ),
    every: interval,
  }),
  v.object({
    kind: v.literal("subscription"),
    /** Paid today, and what recurs begins one interval later, or after the trial; 0: what recurs begins today, or after the trial. */
    upFront: amount,
    trial: v.nullable(trial),
    amount: price,
    every: interval,
    /** How often the amount is charged; null: until somebody ends it. */
    times: v.nullable(whole(600, refusals.value.most(600))),
  }),
])

export type Terms = v.InferOutput<typeof termsSchema>
export type Interval = v.InferOutput<typeof interval>

/** Whether a card is asked for under these terms. */
export function isPaid(terms: Terms): boolean {
  return terms.kind !== "free"
}
