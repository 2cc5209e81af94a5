// What there is to know of an occasion: something that happens in the school, apart from the outcomes of steps, and can set
// effects off.
import type { HappeningKind } from "../../happening"

export type OccasionFacts = {
  /** What somebody did, after "when somebody", of what it is about. */
  says(name: string): string
  /** What it is about; null: the school. */
  readonly about:
    | "offer"
    | "tag"
    | "lesson"
    | "module"
    | "course"
    | "sequence"
    | "field"
    | "choice"
    | "coupon"
    | "webinar"
    | null
  /** The happening that is the occasion. */
  readonly happens: HappeningKind
}
