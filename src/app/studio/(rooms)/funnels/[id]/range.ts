// The range of dates that a river is of, kept in the address.
import { Temporal } from "temporal-polyfill"

export type DayRange = {
  readonly from: number
  readonly to: number
  readonly firstDay: string
  readonly lastDay: string
  readonly today: string
}

/** Days of the school's calendar, both inclusive; the last 21 days where nothing (or nonsense) is asked for. */
export function rangeOf(asked: { from?: string; to?: string }, zone: string, now: number, first: number): DayRange {
  const today = Temporal.Instant.fromEpochMilliseconds(now).toZonedDateTimeISO(zone).toPlainDate()
  const parse = (text: string | undefined) => {
    try {
      return text && /^\d{4}-\d\d-\d\d$/.test(text) ? Temporal.PlainDate.from(text) : null
    } catch {
      return null
    }
  }
  const start =
    asked.from === "beginning"
      ? Temporal.Instant.fromEpochMilliseconds(first).toZonedDateTimeISO(zone).toPlainDate()
      : parse(asked.from)
  let last = parse(asked.to) ?? today
  let begin = start ?? last.subtract({ days: 20 })
  if (Temporal.PlainDate.compare(begin, last) > 0) [begin, last] = [last, begin]
  const at = (d: Temporal.PlainDate) => d.toZonedDateTime(zone).epochMilliseconds
  return {
    from: at(begin),
    to: at(last.add({ days: 1 })),
    firstDay: begin.toString(),
    lastDay: last.toString(),
    today: today.toString(),
  }
}
