// The days that a calendar shows: a month in whole weeks, a week, and the day on which an instant lies. Days are ISO 8601 dates on the
// calendar of a zone; weeks begin on Monday, as ISO 8601 has it.
import { Temporal } from "temporal-polyfill"
import * as v from "valibot"

/** "2026-12-03". */
export type Day = string

/** A day as it is typed: one that there is. */
export const dayRule = (message?: string) =>
  v.pipe(
    v.string(),
    v.isoDate(message),
    v.check((day) => dayOr(day, "") === day, message),
  )

/** The day on which an instant lies, and the minute of that day by the clock on the wall. @param at ms since 1970, UTC */
export function placeOf(at: number, zone: string): { readonly day: Day; readonly minute: number } {
  const local = Temporal.Instant.fromEpochMilliseconds(at).toZonedDateTimeISO(zone)
  return { day: local.toPlainDate().toString(), minute: local.hour * 60 + local.minute }
}

/** Monday of the week of a day. */
const mondayOf = (day: Temporal.PlainDate) => day.subtract({ days: day.dayOfWeek - 1 })

const run = (from: Temporal.PlainDate, n: number): Day[] =>
  Array.from({ length: n }, (_, i) => from.add({ days: i }).toString())

/** The seven days of the week of a day. */
export const weekOf = (day: Day): Day[] => run(mondayOf(Temporal.PlainDate.from(day)), 7)

/** The weeks in which the month of a day lies, four to six of them. */
export function monthOf(day: Day): Day[][] {
  const first = Temporal.PlainDate.from(day).with({ day: 1 })
  const from = mondayOf(first)
  const weeks = Math.ceil((first.dayOfWeek - 1 + first.daysInMonth) / 7)
  return Array.from({ length: weeks }, (_, i) => run(from.add({ days: 7 * i }), 7))
}

export type Span = "month" | "week" | "list"

/** The days shown around a day, the one to begin with before and after, and the first day of each. A list goes eight weeks ahead. */
export function shownAround(day: Day, span: Span): { readonly days: Day[]; readonly before: Day; readonly after: Day } {
  const at = Temporal.PlainDate.from(day)
  if (span === "week") {
    const days = weekOf(day)
    return { days, before: at.subtract({ days: 7 }).toString(), after: at.add({ days: 7 }).toString() }
  }
  if (span === "list") {
    const days = run(at, 56)
    return { days, before: at.subtract({ days: 56 }).toString(), after: at.add({ days: 56 }).toString() }
  }
  const month = at.with({ day: 1 })
  return {
    days: monthOf(day).flat(),
    before: month.subtract({ months: 1 }).toString(),
    after: month.add({ months: 1 }).toString(),
  }
}

/** The instants between which some days lie: from the first's beginning to the last's end. */
export function boundsOf(days: readonly Day[], zone: string): { readonly from: number; readonly to: number } {
  const start = (day: Temporal.PlainDate) => day.toZonedDateTime(zone).epochMilliseconds
  return {
    from: start(Temporal.PlainDate.from(days[0]!)),
    to: start(Temporal.PlainDate.from(days.at(-1)!).add({ days: 1 })),
  }
}

/** A day as it is typed; today where it is none. */
export function dayOr(typed: string | undefined, today: Day): Day {
  try {
    return Temporal.PlainDate.from(typed ?? "").toString()
  } catch {
    return today
  }
}
