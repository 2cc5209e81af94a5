import fc from "fast-check"
import { describe, expect, it } from "vitest"
import { expected } from "./chain"
import { measured, unknownFurther } from "./measured"
import { atTheirMeans, type UnsureStep } from "./simulate"
import { type FurtherOffer, furtherOffers, leaveOut, offerOrders, offersAdd, reorder, withAdded } from "./what-if"

const sure = (rate: number) => ({ a: rate * 1e9, b: (1 - rate) * 1e9 })
const out = (name: string, rate: number, brings: number, to: number | null) => ({ name, rate: sure(rate), brings, to })
/** A checkout, then an offer with a second chance for whoever turns it down, and the end. */
const shop = (accepts: number, leaves = 0.1): UnsureStep[] => [
  { id: 1, comes: 1_000, outcomes: [out("bought", 0.5, 100, 2)] },
  { id: 2, comes: 0, outcomes: [out("accepted", accepts, 50, 4), out("declined", 1 - leaves - accepts, 0, 3)] },
  { id: 3, comes: 0, outcomes: [out("accepted", 0.2, 20, 4), out("declined", 0.8, 0, 4)] },
  { id: 4, comes: 0, outcomes: [out("started", 0.9, 0, null)] },
]
const offers: FurtherOffer[] = [2, 3].map((id) => ({ id, name: `Offer ${id}`, takes: "accepted", turns: "declined" }))
const total = (steps: readonly UnsureStep[]) => expected(atTheirMeans(steps)).total

describe("a further offer", () => {
  it("adds what leaving it out takes away", () => {
    const [second, third] = offersAdd(shop(0.3), offers)
    expect(second!.adds * 500).toBeCloseTo(total(shop(0.3)) - total(leaveOut(shop(0.3), offers[0])), 2)
    // By hand: 0.3 × 50 + 0.6 × 0.2 × 20, against 0.2 × 20 for everybody.
    expect(second!.adds).toBeCloseTo(0.3 * 50 + 0.6 * 4 - 4, 4)
    expect(third!.adds).toBeCloseTo(4, 4)
  })

  it("is even with none at its least rate: nobody leaving, any is better", () => {
    fc.assert(
      fc.property(fc.double({ min: 0.01, max: 0.3, noNaN: true }), (leaves) => {
        const [{ least } = { least: 0 }] = offersAdd(shop(0.3, leaves), offers)
        expect(least).toBeCloseTo((leaves * 4) / (50 - 4), 4)
        expect(offersAdd(shop(least!, leaves), offers)[0]!.adds).toBeCloseTo(0, 3)
      }),
    )
    expect(offersAdd(shop(0.3, 0), offers)[0]!.least).toBeCloseTo(0, 6)
    // Where it brings less than what comes after it, no rate makes it better.
    const cheap = shop(0.3).map((s) =>
      s.id === 2 ? { ...s, outcomes: [{ ...s.outcomes[0]!, brings: 1 }, s.outcomes[1]!] } : s,
    )
    expect(offersAdd(cheap, offers)[0]!.least).toBeNull()
  })

  it("that is left out is passed by, whoever came to it from outside too", () => {
    const steps = shop(0.3).map((s) => (s.id === 2 ? { ...s, comes: 7 } : s))
    const without = leaveOut(steps, offers[0])
    expect(without.map((s) => s.id)).toEqual([1, 3, 4])
    expect(without[1]!.comes).toBe(7)
    expect(without[0]!.outcomes[0]!.to).toBe(3)
    expect(leaveOut(steps, undefined)).toEqual(steps)
    expect(leaveOut(steps, { ...offers[0]!, id: 99 })).toEqual(steps)
  })
})

describe("a further offer that is tried", () => {
  it("stands after its outcome, leads on to where that led, and counts as one of the further offers", () => {
    const funnel = {
      steps: [
        { id: 1, kind: "checkout", name: "Checkout", path: "c", page: null, settings: {} },
        { id: 2, kind: "welcome", name: "Welcome", path: "w", page: null, settings: {} },
      ],
      streams: [{ from: 1, outcome: "bought" as const, to: 2 }],
    } as unknown as Parameters<typeof measured>[0]
    const steps = measured(funnel, [], new Map())
    const tried = withAdded(
      steps,
      [
        { offer: 7, name: "The Koji Tray", after: 1, outcome: "bought" },
        { offer: 8, name: "Brine Clinic", after: -1, outcome: "declined" },
        { offer: 9, name: "Nowhere", after: 99, outcome: "bought" },
      ],
      unknownFurther(),
    )
    expect(tried.map((s) => s.id)).toEqual([1, -1, -2, 2])
    expect(tried[0]!.outcomes.find((o) => o.name === "bought")!.to).toBe(-1)
    expect(tried[1]!.outcomes.map((o) => o.to)).toEqual([2, -2])
    expect(tried[2]!.outcomes.map((o) => o.to)).toEqual([2, 2])
    expect(furtherOffers(tried).map((o) => o.id)).toEqual([-1, -2])
    expect(withAdded(steps, [], [])).toEqual(steps)
  })
})

describe("the order of further offers", () => {
  it("keeps the ways of the places, and what is offered goes along with its rate", () => {
    const other = reorder(shop(0.3), offers, [3, 2])
    const at = (id: number) => other.find((s) => s.id === id)!
    expect(at(1).outcomes[0]!.to).toBe(3)
    expect(at(3).outcomes.map((o) => o.to)).toEqual([4, 2])
    expect(at(2).outcomes.map((o) => o.to)).toEqual([4, 4])
    // By hand: 500 buyers; a fifth takes the cheap one, the others are offered the dear one.
    expect(total(other)).toBeCloseTo(500 * (100 + 0.2 * 20 + 0.8 * 0.3 * 50), 1)
    expect(reorder(other, [offers[1]!, offers[0]!], [2, 3])).toEqual(shop(0.3))
    for (const none of [[], [2], [2, 2], [2, 9]]) expect(reorder(shop(0.3), offers, none)).toEqual(shop(0.3))
  })

  it("is tried for all of them, the best first", () => {
    const orders = offerOrders(shop(0.3), offers)
    expect(orders).toHaveLength(2)
    expect(orders[0]!.total).toBeGreaterThanOrEqual(orders[1]!.total)
    expect(orders.find((o) => o.order[0] === 2)!.total).toBeCloseTo(total(shop(0.3)), 6)
    expect(offerOrders(shop(0.3), offers.slice(0, 1))).toEqual([])
  })
})
