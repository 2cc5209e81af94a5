import { expect, it } from "vitest"
import { proportion } from "../proportion"
import { difference, differenceOf } from "./difference"

it("is the interval of Newcombe (1998), table II, method 10 (from memory)", () => {
  const table = [
    [[56, 70], [48, 80], 0.0524, 0.3339],
    [[9, 10], [3, 10], 0.1705, 0.809],
    [[6, 7], [2, 7], 0.0582, 0.8062],
    [[5, 56], [0, 29], -0.0381, 0.1926],
    [[0, 10], [0, 20], -0.1611, 0.2775],
    [[0, 10], [0, 10], -0.2775, 0.2775],
    [[10, 10], [0, 20], 0.6791, 1],
    [[10, 10], [0, 10], 0.6075, 1],
  ] as const
  for (const [a, b, low, high] of table) {
    const d = differenceOf(a, b)!
    expect([d.low, d.high], `${a} and ${b}`).toEqual([expect.closeTo(low, 4), expect.closeTo(high, 4)])
  }
})

it("is turned round by turning its shares round, and nothing of nobody", () => {
  const [there, back] = [differenceOf([7, 30], [12, 41])!, differenceOf([12, 41], [7, 30])!]
  expect([there.low, there.high]).toEqual([expect.closeTo(-back.high, 12), expect.closeTo(-back.low, 12)])
  expect(difference(proportion(0, 0), proportion(1, 2))).toBeNull()
})
