// A day of a forecast, in words.
import { locale } from "@/core/words/locale"
import type { DayOver } from "@/server/numbers/days-view"

const dayName = new Intl.DateTimeFormat(locale, { day: "numeric", month: "short", timeZone: "UTC" })
export const nameOfDay = (day: string) => dayName.format(new Date(`${day}T00:00:00Z`))

/** Whether a day that is over lay outside what was forecast of it. */
export const isOutside = (d: DayOver) =>
  d.band !== null && d.kept !== null && (d.kept < d.band.low || d.kept > d.band.high)
