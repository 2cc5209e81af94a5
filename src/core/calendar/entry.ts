// What stands in the school's calendar: everything that has a date.

import * as v from "valibot"
import { dayRule } from "./days"

export const entryKinds = {
  webinar: "Webinar",
  broadcast: "Broadcast",
  course: "Course",
  "offer-from": "Offer begins",
  "offer-until": "Offer ends",
  "coupon-from": "Coupon begins",
  "coupon-until": "Coupon ends",
  charges: "Charges",
} as const

export type EntryKind = keyof typeof entryKinds

export type Entry = {
  readonly kind: EntryKind
  /** Number of what it is about, or its day for charges; with the kind it tells one from another. */
  readonly id: string
  /** ms since 1970, UTC; of something that is about a whole day, the beginning of that. */
  readonly at: number
  /** Null: an instant. */
  readonly minutes: number | null
  readonly wholeDay: boolean
  readonly title: string
  /** More of it, in a few words; may be empty. */
  readonly detail: string
  /** Its place in the studio. */
  readonly href: string
  readonly movable: boolean
}

/** Which entry is meant, and where to. Times are those of the school's zone. */
export const moveSchema = v.object({
  kind: v.picklist(["webinar", "broadcast", "offer-from", "offer-until", "coupon-from", "coupon-until"]),
  id: v.pipe(v.number(), v.integer(), v.minValue(1)),
  day: dayRule(),
  minute: v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(1439)),
})

export type Move = v.InferOutput<typeof moveSchema>

/** In the order of time; what is about a whole day before what has an hour. */
export const inOrder = (a: Entry, b: Entry): number =>
  a.at - b.at || Number(b.wholeDay) - Number(a.wholeDay) || a.title.localeCompare(b.title)
