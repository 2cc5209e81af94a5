// A webinar that begins whenever it suits: the next few starts for one visitor, by the clock where they are, never at night there.
import { Temporal } from "temporal-polyfill"
import * as v from "valibot"

const minute = v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(1439))

export const anyTimeSchema = v.pipe(
  v.object({
    /** Whether it may begin at the next quarter of an hour. */
    soon: v.boolean(),
    /** Times of day at which it begins, where the visitor is; minutes since midnight. */
    times: v.pipe(v.array(minute), v.maxLength(6)),
    /** The hours in which it may begin there: from the one, before the other. */
    from: minute,
    to: minute,
    /** How many starts are offered at most. */
    choices: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(6)),
  }),
  v.check((a) => a.from < a.to, "ends before it begins"),
)

export type AnyTime = v.InferOutput<typeof anyTimeSchema>

const quarter = 15 * 60_000
/** A start is offered no later than so many ms before it: there is a form to fill in. */
export const leastAhead = 3 * 60_000
/** Days of their calendar that are looked at. */
const days = 8

/**
 * The starts offered to somebody at `now` (ms since 1970, UTC): in the future, in the allowed hours where they are, distinct, the
 * earliest first, at most as many as are wanted. A time of day that a clock change leaves out on a day isn't offered on it; of one
 * that comes twice, the first is.
 *
 * @param zone IANA zone of the visitor; an unknown one throws RangeError
 */
export function offeredStarts(a: AnyTime, now: number, zone: string): number[] {
  const earliest = now + leastAhead
  const found = new Set<number>()
  const next = Math.ceil(earliest / quarter) * quarter
  if (a.soon && isAllowed(a, next, zone)) found.add(next)
  const today = Temporal.Instant.fromEpochMilliseconds(now).toZonedDateTimeISO(zone).toPlainDate()
  const times = [...new Set(a.times)].filter((t) => t >= a.from && t < a.to)
  for (let d = 0; d < days && times.length; d++)
    for (const time of times) {
      const at = instantOf(today.add({ days: d }), time, zone)
      if (at !== null && at >= earliest) found.add(at)
    }
  return [...found].sort((x, y) => x - y).slice(0, a.choices)
}

/**
 * What somebody is shown who has been offered starts before: those they were shown stand as long as they lie ahead, and new ones fill
 * the places of those that have passed.
 */
export function heldStarts(held: readonly number[], a: AnyTime, now: number, zone: string): number[] {
  const stand = held.filter((at) => at >= now + leastAhead && isAllowed(a, at, zone))
  const fresh = offeredStarts(a, now, zone).filter((at) => !stand.includes(at))
  return [...stand, ...fresh].slice(0, a.choices).sort((x, y) => x - y)
}

function isAllowed(a: AnyTime, at: number, zone: string): boolean {
  const { hour, minute } = Temporal.Instant.fromEpochMilliseconds(at).toZonedDateTimeISO(zone)
  const time = hour * 60 + minute
  return time >= a.from && time < a.to
}

/** Null: the clock of that day has no such time. */
function instantOf(day: Temporal.PlainDate, minute: number, zone: string): number | null {
  const plainTime = Temporal.PlainTime.from({ hour: Math.floor(minute / 60), minute: minute % 60 })
  const found = day.toZonedDateTime({ timeZone: zone, plainTime })
  const same = found.toPlainDate().equals(day) && found.toPlainTime().equals(plainTime)
  return same ? found.epochMilliseconds : null
}
