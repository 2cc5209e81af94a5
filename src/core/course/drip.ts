// A drip: the parts of a course open one after the other, so many days apart, for everybody from the day they are let in.
import * as v from "valibot"
import { refusals } from "../words/refusals"
import { type Opens, timeOfDay } from "./opens"

export const dripSchema = v.object({
  each: v.picklist(["lesson", "module"]),
  /** Days from one to the next. */
  days: v.pipe(
    v.number(refusals.value.wholeDays),
    v.integer(refusals.value.wholeDays),
    v.minValue(1, refusals.value.atLeastOne),
    v.maxValue(90),
  ),
  /** On the learner's clock; null: at the time of day at which they were let in. */
  at: v.nullable(timeOfDay),
})

export type Drip = v.InferOutput<typeof dripSchema>

/** A module or a lesson in the order of the outline. */
export type DripRow = { readonly kind: "module" | "lesson"; readonly id: number }

/**
 * The rule of each row: the first part opens at once, the others `days` apart. What doesn't count by itself has none, and opens as
 * what it stands in; lessons before the first module open at once with the course.
 */
export function dripRules(
  rows: readonly DripRow[],
  drip: Drip,
): { readonly row: DripRow; readonly opens: Opens | null }[] {
  let n = 0
  return rows.map((row) => {
    if (row.kind !== drip.each) return { row, opens: null }
    const days = drip.days * n++
    return { row, opens: days === 0 ? { kind: "at-once" } : { kind: "after-days", days, at: drip.at } }
  })
}
