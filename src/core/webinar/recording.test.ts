// Where a recording stands, worked out by hand.
import { expect, it } from "vitest"
import { playingAt } from "./recording"

it.each([
  ["before", -90_000, { phase: "before", inMs: 90_000 }],
  ["at the start", 0, { phase: "running", second: 0 }],
  ["in the middle, for whoever comes late", 600_500, { phase: "running", second: 600.5 }],
  ["its last second", 3_599_000, { phase: "running", second: 3599 }],
  ["over", 3_600_000, { phase: "over" }],
])("%s", (_, ms, playing) => {
  expect(playingAt(1_000_000, 60, 3600, 1_000_000 + ms)).toEqual(playing)
})

it("begins anew where it is shorter than the webinar; nothing is known of its length: it just runs", () => {
  expect(playingAt(0, 60, 120, 250_000)).toEqual({ phase: "running", second: 10 })
  expect(playingAt(0, 60, 0, 250_000)).toEqual({ phase: "running", second: 250 })
})
