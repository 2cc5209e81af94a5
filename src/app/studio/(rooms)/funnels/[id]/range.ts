// The range of dates that a river is of, kept in the address.

import { Temporal } from "temporal-polyfill"
import type { Measure, Way } from "@/core/funnel/river"
import { outcomes } from "@/core/funnel/step/list"

/** What of a river is looked at besides its days, kept in the address: in money, and only those who took certain ways. */
export type Looked = {
  readonly measure: Measure
  readonly ways: readonly Way[]
  /** Only those with a seat for this date of a webinar; null: everybody. */
  readonly date: number | null
  /** Affiliates as a source each, instead of all together. */
  readonly each: boolean
  /** What was forecast of these days outlined over what happened. */
  readonly forecast: boolean
}

/** `in=money`, `ways=12.accepted~13.declined`, `date=7`; what makes no sense is left out. */
export function lookedAt(asked: { in?: string; ways?: string; date?: string; by?: string; over?: string }): Looked {
  const ways = (asked.ways ?? "").split("~").flatMap((part): Way[] => {
    const [step, outcome] = part.split(".")
    return /^[1-9]\d{0,8}$/.test(step ?? "") && Object.hasOwn(outcomes, outcome ?? "")
      ? [{ step: Number(step), outcome: outcome as Way["outcome"] }]
      : []
  })
  const date = /^[1-9]\d{0,8}$/.test(asked.date ?? "") ? Number(asked.date) : null
  return {
    measure: asked.in === "money" ? "money" : "people",
    ways: ways.slice(0, 12),
    date,
    each: asked.by === "each",
    forecast: asked.over === "forecast",
  }
}

/** The address's part for it, to be put behind the days. */
export function lookedText(l: Looked): string {
  const parts = [
    l.measure === "money" ? "in=money" : "",
    l.ways.length ? `ways=${l.ways.map((w) => `${w.step}.${w.outcome}`).join("~")}` : "",
    l.date === null ? "" : `date=${l.date}`,
    l.each ? "by=each" : "",
    l.forecast ? "over=forecast" : "",
  ]
  return parts.filter(Boolean).join("&")
}

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
