// What somebody meets next, given all they have and all they have said: as a decision table, and by property over funnels
// of every wiring. The rules are those of the trade (common practice): nothing twice, nothing they own, every way ends.

import fc from "fast-check"
import { describe, expect, it } from "vitest"
import { sellingFunnel } from "../../../tests/support/sample"
import type { Funnel, Step } from "./draft"
import { stepById } from "./draft"
import { type FunnelStanding, nextStep, type Skipped } from "./next-step"
import { type Outcome, offerOf } from "./step/list"

const funnel = sellingFunnel()
const [, checkout, further, second, welcome] = funnel.steps.map((s) => s.id) as [number, number, number, number, number]
type Said = "accepted" | "declined"
const standing = (
  s: { has?: number[]; state?: Record<number, string>; said?: [number, Said][] } = {},
): FunnelStanding => ({
  has: (offer) => s.has?.includes(offer) ?? false,
  availability: (offer) => (s.state?.[offer] ?? "open") as "open",
  said: new Map(s.said ?? []),
})
const withStep = (id: number, change: Partial<Step>): Funnel => ({
  ...funnel,
  steps: funnel.steps.map((s) =>
    s.id === id ? { ...s, ...change, settings: { ...s.settings, ...change.settings } } : s,
  ),
})
const skip = (step: number, as: Said, why: Skipped["why"]): Skipped => ({ step, as, why })

describe("the decision table", () => {
  // Offers: 1 the course, 2 Koji (further), 3 the clinic (second chance).
  const table: [string, number, Outcome, FunnelStanding, number, Skipped[], Funnel?][] = [
    ["after buying, the further offer", checkout, "bought", standing(), further, []],
    ["whoever accepts is let in", further, "accepted", standing(), welcome, []],
    ["whoever declines meets the second chance", further, "declined", standing(), second, []],
    ["and whoever declines that is let in", second, "declined", standing(), welcome, []],
    [
      "who has it, as if accepted",
      checkout,
      "bought",
      standing({ has: [2] }),
      welcome,
      [skip(further, "accepted", "has it")],
    ],
    [
      "who has it, as if declined where set so",
      checkout,
      "bought",
      standing({ has: [2] }),
      second,
      [skip(further, "declined", "has it")],
      withStep(further, { settings: { skipAs: "declined" } }),
    ],
    [
      "who has both, set so, is let in",
      checkout,
      "bought",
      standing({ has: [2, 3] }),
      welcome,
      [skip(further, "declined", "has it"), skip(second, "accepted", "has it")],
      withStep(further, { settings: { skipAs: "declined" } }),
    ],
    [
      "sold out is passed",
      checkout,
      "bought",
      standing({ state: { 2: "sold-out" } }),
      welcome,
      [skip(further, "accepted", "sold out")],
    ],
    [
      "over is passed",
      checkout,
      "bought",
      standing({ state: { 2: "over" } }),
      welcome,
      [skip(further, "accepted", "over")],
    ],
    [
      "not yet is passed",
      checkout,
      "bought",
      standing({ state: { 2: "not-yet" } }),
      welcome,
      [skip(further, "accepted", "over")],
    ],
    [
      "taken off is passed",
      checkout,
      "bought",
      standing({ state: { 2: "removed" } }),
      welcome,
      [skip(further, "accepted", "over")],
    ],
    [
      "answered is not asked again, yes",
      checkout,
      "bought",
      standing({ said: [[further, "accepted"]] }),
      welcome,
      [skip(further, "accepted", "answered")],
    ],
    [
      "answered is not asked again, no",
      checkout,
      "bought",
      standing({ said: [[further, "declined"]] }),
      second,
      [skip(further, "declined", "answered")],
    ],
    [
      "the same offer elsewhere was answered: as there",
      checkout,
      "bought",
      standing({ said: [[second, "declined"]] }),
      welcome,
      [skip(further, "declined", "seen before"), skip(second, "declined", "answered")],
      withStep(second, { settings: { offer: 2 } }),
    ],
    [
      "a step without an offer is passed as set",
      checkout,
      "bought",
      standing(),
      second,
      [skip(further, "declined", "nothing to offer")],
      withStep(further, { settings: { offer: null, skipAs: "declined" } }),
    ],
  ]
  it.each(table)("%s", (_, from, outcome, who, to, skipped, f = funnel) => {
    const next = nextStep(f, from, outcome, who)
    expect([next.step?.id, next.skipped]).toEqual([to, skipped])
  })
  it("an outcome that leads nowhere leads nowhere", () => {
    const cut = { ...funnel, streams: funnel.streams.filter((s) => s.from !== checkout) }
    expect(nextStep(cut, checkout, "bought", standing()).step).toBeNull()
  })
})

describe("whatever the wiring", () => {
  // Up to ten further offers, wired to each other and the welcome page in any way, circles included.
  const world = fc.integer({ min: 1, max: 10 }).chain((n) =>
    fc.record({
      n: fc.constant(n),
      to: fc.array(fc.tuple(fc.integer({ min: 0, max: n }), fc.integer({ min: 0, max: n })), {
        minLength: n,
        maxLength: n,
      }),
      offers: fc.array(fc.integer({ min: 1, max: 6 }), { minLength: n, maxLength: n }),
      skips: fc.array(fc.constantFrom<Said>("accepted", "declined"), { minLength: n, maxLength: n }),
      owned: fc.array(fc.integer({ min: 1, max: 6 }), { maxLength: 3 }),
      out: fc.array(fc.integer({ min: 1, max: 6 }), { maxLength: 2 }),
      answers: fc.array(fc.constantFrom<Said>("accepted", "declined"), { minLength: 12, maxLength: 12 }),
    }),
  )
  it("every path ends at the welcome page, offers nothing twice and nothing they own", () => {
    fc.assert(
      fc.property(world, (w) => {
        const base = stepById(funnel, further)!
        const at = (k: number) => (k === 0 ? welcome : 100 + k)
        const steps = Array.from({ length: w.n }, (_, k) => ({
          ...base,
          id: at(k + 1),
          settings: { offer: w.offers[k]!, terms: null, replaces: false, skipAs: w.skips[k]! },
        }))
        const f: Funnel = {
          ...funnel,
          steps: [...funnel.steps, ...steps],
          streams: [
            { from: checkout, outcome: "bought", to: at(1) },
            ...w.to.flatMap(([yes, no], k) => [
              { from: at(k + 1), outcome: "accepted" as const, to: at(yes) },
              { from: at(k + 1), outcome: "declined" as const, to: at(no) },
            ]),
          ],
        }
        const has = new Set(w.owned)
        const said = new Map<number, Said>()
        const offered: number[] = []
        let from = checkout
        let outcome: Outcome = "bought"
        for (let turn = 0; ; turn++) {
          expect(turn).toBeLessThanOrEqual(w.n)
          const next = nextStep(f, from, outcome, {
            has: (o) => has.has(o),
            availability: (o) => (w.out.includes(o) ? "sold-out" : "open"),
            said,
          })
          if (next.step?.kind !== "further") {
            expect(next.step?.id).toBe(welcome)
            break
          }
          const offer = offerOf(next.step)!
          expect(has.has(offer)).toBe(false)
          expect(w.out).not.toContain(offer)
          expect(offered).not.toContain(offer)
          offered.push(offer)
          const answer = w.answers[turn]!
          said.set(next.step.id, answer)
          if (answer === "accepted") has.add(offer)
          from = next.step.id
          outcome = answer
        }
      }),
      { seed: 20261124, numRuns: 600 },
    )
  })
})
