import * as v from "valibot"
import { describe, expect, it } from "vitest"
import {
  beliefOf,
  type CashKnown,
  chanceToLose,
  forecast,
  forecastDocument,
  forecastSteps,
  freshForecast,
  usualOf,
} from "./forecast"
import { measured } from "./measured"
import { meanOf, quantile } from "./rate"
import { quantileOf, simulate } from "./simulate"

const step = (id: number, kind: string) =>
  ({ id, kind, name: `Step ${id}`, path: "", page: null, settings: {} }) as unknown as Parameters<
    typeof measured
  >[0]["steps"][number]
const funnel = {
  steps: [step(1, "sales"), step(2, "checkout"), step(3, "welcome")],
  streams: [
    { from: 1, outcome: "clicked" as const, to: 2 },
    { from: 2, outcome: "bought" as const, to: 3 },
  ],
}
const fresh = measured(funnel, [], new Map())
const passed = [
  { from: 0, outcome: "", step: 1, n: 800 },
  { from: 0, outcome: "", step: 2, n: 200 },
  { from: 1, outcome: "clicked", step: 2, n: 200 },
  { from: 2, outcome: "bought", step: 3, n: 100 },
]
const known = measured(funnel, passed, new Map([[2, { mean: 10_000, some: [5_000, 15_000] }]]))
const shares = { later: 1, refunds: 0, fees: 0, commissions: 0 }
const selling = (net: number): CashKnown => ({
  sales: new Map([[2, { seen: [], planned: [{ n: 0, month: 0, net }] }]]),
  shares,
})
const nothing: CashKnown = { sales: new Map(), shares }
const from = (perDay: number, click = 0) => [{ name: "", perDay, click }]
const sure = (step: number, outcome: string, rate: number) => ({ step, outcome, from: rate, likely: rate, to: rate })

describe("a forecast", () => {
  it("of a funnel that nobody has seen is what is assumed: worked out by hand", () => {
    const doc = {
      ...freshForecast,
      sources: [...from(60, 50), { name: "letter", perDay: 40, click: 50 }],
      days: 10,
      rates: [sure(1, "clicked", 0.2), sure(2, "bought", 0.1)],
    }
    const steps = forecastSteps(fresh, doc, selling(20_000))
    const f = forecast(steps, fresh, doc)
    expect(f.visits.get(2)).toBeCloseTo(200, 1)
    expect(f.took.get("2 bought")).toBeCloseTo(20, 2)
    expect(f.total / 100).toBeCloseTo(4_000, 0)
    expect(f.perVisitor! / 100).toBeCloseTo(4, 2)
    expect(f.cost).toBe(50_000)
    expect(f.costOfBuyer! / 100).toBeCloseTo(25, 2)
    expect(f.perOrder! / 100).toBeCloseTo(200, 1)
  })

  it("of one that runs begins where visitors came in, with what was counted and what it brought", () => {
    const doc = { ...freshForecast, sources: from(10), days: 10 }
    const steps = forecastSteps(known, doc, selling(10_000))
    expect(steps.map((s) => s.comes)).toEqual([80, 20, 0])
    const f = forecast(steps, known, doc)
    expect(f.total / 100).toBeCloseTo((80 * 0.25 + 20) * 0.25 * 100, -1)
    // A price that is typed stands for what was measured.
    const dearer = forecastSteps(known, { ...doc, brings: [{ step: 2, amount: 30_000 }] }, nothing)
    expect(forecast(dearer, known, doc).total / f.total).toBeCloseTo(3, 6)
  })

  it("joins an assumption with what was counted by the weight of its range, or leaves it alone", () => {
    const clicked = known[0]!.outcomes[0]!
    const assumed = { from: 0.4, likely: 0.5, to: 0.6 }
    const [alone, joined] = [beliefOf(clicked, assumed, false), beliefOf(clicked, assumed, true)]
    expect(meanOf(alone)).toBeCloseTo(0.5, 2)
    // 800 people with a quarter, against some forty with a half.
    expect(meanOf(joined)).toBeGreaterThan(0.25)
    expect(meanOf(joined)).toBeLessThan(0.28)
    expect(quantile(joined, 0.9) - quantile(joined, 0.1)).toBeLessThan(quantile(alone, 0.9) - quantile(alone, 0.1))
    expect(meanOf(beliefOf(clicked, undefined, true))).toBeCloseTo(0.25, 2)
    const nobody = fresh[0]!.outcomes[0]!
    expect(quantile(beliefOf(nobody, undefined, true), 0.5)).toBeGreaterThan(usualOf("clicked").from)
  })

  it("says how likely it is to lose money", () => {
    const doc = {
      ...freshForecast,
      sources: from(100),
      days: 10,
      rates: [sure(1, "clicked", 0.2), sure(2, "bought", 0.1)],
    }
    const s = simulate(forecastSteps(fresh, doc, selling(20_000)), { runs: 2_000, seed: 5 })
    expect(chanceToLose(s, 0)).toBe(0)
    expect(chanceToLose(s, quantileOf(s, 0.3))).toBeCloseTo(0.3, 1)
    expect(chanceToLose(s, 1e12)).toBe(1)
    // Twenty buyers on average: as a Poisson, fewer than fifteen come in 10.5 of a hundred (tables of the Poisson distribution, from memory).
    expect(chanceToLose(s, 15 * 20_000)).toBeCloseTo(0.105, 1)
  })

  it("refuses what can't be", () => {
    const refused = (change: object) => !v.safeParse(forecastDocument, { ...freshForecast, ...change }).success
    expect(refused({})).toBe(false)
    for (const change of [
      { sources: [] },
      { sources: from(-1) },
      { sources: from(1, 1.5) },
      { later: 1.01 },
      { days: 0 },
      { version: 3 },
      { rates: [{ step: 1, outcome: "x", from: 0, likely: 0.5, to: 1.1 }] },
    ])
      expect(refused(change), JSON.stringify(change)).toBe(true)
    const turned = { ...freshForecast, rates: [{ step: 1, outcome: "clicked", from: 0.5, likely: 0.2, to: 0.6 }] }
    expect(() => forecastSteps(fresh, turned, nothing)).toThrow(/between the two others/)
  })
})

describe("an assumption of before", () => {
  it("with one source and its click is read as it was", () => {
    const { sources: _, later, refunds, fees, commissions, without, order, added, ...rest } = freshForecast
    const first = { ...rest, version: 1, perDay: 12.5, click: 80, days: 14 }
    expect(v.parse(forecastDocument, first)).toEqual({ ...freshForecast, sources: from(12.5, 80), days: 14 })
    expect([later, refunds, fees, commissions, without, order, added]).toEqual([null, null, null, null, [], [], []])
  })
})
