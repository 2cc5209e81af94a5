// The sentence: what a plan charges and when, in plain words, made from the same charges that the worker takes.
import { Temporal } from "temporal-polyfill"
import { words } from "../words/en"
import { moneyText } from "./money"
import { beforeSteady, type Charge, chargeAt, chargeCount, chargesOf, type Plan, steadyFrom } from "./plan"
import { rateText } from "./tax"

const { price } = words

/**
 * What these plans, paid together, come to: what is paid today, then what follows for each. All have one currency and
 * begin at the same instant.
 */
export function sentence(plans: readonly Plan[]): string {
  return said(plans, { nothing: price.nothing, nothingToday: price.nothingToday, today: price.today })
}

/**
 * The same once it is paid: "You paid …", today or, where it is looked at later, on the day (YYYY-MM-DD).
 */
export function pastSentence(plans: readonly Plan[], day: string | null = null): string {
  return said(plans, {
    nothing: price.paidNothing,
    nothingToday: day === null ? price.paidToday : price.paidNothingYet(dayText(day)),
    today: (amount) => (day === null ? price.paid(amount) : price.paidOn(amount, dayText(day))),
  })
}

type Tense = {
  readonly nothing: string
  readonly nothingToday: string
  readonly today: (amount: string) => string
}

function said(plans: readonly Plan[], tense: Tense): string {
  const first = plans[0]
  if (!first) return tense.nothing
  const today = plans.reduce((sum, p) => sum + (p.today === null ? 0 : chargeAt(p, 0)!.gross), 0)
  const later = plans.flatMap(followsOf)
  const money = (minor: number) => moneyText(minor, first.currency)
  if (today === 0 && later.length === 0) return tense.nothing
  const parts = [today === 0 ? tense.nothingToday : tense.today(money(today)), ...later]
  const total = plans.map(chargeCount).includes(null) ? null : plans.reduce((sum, p) => sum + sumOf(p), 0)
  return [
    `${parts.length > 1 ? `${parts.slice(0, -1).join(", ")}, ${price.next} ${parts.at(-1)}` : parts[0]}.`,
    later.length && total !== null ? price.inAll(money(total)) : "",
    first.tax.rate > 0 ? price.tax(rateText(first.tax.rate)) : "",
  ]
    .filter(Boolean)
    .join(" ")
}

function sumOf(plan: Plan): number {
  return chargesOf(plan, chargeCount(plan)!).reduce((sum, c) => sum + c.gross, 0)
}

/** What follows after today, in runs of equal amounts. */
function followsOf(plan: Plan): string[] {
  if (!plan.recurring) return []
  const count = chargeCount(plan)
  const steady = steadyFrom(plan)
  // A discount on the first charge alone, or what was paid already, sets the first of them apart from the rest.
  const apart = beforeSteady(plan).filter((c) => c.gross > 0 && !(plan.today !== null && c.n === 0))
  const start = chargeAt(plan, steady)
  return [
    ...apart.map((c) => price.once(moneyText(c.gross, plan.currency), dayText(c.day))),
    ...(start && start.gross > 0 ? [run(plan, start, count === null ? null : count - steady)] : []),
  ]
}

function run(plan: Plan, start: Charge, times: number | null): string {
  const amount = moneyText(start.gross, plan.currency)
  if (times === 1) return price.once(amount, dayText(start.day))
  const { every } = plan.recurring!
  const rhythm = rhythmText(every.unit, every.count, anchorDay(plan), start.day)
  const last = times === null ? null : chargeAt(plan, start.n + times - 1)!.day
  return price.each(amount, rhythm, dayText(start.day), last && times ? { times, last: dayText(last) } : null)
}

/** The day of the month that the charges keep to, from the first day, where a month has it. */
function anchorDay(plan: Plan): number {
  const first = Temporal.Instant.fromEpochMilliseconds(plan.start).toZonedDateTimeISO(plan.zone).toPlainDate()
  return first.add({ days: plan.recurring!.after.days }).day
}

function rhythmText(unit: "week" | "month" | "year", count: number, anchor: number, from: string): string {
  const date = Temporal.PlainDate.from(from)
  if (unit === "week") return count === 1 ? price.everyWeek(weekday(date)) : price.every(count, "weeks")
  if (unit === "year") {
    const day = `${anchor} ${month(date)}`
    // 29 February is there in some years only.
    const named = anchor > 28 && date.month === 2 ? price.orLast(day) : day
    return count === 1 ? price.everyYear(named) : price.everyOn(count, "years", named)
  }
  const day = anchor > 28 ? price.orLast(ordinal(anchor)) : ordinal(anchor)
  return count === 1 ? price.everyMonth(day) : price.everyOn(count, "months", price.theDay(day))
}

const months = "January February March April May June July August September October November December".split(" ")
const month = (date: Temporal.PlainDate) => months[date.month - 1]!
const weekday = (date: Temporal.PlainDate) =>
  ["Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"][date.dayOfWeek - 1]!

/** A day in words: "24 May 2027". */
export function dayText(day: string): string {
  const date = Temporal.PlainDate.from(day)
  return `${date.day} ${month(date)} ${date.year}`
}

function ordinal(n: number): string {
  const tens = n % 100
  const suffix = tens >= 11 && tens <= 13 ? "th" : (["th", "st", "nd", "rd"][n % 10] ?? "th")
  return `${n}${suffix}`
}
