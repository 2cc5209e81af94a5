// The river in money, by property: whatever people paid on whatever way, every step adds up, and nothing is lost or made.

import fc from "fast-check"
import { describe, expect, it } from "vitest"
import { sellingFunnel } from "../../../tests/support/sample"
import { moneyRiverOf, outlineOf, paidHere, type Resting, type RiverFlow } from "./river"

const funnel = sellingFunnel()
const ids = funnel.steps.map((s) => s.id)

/** A journey: the steps it came to, in order, and what was paid at each before going on. */
type Journey = { readonly steps: readonly number[]; readonly paid: readonly number[]; readonly recent: boolean }

const journey: fc.Arbitrary<Journey> = fc
  .record({
    length: fc.integer({ min: 1, max: ids.length }),
    paid: fc.array(fc.oneof(fc.constant(0), fc.integer({ min: 1, max: 99_999 })), {
      minLength: ids.length,
      maxLength: ids.length,
    }),
    order: fc.shuffledSubarray(ids, { minLength: ids.length }),
    recent: fc.boolean(),
  })
  .map(({ length, paid, order, recent }) => ({ steps: order.slice(0, length), paid: paid.slice(0, length), recent }))

/** What the facts of these journeys come to: an arrival carries what had been paid by then. */
function world(journeys: readonly Journey[]) {
  const flows: RiverFlow[] = []
  const rest = new Map<number, Resting>()
  const recent = new Map<number, Resting>()
  let total = 0
  for (const j of journeys) {
    let paid = 0
    j.steps.forEach((step, i) => {
      if (i > 0) paid += j.paid[i - 1]!
      const from = i === 0 ? 0 : j.steps[i - 1]!
      flows.push({
        step,
        from,
        outcome: from ? "accepted" : "",
        via: from ? "page" : "source",
        source: "x",
        n: 1,
        money: paid,
      })
    })
    paid += j.paid.at(-1)!
    total += paid
    const last = j.steps.at(-1)!
    for (const map of j.recent ? [rest, recent] : [rest]) {
      const before = map.get(last) ?? { n: 0, money: 0 }
      map.set(last, { n: before.n + 1, money: before.money + paid })
    }
  }
  return { flows, rest, recent, total }
}

describe("the river in money", () => {
  it("adds up at every step, and holds all that was paid, no more", () => {
    fc.assert(
      fc.property(fc.array(journey, { maxLength: 40 }), (journeys) => {
        const { flows, rest, recent, total } = world(journeys)
        const river = moneyRiverOf(funnel, flows, recent, rest)
        for (const s of river.steps) {
          expect(s.in).toBe(s.on + s.here + s.left)
          expect(Math.min(s.on, s.here, s.left)).toBeGreaterThanOrEqual(0)
          const brought = river.streams.filter((w) => w.to === s.id).reduce((sum, w) => sum + w.n, 0)
          expect(brought + s.sources.reduce((sum, x) => sum + x.n, 0)).toBe(s.in)
        }
        expect(river.steps.reduce((sum, s) => sum + s.here + s.left, 0)).toBe(total)
        expect(river.steps.flatMap((s) => s.sources).reduce((sum, x) => sum + x.n, 0)).toBe(total)
      }),
      { seed: 20261125, numRuns: 300 },
    )
  })
  it("says where money comes in, and reads in words as amounts", () => {
    const [sales, checkout, further, , welcome] = ids as [number, number, number, number, number]
    const { flows, rest, recent } = world([
      { steps: [sales, checkout, further, welcome], paid: [0, 29_000, 6_400, 0], recent: true },
      { steps: [sales, checkout, further], paid: [0, 29_000, 0], recent: false },
      { steps: [sales], paid: [0], recent: false },
    ])
    const river = moneyRiverOf(funnel, flows, recent, rest)
    const at = (id: number) => river.steps.find((s) => s.id === id)!
    expect(at(sales)).toMatchObject({ in: 0, sources: [] })
    expect(at(checkout)).toMatchObject({ in: 58_000, on: 58_000, sources: [{ name: paidHere, n: 58_000 }] })
    expect(at(further)).toMatchObject({ in: 64_400, on: 35_400, left: 29_000, sources: [{ name: paidHere, n: 6_400 }] })
    expect(at(welcome)).toMatchObject({ in: 35_400, here: 35_400, sources: [] })
    expect(river.pools).toEqual([])
    const words = outlineOf(river, (n) => `${n / 100} euros`)
    expect(words.find((w) => w.step === further)).toMatchObject({
      text: "Koji, upsell: 644 euros",
      ways: expect.arrayContaining([`64 euros ${paidHere}`, "290 euros left"]),
    })
  })
})
