// Expected values follow from the definition: the time since it began, by the clock that is given.
import { describe, expect, it } from "vitest"
import { playingAt } from "./recording"

const start = Date.parse("2026-12-03T19:00:00Z")
const minutes = (n: number) => start + n * 60_000
const recorded = { starts: start, live: null, over: minutes(60) }

describe("where it stands", () => {
  it.each([
    ["a minute before", minutes(-1), { phase: "before", inMs: 60_000 }],
    ["at the start", start, { phase: "running", second: 0, elapsed: 0 }],
    ["in the middle, for whoever comes late, too", minutes(30), { phase: "running", second: 1800, elapsed: 1800 }],
    ["a millisecond before its end", minutes(60) - 1, { phase: "running", second: 3599.999, elapsed: 3599.999 }],
    ["at its end", minutes(60), { phase: "over" }],
  ])("%s", (_, now, expected) => expect(playingAt(recorded, 3600, now)).toEqual(expected))

  it("a recording of two minutes that stands for sixty begins anew", () =>
    expect(playingAt(recorded, 120, minutes(5))).toEqual({ phase: "running", second: 60, elapsed: 300 }))

  it.each([
    ["before its time", { begun: null }, minutes(-2), { phase: "before", inMs: 120_000 }],
    ["the host is late", { begun: null }, minutes(3), { phase: "waiting" }],
    ["the host never came", { begun: null }, minutes(60), { phase: "over" }],
    [
      "the host began four minutes late",
      { begun: minutes(4) },
      minutes(10),
      { phase: "running", second: 360, elapsed: 360 },
    ],
    ["the host began before its time", { begun: minutes(-1) }, start, { phase: "running", second: 60, elapsed: 60 }],
  ])("live: %s", (_, live, now, expected) =>
    expect(playingAt({ starts: start, live, over: minutes(60) }, 0, now)).toEqual(expected),
  )
})
