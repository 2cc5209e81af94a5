import fc from "fast-check"
import moment from "moment-timezone"
import { RRule } from "rrule"
import * as v from "valibot"
import { describe, expect, it } from "vitest"
import { moneyText } from "./money"
import {
  chargeAt,
  chargeCount,
  chargesOf,
  dueToday,
  needsCard,
  type Plan,
  type PlanContext,
  planOf,
  spread,
  totalOf,
} from "./plan"
import { sentence } from "./sentence"
import { type Terms, termsSchema } from "./terms"

const noTax = { rate: 0, included: true }
const on = (day: string, more: Partial<PlanContext> = {}): PlanContext => ({
  currency: "EUR",
  tax: noTax,
  zone: "Europe/Oslo",
  start: moment.tz(`${day}T10:00`, "Europe/Oslo").valueOf(),
  ...more,
})
const days = (plan: Plan, most = 12) => chargesOf(plan, most).map((c) => c.day)
const monthly = (amount: number, more: Partial<Extract<Terms, { kind: "subscription" }>> = {}): Terms => ({
  kind: "subscription",
  upFront: 0,
  trial: null,
  amount,
  every: { unit: "month", count: 1 },
  times: null,
  ...more,
})
const instalments = (amount: number, times: number, upFront = 0): Terms => ({
  kind: "instalments",
  upFront,
  amount,
  times,
  every: { unit: "month", count: 1 },
})

const interval = fc.record({
  unit: fc.constantFrom("week" as const, "month" as const, "year" as const),
  count: fc.integer({ min: 1, max: 6 }),
})
const money = fc.integer({ min: 1, max: 1_000_000 })
const anyTerms: fc.Arbitrary<Terms> = fc.oneof(
  fc.constant<Terms>({ kind: "free" }),
  fc.record({ kind: fc.constant("full" as const), amount: money }),
  fc.record({
    kind: fc.constant("instalments" as const),
    upFront: fc.oneof(fc.constant(0), money),
    amount: money,
    times: fc.integer({ min: 1, max: 24 }),
    every: interval,
  }),
  fc.record({
    kind: fc.constant("subscription" as const),
    upFront: fc.oneof(fc.constant(0), money),
    trial: fc.option(
      fc.record({
        length: fc.integer({ min: 1, max: 24 }),
        unit: fc.constantFrom("day" as const, "month" as const),
        amount: fc.oneof(fc.constant(0), money),
      }),
      { nil: null },
    ),
    amount: money,
    every: interval,
    times: fc.option(fc.integer({ min: 1, max: 36 }), { nil: null }),
  }),
)
const zones = fc.constantFrom(
  "Europe/Oslo",
  "America/New_York",
  "Asia/Kathmandu",
  "Australia/Lord_Howe",
  "Pacific/Auckland",
  "UTC",
)
const instant = fc.integer({ min: Date.parse("2020-01-01T00:00Z"), max: Date.parse("2045-01-01T00:00Z") })

describe("the days of a plan", () => {
  it.each([
    // From the issue of the trade's calendar rule: anchored to the first day.
    ["2026-01-31", monthly(1900), ["2026-01-31", "2026-02-28", "2026-03-31", "2026-04-30", "2026-05-31"]],
    ["2028-01-31", monthly(1900), ["2028-01-31", "2028-02-29", "2028-03-31"]],
    [
      "2028-02-29",
      monthly(1900, { every: { unit: "year", count: 1 } }),
      ["2028-02-29", "2029-02-28", "2030-02-28", "2031-02-28", "2032-02-29"],
    ],
    ["2026-11-24", monthly(1900, { every: { unit: "week", count: 2 } }), ["2026-11-24", "2026-12-08", "2026-12-22"]],
    ["2026-11-24", instalments(9000, 4), ["2026-11-24", "2026-12-24", "2027-01-24", "2027-02-24"]],
    ["2026-11-24", instalments(9000, 3, 5000), ["2026-11-24", "2026-12-24", "2027-01-24", "2027-02-24"]],
    ["2026-11-24", instalments(9000, 1), ["2026-11-24"]],
    ["2026-11-24", monthly(1900, { trial: { length: 14, unit: "day", amount: 0 } }), ["2026-12-08", "2027-01-08"]],
    [
      "2026-12-31",
      monthly(1900, { trial: { length: 2, unit: "month", amount: 100 } }),
      ["2026-12-31", "2027-02-28", "2027-03-31"],
    ],
    ["2026-11-24", monthly(1900, { upFront: 9000, times: 2 }), ["2026-11-24", "2026-12-24", "2027-01-24"]],
    ["2026-11-24", { kind: "free" } as Terms, []],
    ["2026-11-24", { kind: "full", amount: 5 } as Terms, ["2026-11-24"]],
  ])("from %s: %j", (day, terms, expected) => {
    expect(days(planOf(terms, on(day)), expected.length)).toEqual(expected)
  })

  it("are those of an independent date library, for any terms, zone and first day", () => {
    fc.assert(
      fc.property(anyTerms, zones, instant, (terms, zone, start) => {
        const plan = planOf(terms, on("2026-01-01", { zone, start }))
        const recurring = chargesOf(plan, 40).filter((c) => plan.today === null || c.n > 0)
        const trial = terms.kind === "subscription" ? terms.trial : null
        recurring.forEach((c, k) => {
          const { every } = plan.recurring!
          const first = moment.tz(start, zone).startOf("day")
          const base = trial?.unit === "day" ? first.clone().add(trial.length, "days") : first
          const steps = (trial ? k : k + 1 - (plan.today === null ? 1 : 0)) * every.count
          const months =
            (trial?.unit === "month" ? trial.length : 0) +
            (every.unit === "month" ? steps : every.unit === "year" ? 12 * steps : 0)
          const expected = base
            .clone()
            .add(months, "months")
            .add(every.unit === "week" ? steps : 0, "weeks")
          expect(c.day).toBe(expected.format("YYYY-MM-DD"))
        })
      }),
    )
  })

  // RFC 5545: BYMONTHDAY=29,30,31 with BYSETPOS=-1 is "that day, or the last of the month".
  it("are those of an iCalendar rule, month by month", () => {
    fc.assert(
      fc.property(
        fc.date({ min: new Date("2020-01-01"), max: new Date("2040-12-31"), noInvalidDate: true }),
        fc.integer({ min: 1, max: 6 }),
        (date, count) => {
          const day = date.toISOString().slice(0, 10)
          const dom = Number(day.slice(8))
          const rule = new RRule({
            freq: RRule.MONTHLY,
            interval: count,
            dtstart: new Date(`${day}T00:00:00Z`),
            count: 30,
            bymonthday: Array.from({ length: Math.max(1, dom - 27) }, (_, i) => (dom <= 28 ? dom : 28 + i)),
            bysetpos: -1,
          })
          const plan = planOf(
            monthly(100, { every: { unit: "month", count } }),
            on(day, { zone: "UTC", start: Date.parse(`${day}T12:00Z`) }),
          )
          expect(days(plan, 30)).toEqual(rule.all().map((d) => d.toISOString().slice(0, 10)))
        },
      ),
    )
  })

  it("fall due at the same time of day in the school's zone, through clock changes", () => {
    const plan = planOf(monthly(100), on("2026-01-28"))
    expect(chargesOf(plan, 6).map((c) => moment.tz(c.at, "Europe/Oslo").format("YYYY-MM-DD HH:mm"))).toEqual([
      "2026-01-28 10:00",
      "2026-02-28 10:00",
      "2026-03-28 10:00",
      "2026-04-28 10:00",
      "2026-05-28 10:00",
      "2026-06-28 10:00",
    ])
    // 29 March 2026, 02:30, is skipped in Oslo.
    const gap = planOf(
      monthly(100),
      on("2026-02-28", { start: moment.tz("2026-01-29T02:30", "Europe/Oslo").valueOf() }),
    )
    expect(moment.tz(chargeAt(gap, 2)!.at, "Europe/Oslo").format("YYYY-MM-DD HH:mm")).toBe("2026-03-29 03:30")
  })

  it("never go back, and begin no earlier than today", () => {
    fc.assert(
      fc.property(anyTerms, zones, instant, (terms, zone, start) => {
        const all = chargesOf(planOf(terms, on("2026-01-01", { zone, start })), 30)
        for (const c of all) expect(c.at).toBeGreaterThanOrEqual(c.n === 0 ? start : all[c.n - 1]!.at + 1)
      }),
    )
  })
})

describe("the amounts of a plan", () => {
  const discount = fc.option(
    fc.record({
      kind: fc.constantFrom("percent" as const, "amount" as const),
      value: fc.integer({ min: 1, max: 10_000 }),
      on: fc.constantFrom("first" as const, "all" as const),
    }),
    { nil: null },
  )
  it("add up, are never negative, and a discount never raises a charge", () => {
    fc.assert(
      fc.property(anyTerms, discount, fc.integer({ min: 0, max: 3000 }), fc.boolean(), (terms, d, rate, included) => {
        const tax = { rate, included }
        const plan = planOf(terms, on("2026-05-31", { discount: d, tax }))
        const full = planOf(terms, on("2026-05-31", { tax }))
        const count = chargeCount(plan)
        expect(count).toBe(chargeCount(full))
        const all = chargesOf(plan, 40)
        all.forEach((c) => {
          expect(c.net + c.tax).toBe(c.gross)
          expect(c.gross).toBeGreaterThanOrEqual(0)
          expect(c.gross).toBeLessThanOrEqual(chargeAt(full, c.n)!.gross)
          if (!d || (d.on === "first" && c.n > 0)) expect(c.discount).toBe(0)
        })
        if (count !== null && count <= 40) expect(totalOf(plan)).toBe(all.reduce((s, c) => s + c.gross, 0))
        else if (count === null) expect(totalOf(plan)).toBeNull()
        expect(dueToday(plan).gross).toBe(plan.today === null ? 0 : all[0]!.gross)
        expect(needsCard(plan)).toBe(all.some((c) => c.gross > 0))
      }),
    )
  })
  it("an amount off several things is given once", () => {
    fc.assert(
      fc.property(fc.array(money, { minLength: 1, maxLength: 4 }), money, (prices, value) => {
        const plans = prices.map((amount) => planOf({ kind: "full", amount }, on("2026-05-31")))
        const off = spread({ kind: "amount", value, on: "first" }, plans).reduce((s, p) => s + dueToday(p).discount, 0)
        expect(off).toBe(
          Math.min(
            value,
            prices.reduce((s, p) => s + p, 0),
          ),
        )
      }),
    )
  })
})

describe("what was paid for something that is replaced", () => {
  it("pays the first charges as far as it goes, and no more", () => {
    fc.assert(
      fc.property(anyTerms, fc.integer({ min: 0, max: 3_000_000 }), (terms, credit) => {
        const plain = chargesOf(planOf(terms, on("2026-05-31")), 40)
        const less = chargesOf(planOf(terms, on("2026-05-31", { credit })), 40)
        const total = (all: typeof plain) => all.reduce((s, c) => s + c.gross, 0)
        expect(total(less)).toBe(Math.max(0, total(plain) - credit))
        // Nothing is charged before the credit is used up.
        const firstPaid = less.findIndex((c) => c.gross > 0)
        if (firstPaid >= 0) for (const c of less.slice(firstPaid + 1)) expect(c.gross).toBe(plain[c.n]!.gross)
      }),
    )
  })
  it.each([
    [
      sentence([planOf({ kind: "full", amount: 29_000 }, on("2026-11-24", { credit: 9000 }))]),
      "You pay €200.00 today.",
    ],
    [
      sentence([planOf(instalments(9000, 4), on("2026-11-24", { credit: 12_000 }))]),
      "You pay nothing today, €60.00 on 24 December 2026, then €90.00 on the 24th of each month from 24 January 2027, 2 times, the last on 24 February 2027. That is €240.00 in all.",
    ],
    [sentence([planOf({ kind: "full", amount: 5000 }, on("2026-11-24", { credit: 9000 }))]), "You pay nothing."],
  ])("%s", (said, expected) => {
    expect(said).toBe(expected)
  })
})

describe("the sentence", () => {
  const of = (terms: Terms, more: Partial<PlanContext> = {}, day = "2026-11-24") =>
    sentence([planOf(terms, on(day, more))])
  it.each([
    [of({ kind: "free" }), "You pay nothing."],
    [of({ kind: "full", amount: 9000 }), "You pay €90.00 today."],
    [
      of(monthly(1900, { trial: { length: 6, unit: "month", amount: 9000 } })),
      "You pay €90.00 today, then €19.00 on the 24th of each month from 24 May 2027 until you cancel.",
    ],
    [
      of(instalments(9000, 4)),
      "You pay €90.00 today, then €90.00 on the 24th of each month from 24 December 2026, 3 times, the last on 24 February 2027. That is €360.00 in all.",
    ],
    [of(instalments(9000, 2)), "You pay €90.00 today, then €90.00 on 24 December 2026. That is €180.00 in all."],
    [
      of(monthly(1900, { trial: { length: 14, unit: "day", amount: 0 } })),
      "You pay nothing today, then €19.00 on the 8th of each month from 8 December 2026 until you cancel.",
    ],
    [
      of(monthly(1900), {}, "2026-01-31"),
      "You pay €19.00 today, then €19.00 on the 31st (or the last day) of each month from 28 February 2026 until you cancel.",
    ],
    [
      of(monthly(1900, { trial: { length: 14, unit: "day", amount: 0 } }), {
        discount: { kind: "percent", value: 5000, on: "first" },
      }),
      "You pay nothing today, €9.50 on 8 December 2026, then €19.00 on the 8th of each month from 8 January 2027 until you cancel.",
    ],
    [
      of(monthly(12000, { every: { unit: "year", count: 1 } }), { tax: { rate: 2500, included: true } }),
      "You pay €120.00 today, then €120.00 on 24 November of each year from 24 November 2027 until you cancel. Tax of 25 % is included.",
    ],
    [
      of({ kind: "full", amount: 10000 }, { tax: { rate: 1900, included: false } }),
      "You pay €119.00 today. Tax of 19 % is included.",
    ],
    [
      of({ kind: "full", amount: 9000 }, { discount: { kind: "percent", value: 10_000, on: "all" } }),
      "You pay nothing.",
    ],
    [
      of(monthly(500, { every: { unit: "week", count: 2 }, times: 3 })),
      "You pay €5.00 today, then €5.00 every 2 weeks from 8 December 2026, 2 times, the last on 22 December 2026. That is €15.00 in all.",
    ],
    [
      sentence([planOf(monthly(500, { every: { unit: "month", count: 6 } }), on("2026-08-31"))]),
      "You pay €5.00 today, then €5.00 every 6 months, on the 31st (or the last day), from 28 February 2027 until you cancel.",
    ],
    [
      sentence([planOf(monthly(500, { every: { unit: "month", count: 3 } }), on("2026-11-24"))]),
      "You pay €5.00 today, then €5.00 every 3 months, on the 24th, from 24 February 2027 until you cancel.",
    ],
    [
      sentence([planOf(monthly(500, { every: { unit: "year", count: 2 } }), on("2028-02-29"))]),
      "You pay €5.00 today, then €5.00 every 2 years, on 29 February (or the last day), from 28 February 2030 until you cancel.",
    ],
    [
      // Fifty thousand charges are paid by what was paid before: said from the first and the last of them alone.
      sentence([planOf(monthly(100), on("2026-11-24", { credit: 5_000_050 }))]).slice(0, 60),
      "You pay nothing today, €0.50 on 24 July 6193, then €1.00 on ",
    ],
    [
      sentence([planOf({ kind: "full", amount: 9000 }, on("2026-11-24")), planOf(monthly(1900), on("2026-11-24"))]),
      "You pay €109.00 today, then €19.00 on the 24th of each month from 24 December 2026 until you cancel.",
    ],
  ])("%s", (said, expected) => {
    expect(said).toBe(expected)
  })

  it("says what is charged today and in all, to the cent, whatever the terms", () => {
    fc.assert(
      fc.property(anyTerms, fc.integer({ min: 0, max: 2500 }), (terms, rate) => {
        const plan = planOf(terms, on("2026-05-31", { tax: { rate, included: false } }))
        const said = sentence([plan])
        const today = dueToday(plan).gross
        expect(said).toContain(today ? `You pay ${moneyText(today, "EUR")} today` : "You pay nothing")
        const total = totalOf(plan)
        if (total !== null && chargesOf(plan, 2).length > 1) expect(said).toContain(`${moneyText(total, "EUR")} in all`)
        for (const c of chargesOf(plan, 3)) if (c.n > 0) expect(said).toContain(moneyText(c.gross, "EUR"))
      }),
    )
  })
})

describe("terms at the door", () => {
  it.each([
    ["negative", { kind: "full", amount: -1 }],
    ["nothing", { kind: "full", amount: 0 }],
    ["huge", { kind: "full", amount: 10_000_000_000 }],
    ["a fraction", { kind: "full", amount: 10.5 }],
    ["not a number", { kind: "full", amount: Number.NaN }],
    ["no instalments", { kind: "instalments", upFront: 0, amount: 5, times: 0, every: { unit: "month", count: 1 } }],
    [
      "an interval of nothing",
      { kind: "subscription", upFront: 0, trial: null, amount: 5, times: null, every: { unit: "month", count: 0 } },
    ],
    ["an unknown kind", { kind: "auction", amount: 5 }],
  ])("refuse %s", (_, terms) => {
    expect(v.safeParse(termsSchema, terms).success).toBe(false)
  })
  it("take what the properties above ran on", () => {
    fc.assert(fc.property(anyTerms, (terms) => v.safeParse(termsSchema, terms).success))
  })
})
