// Spans and waits in words, as they stand in the column of a sequence.
import type { NameOf } from "../person/segment/kind"
import { locale } from "../words/locale"
import { momentSays } from "./moment"
import type { Wait } from "./wait"

const units = [
  [10_080, "week"],
  [1440, "day"],
  [60, "hour"],
  [1, "minute"],
] as const

/** A span in its largest whole unit: "2 weeks", "an hour", "90 minutes". */
export function spanWords(minutes: number): string {
  const [size, unit] = units.find(([of]) => minutes >= of && minutes % of === 0) ?? units[3]
  const n = minutes / size
  return n === 1 ? `${unit === "hour" ? "an" : "a"} ${unit}` : `${n} ${unit}s`
}

export const clockWords = (minute: number) =>
  `${String(Math.floor(minute / 60)).padStart(2, "0")}:${String(minute % 60).padStart(2, "0")}`

export const weekdays = ["Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"] as const

/** After "Wait". */
export function waitWords(w: Wait, name: NameOf): string {
  switch (w.for) {
    case "span":
      return spanWords(w.minutes)
    case "days": {
      const time = w.at === null ? "" : `until ${clockWords(w.at)}, their time`
      if (w.days === 0) return time || "no time"
      return `${spanWords(w.days * 1440)}${time ? `, ${time}` : ""}`
    }
    case "weekday":
      return `until ${weekdays[w.weekday - 1]}, ${clockWords(w.at)}, their time`
    case "date":
      return `until ${new Date(`${w.date}T00:00:00Z`).toLocaleDateString(locale, { day: "numeric", month: "long", year: "numeric", timeZone: "UTC" })}, ${clockWords(w.at)}, their time`
    case "moment": {
      const what = momentSays(w.moment, name)
      if (w.minutes === 0) return `until ${what}`
      return `until ${spanWords(Math.abs(w.minutes))} ${w.minutes < 0 ? "before" : "after"} ${what}`
    }
  }
}
