// When a lesson opens and why it doesn't yet, in words to its learner.

import { locale } from "../words/locale"
import type { MayOpen } from "./may-open"
import type { Opens } from "./opens"

const small = ["no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve"]
const counted = (n: number, what: string) => `${small[n] ?? n} ${what}${n === 1 ? "" : "s"}`

const formats = new Map<string, Intl.DateTimeFormat>()

/** A formatter for each zone and shape, made once: making one costs a thousand times what using it does. */
function format(language: string, o: Intl.DateTimeFormatOptions): Intl.DateTimeFormat {
  const key = `${language} ${JSON.stringify(o)}`
  let known = formats.get(key)
  if (!known) {
    if (formats.size >= 3_000) formats.clear()
    known = new Intl.DateTimeFormat(language, o)
    formats.set(key, known)
  }
  return known
}

/**
 * A day as somebody says it: "today", "tomorrow", "Friday" within the week, or "3 May", with the year where it is another.
 * With a time of day unless that is midnight.
 */
export function dayWords(instant: number, now: number, zone: string): string {
  const part = (ms: number, o: Intl.DateTimeFormatOptions) => format(locale, { timeZone: zone, ...o }).format(ms)
  const date = (ms: number) => format("sv-SE", { timeZone: zone }).format(ms)
  const away = Math.round((Date.parse(date(instant)) - Date.parse(date(now))) / 86_400_000)
  const time = part(instant, { hour: "2-digit", minute: "2-digit", hourCycle: "h23" })
  const at = time === "00:00" ? "" : ` at ${time}`
  if (away === 0) return `today${at}`
  if (away === 1) return `tomorrow${at}`
  if (away > 1 && away < 7) return `on ${part(instant, { weekday: "long" })}${at}`
  const year = part(instant, { year: "numeric" }) === part(now, { year: "numeric" }) ? {} : { year: "numeric" as const }
  return `on ${part(instant, { day: "numeric", month: "long", ...year })}${at}`
}

/**
 * @param lesson the title of a lesson that is waited for
 * @returns a sentence without its full stop; null for what is open
 */
export function openingWords(
  answer: MayOpen,
  about: {
    readonly now: number
    readonly zone: string
    lesson(id: number): string
    /** What is said of the days that it is after; for a learner `afterJoining`. */
    days?(count: string): string
  },
): string | null {
  if (answer.open) return null
  const day = (at: number) => dayWords(at, about.now, about.zone)
  switch (answer.why) {
    case "gone":
      return "This lesson is no longer part of the course"
    case "stranger":
      return "Sign in to open it"
    case "outside":
      return "It comes with the course"
    case "ended":
      return `Your access ended ${day(answer.at)}`
    case "too-late":
      return `Your access ends ${day(answer.at)}, before this opens`
    case "not-yet": {
      const { because, at } = answer
      if (because.kind === "lesson") return `Opens when you have done “${about.lesson(because.lesson)}”`
      const when = at === null ? "" : ` ${day(at)}`
      if (because.kind === "days") return `Opens${when}${about.days?.(counted(because.days, "day")) ?? ""}`
      if (because.kind === "starts") return `The course begins${when}`
      if (because.kind === "admission") return `Your access begins${when}`
      return `Opens${when}`
    }
  }
}

/** That so many days are counted from when they were let in. */
export const afterJoining = (count: string) => `, ${count} after you joined`

/** A rule as its author reads it. */
export function ruleWords(opens: Opens, lesson: (id: number) => string): string {
  switch (opens.kind) {
    case "at-once":
      return "At once"
    case "after-days":
      return `${capital(counted(opens.days, "day"))} after they were let in${opens.at ? `, at ${opens.at}` : ""}`
    case "on-date": {
      const day = new Intl.DateTimeFormat(locale, { dateStyle: "long", timeZone: "UTC" }).format(Date.parse(opens.date))
      return `On ${day} at ${opens.at}`
    }
    case "after-lesson":
      return `After “${lesson(opens.lesson)}”`
  }
}

const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1)
