// How long somebody waits at a step of a sequence: a span, a number of days at a time of their day, a weekday, a date, or so
// long before or after a moment. Times of day are those of the reader.

import { Temporal } from "temporal-polyfill"
import * as v from "valibot"
import { dayRule } from "../calendar/days"
import { nextDue } from "../mail/schedule"
import { momentSchema } from "./moment"

const minute = v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(1439))
/** At most a year. */
const most = 366 * 1440

export const waitSchema = v.variant("for", [
  v.object({ for: v.literal("span"), minutes: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(most)) }),
  v.object({
    for: v.literal("days"),
    days: v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(365)),
    at: v.nullable(minute),
  }),
  v.object({
    for: v.literal("weekday"),
    /** 1 Monday to 7 Sunday, as ISO 8601 counts them. */
    weekday: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(7)),
    at: minute,
  }),
  v.object({ for: v.literal("date"), date: dayRule(), at: minute }),
  v.object({
    for: v.literal("moment"),
    moment: momentSchema,
    /** Minutes after it; below zero: before it. */
    minutes: v.pipe(v.number(), v.integer(), v.minValue(-most), v.maxValue(most)),
    /** Whoever comes when it is past, or for whom there is none, goes on at once, or leaves out what follows up to the next wait; not given: goes on. */
    late: v.optional(v.picklist(["go-on", "leave-out"])),
  }),
])

export type Wait = v.InferOutput<typeof waitSchema>

/**
 * The instant (ms since 1970, UTC) until which somebody waits who came to it at `from`; never before `from`. A time of
 * day that a clock change leaves out or doubles is read as RFC 5545 reads local times (see `nextDue`).
 *
 * @param moment the instant of the moment it waits for, in ms; null where there is none for them: they don't wait
 * @param zone IANA zone of the reader; an unknown one throws RangeError
 */
export function waitsUntil(w: Wait, from: number, zone: string, moment: number | null = null): number {
  switch (w.for) {
    case "span":
      return from + w.minutes * 60_000
    case "days":
      return nextDue(from, { afterDays: w.days, atMinute: w.at }, zone)
    case "weekday": {
      const today = Temporal.Instant.fromEpochMilliseconds(from).toZonedDateTimeISO(zone).dayOfWeek
      const days = (w.weekday - today + 7) % 7
      const due = nextDue(from, { afterDays: days, atMinute: w.at }, zone)
      // Today is that day, and its time has passed: `nextDue` gave tomorrow.
      const day = Temporal.Instant.fromEpochMilliseconds(due).toZonedDateTimeISO(zone).dayOfWeek
      return day === w.weekday ? due : nextDue(from, { afterDays: days + 7, atMinute: w.at }, zone)
    }
    case "date": {
      const time = Temporal.PlainTime.from({ hour: Math.floor(w.at / 60), minute: w.at % 60 })
      const due = Temporal.PlainDate.from(w.date).toZonedDateTime({ timeZone: zone, plainTime: time })
      return Math.max(from, due.epochMilliseconds)
    }
    case "moment":
      return moment === null ? from : Math.max(from, moment + w.minutes * 60_000)
  }
}

/** Whether somebody has come too late for it, and leaves out what follows. Instants in ms. */
export function isTooLate(w: Wait, from: number, moment: number | null): boolean {
  if (w.for !== "moment" || w.late !== "leave-out") return false
  return moment === null || moment + w.minutes * 60_000 < from
}
