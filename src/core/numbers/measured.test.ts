import { expect, it } from "vitest"
import type { Funnel } from "../funnel/draft"
import { expected } from "./chain"
import { chainOf, measured, unsureOf, whatFirst } from "./measured"
import { simulate } from "./simulate"

const step = (id: number, kind: string, name: string) =>
  ({ id, kind, name, path: "", page: null, settings: {} }) as unknown as Funnel["steps"][number]

const funnel = {
  steps: [
    step(1, "sales", "A Year"),
    step(2, "checkout", "Checkout"),
    step(3, "further", "Tray"),
    step(4, "further", "Clinic"),
    step(5, "welcome", "Welcome"),
  ],
  streams: [],
}
const passed = [
  { from: 0, outcome: "", step: 1, n: 1_000 },
  { from: 1, outcome: "clicked", step: 2, n: 300 },
  { from: 0, outcome: "", step: 2, n: 100 },
  { from: 2, outcome: "bought", step: 3, n: 80 },
  { from: 3, outcome: "accepted", step: 5, n: 20 },
  { from: 3, outcome: "declined", step: 4, n: 50 },
  { from: 4, outcome: "accepted", step: 5, n: 10 },
  { from: 4, outcome: "declined", step: 5, n: 40 },
]
const brings = new Map([
  [2, { mean: 20_000, some: [] }],
  [3, { mean: 5_000, some: [] }],
  [4, { mean: 2_000, some: [] }],
])
const steps = measured(funnel, passed, brings)

it("reckons back what was measured: the same people, and the same money", () => {
  const e = expected(chainOf(steps))
  expect([...e.visits].map(([id, n]) => [id, Math.round(n)])).toEqual(
    [
      [1, 1_000],
      [2, 400],
      [3, 80],
      [4, 50],
      [5, 80],
    ].map(([id, n]) => [id, id === 5 ? 20 + 50 : n]),
  )
  expect(e.total).toBeCloseTo(80 * 20_000 + 20 * 5_000 + 10 * 2_000, 6)
})

it("says what to change first: one more of a hundred at the checkout, worked out by hand", () => {
  const { first } = whatFirst(steps)
  // At the tray 20 of 80 bring 50.00, 50 go on to the clinic, where 10 of 50 bring 20.00.
  const clinic = (10 / 50) * 2_000
  const tray = (20 / 80) * 5_000 + (50 / 80) * clinic
  const found = Object.fromEntries(first.map((f) => [`${f.name} ${f.outcome}`, f.perPoint]))
  expect(found["Checkout bought"]).toBeCloseTo((400 * (20_000 + tray)) / 100, 6)
  // More who click come to the checkout, where a fifth buys.
  expect(found["A Year clicked"]).toBeCloseTo((1_000 * (80 / 400) * (20_000 + tray)) / 100, 6)
  // Who accepts the tray would have declined it, and gone on to the clinic.
  expect(found["Tray accepted"]).toBeCloseTo((80 * (5_000 - clinic)) / 100, 6)
  expect(found["Clinic accepted"]).toBeCloseTo((50 * 2_000) / 100, 6)
  expect(first.map((f) => f.outcome)).not.toContain("declined")
  expect(first[0]).toMatchObject({ name: "Checkout", outcome: "bought" })
  // The better quarter of a rate lies above it, and brings what the way there does.
  for (const f of first.filter((x) => x.perPoint > 0)) {
    const rate = f.outcomeOf.rate.hits / f.outcomeOf.rate.of
    expect(f.better.rate).toBeGreaterThan(rate)
    expect(f.better.brings).toBeCloseTo(f.perPoint * 100 * (f.better.rate - rate), 4)
  }
})

it("leaves out what passed a step that is gone, and counts who came from it as come from outside", () => {
  const less = measured({ ...funnel, steps: funnel.steps.filter((s) => s.id !== 1) }, passed, brings)
  expect(less.find((s) => s.id === 2)).toMatchObject({ comes: 400, visits: 400 })
  const more = measured({ ...funnel, steps: [...funnel.steps, step(9, "sales", "New")] }, passed, brings)
  expect(more.find((s) => s.id === 9)).toMatchObject({ comes: 0, visits: 0 })
  expect(whatFirst(more).first.map((f) => f.name)).not.toContain("New")
})

it("reckons with nobody, and with everybody", () => {
  expect(whatFirst(measured(funnel, [], new Map())).first).toEqual([])
  const all = measured(
    funnel,
    [
      { from: 0, outcome: "", step: 1, n: 1 },
      { from: 1, outcome: "clicked", step: 2, n: 1 },
    ],
    brings,
  )
  expect(expected(chainOf(all)).visits.get(2)).toBe(1)
  expect(simulate(unsureOf(all, 0), { runs: 2, seed: 1 }).people).toBe(0)
})
