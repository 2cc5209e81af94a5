// When the next e-mail of a sequence is due: a number of days on, at a time of day where the reader is.
import { Temporal } from "temporal-polyfill"

export type Delay = {
  /** Whole days after the e-mail before, or after the beginning for the first. 0 to 365. */
  readonly afterDays: number
  /** Minute of the reader's day, 0 to 1439; null: at the same time of day as the one before (0 days: at once). */
  readonly atMinute: number | null
}

/**
 * The instant (milliseconds since 1970, UTC) at which an e-mail is due.
 *
 * The day is counted on the reader's calendar, so that a clock change neither skips nor doubles a day. A time of day
 * that does not exist on that day is moved on by the length of the gap, one that comes twice means the first
 * (Temporal's "compatible" disambiguation, which is RFC 5545's rule for local times). With no days in between and the
 * time of day already past, the next day's is taken: a sequence never goes back.
 *
 * @param from instant from which the delay counts, ms
 * @param zone IANA zone of the reader; an unknown one throws RangeError
 */
export function nextDue(from: number, delay: Delay, zone: string): number {
  const start = Temporal.Instant.fromEpochMilliseconds(from).toZonedDateTimeISO(zone)
  if (delay.atMinute === null) {
    if (delay.afterDays === 0) return from
    return start.add({ days: delay.afterDays }).epochMilliseconds
  }
  const time = Temporal.PlainTime.from({ hour: Math.floor(delay.atMinute / 60), minute: delay.atMinute % 60 })
  const on = (days: number) =>
    start.toPlainDate().add({ days }).toZonedDateTime({ timeZone: zone, plainTime: time }).epochMilliseconds
  let days = delay.afterDays
  let due = on(days)
  // More than once only where a zone dropped a whole day from its calendar.
  while (due <= from) due = on(++days)
  return due
}
