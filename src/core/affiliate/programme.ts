// A programme: what is paid for recommending an offer, and from when to when.
import * as v from "valibot"
import { type BasisPoints, type Minor, mostMoney, portion } from "../offer/money"

const percent = v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(10_000))

/** A part of what was paid (hundredths of a percent), or an amount (minor units of the offer's currency). */
export const rateSchema = v.variant("kind", [
  v.object({ kind: v.literal("percent"), value: percent }),
  v.object({
    kind: v.literal("amount"),
    value: v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(mostMoney)),
  }),
])
export type Rate = v.InferOutput<typeof rateSchema>

export const programmeTerms = v.object({
  rate: rateSchema,
  /** On how many charges of what was bought; null: on all of them. */
  charges: v.nullable(v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(600))),
  /** Also on order bumps of the same order that have no programme of their own. */
  bumps: v.boolean(),
  /** Also on further offers that were accepted after it and have none of their own. */
  further: v.boolean(),
  /** Whether the fee of the card processor is taken off first. */
  lessFees: v.boolean(),
  /** From the n-th sale of a month on (in the zone of the school), a higher part; lowest first. */
  steps: v.pipe(
    v.array(v.object({ from: v.pipe(v.number(), v.integer(), v.minValue(2), v.maxValue(100_000)), rate: percent })),
    v.maxLength(10),
  ),
  /** For whoever brought the affiliate, of the same amount; 0: nothing. */
  second: percent,
})
export type ProgrammeTerms = v.InferOutput<typeof programmeTerms>

/** What a new programme has. A part of a third, on every charge, is common practice for courses. */
export const usualTerms: ProgrammeTerms = {
  rate: { kind: "percent", value: 3000 },
  charges: null,
  bumps: true,
  further: true,
  lessFees: false,
  steps: [],
  second: 0,
}

export type Programme = {
  readonly offer: number
  readonly on: boolean
  /** Instants, ms. */
  readonly from: number | null
  readonly until: number | null
  readonly terms: ProgrammeTerms
}

/** Whether something bought at an instant (ms) is paid for. */
export function programmeRuns(p: Pick<Programme, "on" | "from" | "until">, at: number): boolean {
  return p.on && (p.from === null || at >= p.from) && (p.until === null || at < p.until)
}

/** What was agreed for one line of an order when it was bought: it stays, whatever is changed later. */
export const lineTerms = v.object({
  /** Of these the one that brings most. */
  rates: v.pipe(v.array(rateSchema), v.maxLength(12)),
  charges: programmeTerms.entries.charges,
  lessFees: v.boolean(),
  second: percent,
})
export type LineTerms = v.InferOutput<typeof lineTerms>

/**
 * The terms of a line, for the affiliate's `place`-th sale of the month. A step that was reached stands beside the usual
 * rate and not in its place, so that nobody gets less for having reached it.
 */
export function termsFor(
  p: ProgrammeTerms,
  own: Rate | null,
  place: number,
  role: "main" | "bump" | "further" = "main",
): LineTerms {
  const usual = own ?? p.rate
  const reached = p.steps.filter((s) => place >= s.from).map((s): Rate => ({ kind: "percent", value: s.rate }))
  // An amount is paid for the sale, not once more for what came along with it.
  const rates = [usual, ...reached].filter((r) => role === "main" || r.kind === "percent")
  return { rates, charges: p.charges, lessFees: p.lessFees, second: p.second }
}

/** What a rate comes to on a base (minor units, 0 or more), rounded half up once, and never more than the base. */
export function rateOn(rate: Rate, base: Minor): Minor {
  return rate.kind === "amount" ? Math.min(rate.value, base) : portion(base, rate.value)
}

/** Hundredths of a percent as typed: "33.5" is 3350; null where it isn't one. */
export function parsePercent(typed: string): BasisPoints | null {
  const text = typed.trim().replace(/\s*%$/, "").replace(",", ".")
  if (!/^\d{1,3}(\.\d{1,2})?$/.test(text)) return null
  const value = Math.round(Number(text) * 100)
  return value <= 10_000 ? value : null
}
