// A webinar's dates in words.

import { locale } from "../words/locale"
import type { AnyTime } from "./any-time"
import type { DateRule } from "./rule"
import type { When } from "./webinar"

const weekdays = ["", "Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"]
const ordinals = { 1: "first", 2: "second", 3: "third", 4: "fourth", [-1]: "last" } as const
const counted = [
  "",
  "",
  "second",
  "third",
  "fourth",
  "fifth",
  "sixth",
  "seventh",
  "eighth",
  "ninth",
  "tenth",
  "eleventh",
  "twelfth",
]

export const webinarClockWords = (minute: number) =>
  `${String(Math.floor(minute / 60)).padStart(2, "0")}:${String(minute % 60).padStart(2, "0")}`

export function ruleDayWords(date: string): string {
  return new Intl.DateTimeFormat(locale, { day: "numeric", month: "long", year: "numeric", timeZone: "UTC" }).format(
    Date.parse(`${date}T00:00:00Z`),
  )
}

const list = (them: readonly string[]) =>
  them.length < 2 ? (them[0] ?? "") : `${them.slice(0, -1).join(", ")} and ${them.at(-1)}`

/** "every second Thursday at 19:00 from 3 December 2026 until 30 June 2027, not from 22 to 29 March 2027". */
export function webinarRuleWords(rule: DateRule): string {
  const days = [...new Set(rule.on)].sort((a, b) => a - b).map((d) => weekdays[d]!)
  const often =
    rule.unit === "week"
      ? rule.every === 1
        ? `every ${list(days)}`
        : `every ${counted[rule.every]} week on ${list(days)}`
      : `on the ${ordinals[rule.nth]} ${list(days)} of every ${rule.every === 1 ? "month" : `${counted[rule.every]} month`}`
  const until = rule.until === null ? "" : ` until ${ruleDayWords(rule.until)}`
  const except = rule.except.map((x) =>
    x.from === x.to ? `on ${ruleDayWords(x.from)}` : `from ${ruleDayWords(x.from)} to ${ruleDayWords(x.to)}`,
  )
  return `${often} at ${webinarClockWords(rule.at)}, from ${ruleDayWords(rule.from)}${until}${except.length ? `, not ${list(except)}` : ""}`
}

/** "whenever it suits: within a quarter of an hour, or at 19:00; between 08:00 and 22:00 where the visitor is". */
export function anyTimeWords(a: AnyTime): string {
  const times = a.times.length ? `at ${list([...a.times].sort((x, y) => x - y).map(webinarClockWords))}` : ""
  const starts = [...(a.soon ? ["within a quarter of an hour"] : []), ...(times ? [times] : [])].join(", or ")
  return `whenever it suits${starts ? `: ${starts}` : ""}, between ${webinarClockWords(a.from)} and ${webinarClockWords(a.to)} where the visitor is`
}

/** How a webinar comes about, in short. */
export function dateRuleWords(when: When): string {
  if (when.kind === "rule") return webinarRuleWords(when.rule)
  if (when.kind === "any-time") return anyTimeWords(when.anyTime)
  return when.dates.length === 1 ? "one date" : `${when.dates.length} dates`
}
