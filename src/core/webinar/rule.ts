// A rule by which a webinar comes again: every so many weeks on some weekdays, or every so many months on the first, second, third,
// fourth or last of a weekday; at a time of day in one zone, from a day on, until a day or without end, with days left out. It is a
// part of what RFC 5545 calls a recurrence rule, and is written out as one.

import { Temporal } from "temporal-polyfill"
import * as v from "valibot"
import { dayRule } from "../calendar/days"

const date = dayRule()
/** 1 Monday to 7 Sunday, as ISO 8601 counts them. */
const weekday = v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(7))

export const ruleSchema = v.object({
  unit: v.picklist(["week", "month"]),
  every: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(12)),
  on: v.pipe(v.array(weekday), v.minLength(1), v.maxLength(7)),
  /** Which of the month; -1: the last. Of weeks it says nothing. */
  nth: v.picklist([1, 2, 3, 4, -1]),
  /** Minutes since midnight. */
  at: v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(1439)),
  /** The first day on which it may be. */
  from: date,
  /** The last one; null: without end. */
  until: v.nullable(date),
  /** Days left out, from the first to the last of each. */
  except: v.pipe(v.array(v.object({ from: date, to: date })), v.maxLength(20)),
})

export type DateRule = v.InferOutput<typeof ruleSchema>

/** How far a rule is followed at all, days from its first. */
const horizon = 20 * 366

/**
 * The days of a rule in their order, as ISO dates, from `after` on (inclusive), at most `most`. Weeks begin on Monday; every second
 * week or month is counted from the first day that fits. A rule that nothing fits yields nothing.
 */
export function ruleDays(rule: DateRule, after: string, most: number): string[] {
  const found: string[] = []
  const first = firstDay(rule)
  if (!first) return found
  const last = Temporal.PlainDate.from(rule.from).add({ days: horizon })
  const end = rule.until === null ? last : earlier(Temporal.PlainDate.from(rule.until), last)
  const begin = spanStart(rule, first)
  for (let n = skipped(rule, begin, after); found.length < most; n++) {
    const start = begin.add(rule.unit === "week" ? { weeks: n * rule.every } : { months: n * rule.every })
    if (Temporal.PlainDate.compare(start, end) > 0) break
    for (const day of daysIn(rule, start)) {
      const text = day.toString()
      if (Temporal.PlainDate.compare(day, first) < 0 || Temporal.PlainDate.compare(day, end) > 0) continue
      if (text < after || rule.except.some((x) => x.from <= text && text <= x.to)) continue
      if (found.length < most) found.push(text)
    }
  }
  return found
}

/**
 * The instants of a rule (ms since 1970, UTC) from `after` on, at most `most`; a time of day that a clock change leaves out or doubles
 * is read as RFC 5545 reads local times: by the offset before the gap, and as the first of two.
 *
 * @param zone IANA zone of the rule's time of day; an unknown one throws RangeError
 */
export function startsOf(rule: DateRule, zone: string, after: number, most: number): number[] {
  // A day of the zone may begin up to a day before or after that of UTC.
  const day = Temporal.Instant.fromEpochMilliseconds(after).toZonedDateTimeISO(zone).toPlainDate().toString()
  return ruleDays(rule, day, most + 1)
    .map((d) => instantAt(d, rule.at, zone))
    .filter((at) => at >= after)
    .slice(0, most)
}

/** The instant of a time of day on a day; gaps and doubles as RFC 5545 reads them. */
export function instantAt(day: string, minute: number, zone: string): number {
  return Temporal.PlainDate.from(day).toZonedDateTime({ timeZone: zone, plainTime: timeOf(minute) }).epochMilliseconds
}

const timeOf = (minute: number) => Temporal.PlainTime.from({ hour: Math.floor(minute / 60), minute: minute % 60 })

type Day = Temporal.PlainDate

const earlier = (a: Day, b: Day): Day => (Temporal.PlainDate.compare(a, b) <= 0 ? a : b)

/** The first day that fits, also where it is left out; undefined: none does. */
function firstDay(rule: DateRule): Day | undefined {
  const from = Temporal.PlainDate.from(rule.from)
  const until = rule.until === null ? null : Temporal.PlainDate.from(rule.until)
  for (let n = 0; n < 3; n++) {
    const start = spanStart(rule, from).add(rule.unit === "week" ? { weeks: n } : { months: n })
    const day = daysIn(rule, start).find((d) => Temporal.PlainDate.compare(d, from) >= 0)
    if (day) return until && Temporal.PlainDate.compare(day, until) > 0 ? undefined : day
  }
  return undefined
}

/** The first day of its week or month. */
function spanStart(rule: DateRule, day: Day): Day {
  return rule.unit === "week" ? day.subtract({ days: day.dayOfWeek - 1 }) : day.with({ day: 1 })
}

/** The rule's days in the week or month that begins on a day, in their order. */
function daysIn(rule: DateRule, start: Day): Day[] {
  const days = [...new Set(rule.on)].map((weekday) => {
    if (rule.unit === "week") return start.add({ days: weekday - 1 })
    const inFirst = start.add({ days: (weekday - start.dayOfWeek + 7) % 7 })
    if (rule.nth > 0) return inFirst.add({ weeks: rule.nth - 1 })
    return inFirst.add({ weeks: Math.floor((start.daysInMonth - inFirst.day) / 7) })
  })
  return days.sort(Temporal.PlainDate.compare)
}

/** How many spans lie wholly before a day, so that a rule of years ago is not followed from its beginning. */
function skipped(rule: DateRule, begin: Day, after: string): number {
  const { years, months, weeks } = begin.until(after, {
    largestUnit: rule.unit === "week" ? "weeks" : "months",
  })
  return Math.max(0, Math.floor((rule.unit === "week" ? weeks : years * 12 + months) / rule.every) - 1)
}
