// A moment of somebody's own, or of the school's, that a sequence can wait for: so long before or after it.
import * as v from "valibot"
import type { NameOf } from "../person/segment/kind"
import { nameWords } from "../person/segment/kind"
import { type Ref, refTo } from "../reference"

const number = v.pipe(v.number(), v.integer(), v.minValue(1))

export const momentSchema = v.variant("of", [
  /** The end of an offer's sale. */
  v.object({ of: v.literal("offer-ends"), id: number }),
  /** When a lesson opens for them. */
  v.object({ of: v.literal("lesson-opens"), id: number }),
  /** The next charge of a plan of theirs for an offer: while it is being tried, the end of that. */
  v.object({ of: v.literal("plan-charged"), id: number }),
  /** The start of the date of a webinar for which they have a seat. */
  v.object({ of: v.literal("webinar-starts"), id: number }),
  /** The end of what their seat at a webinar makes cheaper. */
  v.object({ of: v.literal("deal-ends"), id: number }),
  /** The end of its replay, for them. */
  v.object({ of: v.literal("replay-ends"), id: number }),
])

export type Moment = v.InferOutput<typeof momentSchema>

const about = {
  "offer-ends": "offer",
  "lesson-opens": "lesson",
  "plan-charged": "offer",
  "webinar-starts": "webinar",
  "deal-ends": "webinar",
  "replay-ends": "webinar",
} as const

export const momentLabels: Readonly<Record<Moment["of"], string>> = {
  "offer-ends": "the end of an offer",
  "lesson-opens": "the opening of a lesson",
  "plan-charged": "the next charge for an offer",
  "webinar-starts": "the start of their webinar",
  "deal-ends": "the end of the price for their seat",
  "replay-ends": "the end of the replay for them",
}

export const momentAbout = (of: Moment["of"]) => about[of]

/** What happens at it, of what it is about: "the offer “A Year” ends". */
export function momentSays(m: Moment, name: NameOf): string {
  const called = nameWords(name(about[m.of], m.id))
  return {
    "offer-ends": `the offer ${called} ends`,
    "lesson-opens": `${called} opens for them`,
    "plan-charged": `their next charge for ${called}`,
    "webinar-starts": `${called} starts for them`,
    "deal-ends": `the price for their seat at ${called} ends`,
    "replay-ends": `the replay of ${called} ends for them`,
  }[m.of]
}

export function refsOfMoment(m: Moment): Ref[] {
  return refTo(about[m.of], m.id, "waits for it")
}
