// When the school writes to somebody of its own accord: at which hours and on which days where they are, and how much of it.
// What somebody asked for (a receipt, a sign-in link, the lessons they signed up for) comes whenever it is due.
import { Temporal } from "temporal-polyfill"
import * as v from "valibot"
import { refusals } from "../words/refusals"

const minute = v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(1439))
const count = v.nullable(v.pipe(v.number(), v.integer(refusals.value.wholeNumber), v.minValue(1), v.maxValue(50)))

export const sendingRulesSchema = v.object({
  /** Minutes of the reader's day between which it is written; may reach over midnight. Null: at any hour. */
  hours: v.nullable(v.object({ from: minute, until: minute })),
  /** Days on which it is written, 1 Monday to 7 Sunday (ISO 8601). */
  weekdays: v.pipe(
    v.array(v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(7))),
    v.minLength(1, refusals.mail.oneWeekday),
  ),
  /** The most that one person gets on one of their days, and on any seven of them in a row. Null: no limit. */
  perDay: count,
  perWeek: count,
  /** Hours after which what still waits is left out rather than sent late. Null: it is sent, however late. */
  lateAfter: v.nullable(v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(720))),
})

export type SendingRules = v.InferOutput<typeof sendingRulesSchema>

export const noSendingRules: SendingRules = {
  hours: null,
  weekdays: [1, 2, 3, 4, 5, 6, 7],
  perDay: null,
  perWeek: null,
  lateAfter: null,
}

/** Which goes first when several want to go: an e-mail that was asked for follows none of them. */
export const ranks = ["first", "usual", "last"] as const
export type LetterRank = (typeof ranks)[number]
/** How what is written follows the sending rules: what was asked for doesn't. */
export type Goes = "asked" | LetterRank

export type HeldFor = "night" | "weekday" | "day-full" | "week-full"

/** A span in which it could not be sent, and why; instants in ms. */
export type Hold = { readonly from: number; readonly until: number; readonly why: HeldFor }

export type SendDecision =
  | { readonly does: "send" }
  | { readonly does: "hold"; readonly until: number; readonly holds: readonly Hold[] }
  | { readonly does: "leave-out"; readonly holds: readonly Hold[] }

const at = (instant: number, zone: string) => Temporal.Instant.fromEpochMilliseconds(instant).toZonedDateTimeISO(zone)
const minuteOf = (t: Temporal.ZonedDateTime) => t.hour * 60 + t.minute

/** The next instant at which the clock there shows a time, after an instant. */
function nextTime(t: Temporal.ZonedDateTime, of: number): Temporal.ZonedDateTime {
  const plainTime = Temporal.PlainTime.from({ hour: Math.floor(of / 60), minute: of % 60 })
  for (let days = 0; ; days++) {
    const then = t.toPlainDate().add({ days }).toZonedDateTime({ timeZone: t.timeZoneId, plainTime })
    if (then.epochMilliseconds > t.epochMilliseconds) return then
  }
}

function isQuiet(m: SendingRules, t: Temporal.ZonedDateTime): boolean {
  if (!m.hours) return false
  const { from, until } = m.hours
  const now = minuteOf(t)
  return from <= until ? now < from || now >= until : now < from && now >= until
}

/** Why it can't be sent at an instant, and until when at least; null: it can. */
function hindered(
  m: SendingRules,
  t: Temporal.ZonedDateTime,
  sent: readonly number[],
): { why: HeldFor; until: Temporal.ZonedDateTime } | null {
  const tomorrow = () => t.startOfDay().add({ days: 1 }).startOfDay()
  if (!m.weekdays.includes(t.dayOfWeek)) return { why: "weekday", until: tomorrow() }
  if (isQuiet(m, t)) {
    const opens = nextTime(t, m.hours!.from)
    return { why: "night", until: opens }
  }
  const today = t.toPlainDate()
  const days = sent.map((s) => at(s, t.timeZoneId).toPlainDate())
  const within = (n: number) =>
    days.filter((d) => {
      const since = d.until(today).days
      return since >= 0 && since < n
    }).length
  if (m.perWeek !== null && within(7) >= m.perWeek) return { why: "week-full", until: tomorrow() }
  if (m.perDay !== null && within(1) >= m.perDay) return { why: "day-full", until: tomorrow() }
  return null
}

/**
 * Whether an e-mail that is due goes now, waits, or is left out.
 *
 * @param wanted when it was first due, ms
 * @param now ms
 * @param zone IANA zone of the reader
 * @param sent when they got what counts, ms: the last eight days are enough
 */
export function decideSending(
  m: SendingRules,
  wanted: number,
  now: number,
  zone: string,
  sent: readonly number[],
): SendDecision {
  const holds: Hold[] = []
  let t = at(now, zone)
  // A week that is full empties within eight days, and every week has a day and an hour that are allowed.
  for (let i = 0; i < 60; i++) {
    const no = hindered(m, t, sent)
    const late = m.lateAfter === null ? Number.POSITIVE_INFINITY : wanted + m.lateAfter * 3_600_000
    if (t.epochMilliseconds > late) return { does: "leave-out", holds }
    if (!no) break
    const last = holds.at(-1)
    if (last?.why === no.why) holds[holds.length - 1] = { ...last, until: no.until.epochMilliseconds }
    else holds.push({ from: t.epochMilliseconds, until: no.until.epochMilliseconds, why: no.why })
    t = no.until
  }
  return holds.length ? { does: "hold", until: t.epochMilliseconds, holds } : { does: "send" }
}

export type WaitingLetter = { readonly id: number; readonly rank: LetterRank; readonly wanted: number }

/** What becomes of several that want to go to one person at once: one after the other, those first that go first. */
export function decideAll(
  m: SendingRules,
  waiting: readonly WaitingLetter[],
  now: number,
  zone: string,
  sent: readonly number[],
): ReadonlyMap<number, SendDecision> {
  const order = [...waiting].sort(
    (a, b) => ranks.indexOf(a.rank) - ranks.indexOf(b.rank) || a.wanted - b.wanted || a.id - b.id,
  )
  const gone = [...sent]
  return new Map(
    order.map((w) => {
      const decision = decideSending(m, w.wanted, now, zone, gone)
      if (decision.does === "send") gone.push(now)
      return [w.id, decision]
    }),
  )
}
