// When a part of a course opens: the kinds of rule, and the instant that each comes to for one learner.
import { Temporal } from "temporal-polyfill"
import * as v from "valibot"
import { refusals } from "../words/refusals"

/** A time of day on the learner's clock, "06:00". */
export const timeOfDay = v.pipe(v.string(), v.regex(/^([01]\d|2[0-3]):[0-5]\d$/, refusals.course.timeOfDay))

const date = v.pipe(
  v.string(),
  v.regex(/^\d{4}-\d\d-\d\d$/, refusals.course.date),
  v.check((d) => !Number.isNaN(Date.parse(d)), refusals.course.date),
)

const days = v.pipe(v.number(), v.integer(refusals.value.wholeDays), v.minValue(0), v.maxValue(3650))

export const opensSchema = v.variant("kind", [
  v.object({ kind: v.literal("at-once") }),
  /** So many days after the admission began; `at` null: at the time of day at which it began. */
  v.object({ kind: v.literal("after-days"), days, at: v.nullable(timeOfDay) }),
  v.object({ kind: v.literal("on-date"), date, at: timeOfDay }),
  /** When another lesson is done. */
  v.object({ kind: v.literal("after-lesson"), lesson: v.pipe(v.number(), v.integer(), v.minValue(1)) }),
])

/** When something opens. Dates and times of day are on the learner's calendar and clock. */
export type Opens = v.InferOutput<typeof opensSchema>

export const atOnce: Opens = { kind: "at-once" }

/** Answers that never change, and are asked for of every learner of a day: kept up to a number, and then forgotten at once. */
function remembered<T>(answer: (key: string) => T): (key: string) => T {
  const kept = new Map<string, T>()
  return (key) => {
    let known = kept.get(key)
    if (known === undefined) {
      if (kept.size >= 20_000) kept.clear()
      known = answer(key)
      kept.set(key, known)
    }
    return known
  }
}

const instants = remembered((key) => {
  const [date, at, zone] = key.split(" ") as [string, string, string]
  return Temporal.PlainDate.from(date).toZonedDateTime({ timeZone: zone, plainTime: Temporal.PlainTime.from(at) })
    .epochMilliseconds
})

const locals = remembered((key) => {
  const [instant, zone] = key.split(" ") as [string, string]
  const local = Temporal.Instant.fromEpochMilliseconds(Number(instant)).toZonedDateTimeISO(zone)
  return { date: local.toPlainDate().toString(), time: local.toPlainTime().toString() }
})

/**
 * The instant (ms since 1970, UTC) of a day and a time of day in a zone. A time that does not exist on that day is moved on
 * by the length of the gap, one that comes twice means the first (RFC 5545, 3.3.5).
 *
 * @throws RangeError for an unknown zone
 */
export function instantOf(date: string, at: string, zone: string): number {
  return instants(`${date} ${at} ${zone}`)
}

/**
 * The instant that lies so many days after another on the calendar of a zone: at a time of day, or at the same one. Never
 * before `from` itself.
 */
export function daysAfter(from: number, days: number, at: string | null, zone: string): number {
  if (days === 0 && at === null) return from
  const start = locals(`${from} ${zone}`)
  const date = new Date(Date.parse(start.date) + days * 86_400_000).toISOString().slice(0, 10)
  return Math.max(from, instantOf(date, at ?? start.time, zone))
}
