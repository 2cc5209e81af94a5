import fc from "fast-check"
import { expect, it } from "vitest"
import { addBrought, type Brought, boughtOf, costOf, mostForClick, nothingBrought, perVisitor } from "./brought"

/** From what was kept of each visitor. */
const of = (kept: readonly number[]): Brought => ({
  ...nothingBrought,
  visited: kept.length,
  joined: kept.filter((k) => k > 0).length,
  bought: kept.filter((k) => k > 0).length,
  orders: kept.filter((k) => k > 0).length,
  income: kept.reduce((a, b) => a + b, 0),
  kept: kept.reduce((a, b) => a + b, 0),
  keptSquares: kept.reduce((a, b) => a + b * b, 0),
})

it("what a visitor brought is the mean of all, with the textbook's interval of a mean", () => {
  // 100 visitors, ten of whom bring 200.00: mean 20.00, standard deviation 60.00, standard error 6.00.
  const b = of([...Array(10).fill(20_000), ...Array(90).fill(0)])
  const each = perVisitor(b)!
  expect(each.each).toBe(2_000)
  expect(each.high - each.each).toBeCloseTo(1.959964 * 600, 2)
  expect(boughtOf(b)).toMatchObject({
    hits: 10,
    of: 100,
    low: expect.closeTo(0.0552, 4),
    high: expect.closeTo(0.1744, 4),
  })
  expect(mostForClick(b, 3_000)).toBe(1_400)
  expect(mostForClick(b, 0)).toBe(2_000)
  expect(mostForClick(b, 10_000)).toBe(0)
})

it("adds up as if all had come together", () => {
  fc.assert(
    fc.property(fc.array(fc.integer({ min: 0, max: 1e6 })), fc.array(fc.integer({ min: 0, max: 1e6 })), (a, b) => {
      expect(addBrought(of(a), of(b))).toEqual(of([...a, ...b]))
    }),
  )
})

it("says that a source paid only where it is sure, and that it didn't likewise", () => {
  const b = of([...Array(50).fill(20_000), ...Array(950).fill(0)])
  expect(perVisitor(b)!.each).toBe(1_000)
  expect(costOf(b, 500_000)).toMatchObject({ verdict: "paid", click: 500, buyer: 10_000, back: 2 })
  expect(costOf(b, 900_000).verdict).toBe("open")
  expect(costOf(b, 1_100_000).verdict).toBe("open")
  expect(costOf(b, 2_000_000)).toMatchObject({ verdict: "lost", back: 0.5 })
})

it("reckons with nobody, one, and a loss", () => {
  expect(perVisitor(nothingBrought)).toBeNull()
  expect(mostForClick(nothingBrought, 0)).toBeNull()
  expect(costOf(nothingBrought, 100)).toEqual({ cost: 100, click: null, buyer: null, back: 0, verdict: "lost" })
  expect(costOf(nothingBrought, 0)).toMatchObject({ back: null, verdict: "open" })
  expect(perVisitor(of([5_000]))).toEqual({ each: 5_000, low: 5_000, high: 5_000 })
  // A refund takes more than came: nothing may be paid for a click.
  expect(mostForClick({ ...of([100, 100]), kept: -500 }, 0)).toBe(0)
})
