// Attendance by worked examples written out by hand, and by what must hold of any: never more than the webinar, never negative, the
// union of the devices, and a curve that adds up.
import fc from "fast-check"
import { describe, expect, it } from "vitest"
import { attendanceOf, beatEvery, beatOf, curveOf, lengthOf, presenceOf, type Stay, staysOf } from "./attendance"

const s = (seconds: number) => seconds * 1000
const hour: Stay = { from: 0, to: s(3600) }
/** Beats every fifteen seconds. */
const beats = (from: number, to: number) =>
  Array.from({ length: Math.floor((to - from) / 15) + 1 }, (_, i) => s(from + i * 15))

describe("stays, from beats", () => {
  it.each([
    ["all of them", beats(0, 60), [[0, 60]]],
    ["two lost in between", [0, 15, 60, 75].map(s), [[0, 75]]],
    [
      "three lost: away",
      [0, 15, 75, 90].map(s),
      [
        [0, 15],
        [75, 90],
      ],
    ],
    [
      "a laptop that slept for twenty minutes",
      [...beats(0, 300), ...beats(1500, 1800)],
      [
        [0, 300],
        [1500, 1800],
      ],
    ],
    ["out of order, and twice", [30, 0, 15, 15, 30].map(s), [[0, 30]]],
    ["one", [s(7)], [[7, 7]]],
    ["none", [], []],
  ])("%s", (_, at, stays) => {
    expect(staysOf(at)).toEqual(stays.map(([from, to]) => ({ from: s(from!), to: s(to!) })))
  })

  it("come to the same one beat after the other; one from before changes nothing", () => {
    expect(beatOf({ from: s(10), to: s(40) }, s(20))).toEqual({ from: s(10), to: s(40) })
    expect(beatOf({ from: s(10), to: s(40) }, s(85))).toEqual({ from: s(10), to: s(85) })
    expect(beatOf({ from: s(10), to: s(40) }, s(86))).toEqual({ from: s(86), to: s(86) })
  })
})

describe("presence", () => {
  it.each([
    [
      "phone and laptop at once count once",
      [
        [0, 600],
        [300, 900],
      ],
      [[0, 900]],
      900,
    ],
    [
      "one after the other",
      [
        [900, 1200],
        [0, 600],
      ],
      [
        [0, 600],
        [900, 1200],
      ],
      900,
    ],
    [
      "before the start and after the end doesn't count",
      [
        [-300, 60],
        [3500, 4000],
      ],
      [
        [0, 60],
        [3500, 3600],
      ],
      160,
    ],
    ["only before", [[-300, -10]], [], 0],
    [
      "within another",
      [
        [0, 600],
        [100, 200],
      ],
      [[0, 600]],
      600,
    ],
  ])("%s", (_, stays, presence, seconds) => {
    const found = presenceOf(
      stays.map(([from, to]) => ({ from: s(from!), to: s(to!) })),
      hour,
    )
    expect(found).toEqual(presence.map(([from, to]) => ({ from: s(from!), to: s(to!) })))
    expect(lengthOf(found)).toBe(s(seconds))
  })

  it("is never more than the webinar, never negative, and the union of the devices", () => {
    const device = fc.array(fc.integer({ min: -20, max: 80 }), { maxLength: 30 })
    fc.assert(
      fc.property(fc.array(device, { maxLength: 4 }), (devices) => {
        const within = { from: 0, to: 60 * beatEvery }
        const stays = devices.flatMap((beats) => staysOf(beats.map((b) => b * beatEvery)))
        const found = presenceOf(stays, within)
        expect(lengthOf(found)).toBeGreaterThanOrEqual(0)
        expect(lengthOf(found)).toBeLessThanOrEqual(within.to)
        // Each half-beat of time is there if one of the devices was.
        for (let t = beatEvery / 2; t < within.to; t += beatEvery)
          expect(found.some((p) => p.from <= t && t <= p.to)).toBe(stays.some((p) => p.from <= t && t <= p.to))
        for (const [i, p] of found.entries()) if (i) expect(p.from).toBeGreaterThan(found[i - 1]!.to)
        // Whoever has another device is there no less.
        for (const beats of devices)
          expect(lengthOf(presenceOf(staysOf(beats.map((b) => b * beatEvery)), within))).toBeLessThanOrEqual(
            lengthOf(found),
          )
      }),
      { seed: 3, numRuns: 400 },
    )
  })
})

describe("what it comes to", () => {
  const limits = { attended: 75, missed: 5 }
  it.each([
    ["three quarters", [[0, 2700]], "attended"],
    ["a second less", [[0, 2699]], "left-early"],
    [
      "in two parts",
      [
        [0, 1500],
        [2000, 3200],
      ],
      "attended",
    ],
    ["five minutes", [[600, 900]], "left-early"],
    ["less", [[600, 899]], "missed"],
    ["one beat", [[600, 600]], "missed"],
    ["never", [], "missed"],
  ] as const)("%s: %s", (_, stays, comes) => {
    const presence = stays.map(([from, to]) => ({ from: s(from), to: s(to) }))
    expect(attendanceOf(presence, hour, limits)).toBe(comes)
  })
  it("who came at all has not missed it where nothing is asked", () => {
    expect(attendanceOf([{ from: 0, to: s(15) }], hour, { attended: 100, missed: 0 })).toBe("left-early")
    expect(attendanceOf([], hour, { attended: 1, missed: 0 })).toBe("missed")
  })
})

describe("the curve", () => {
  it("is written out by hand", () => {
    const within = { from: 0, to: s(300) }
    const curve = curveOf(
      [
        [{ from: 0, to: s(300) }],
        [
          { from: s(30), to: s(40) },
          { from: s(50), to: s(130) },
        ],
        [{ from: s(60), to: s(120) }],
        [],
      ],
      within,
    )
    expect(curve).toEqual([2, 3, 2, 1, 1])
  })

  it("adds up to everybody's minutes, and never shows more than there are", () => {
    const stay = fc
      .tuple(fc.integer({ min: 0, max: 3600 }), fc.integer({ min: 0, max: 900 }))
      .map(([from, length]) => ({ from: s(from), to: s(from + length) }))
    fc.assert(
      fc.property(fc.array(fc.array(stay, { maxLength: 5 }), { maxLength: 12 }), (all) => {
        const people = all.map((stays) => presenceOf(stays, hour))
        const curve = curveOf(people, hour)
        expect(curve).toHaveLength(60)
        const minutes = people.map(
          (presence) =>
            curve.filter((_, m) =>
              presence.some(
                (p) =>
                  // The minute in which it begins, and every one of which some time is in it.
                  Math.min(59, Math.floor(p.from / 60_000)) === m || (p.from < (m + 1) * 60_000 && p.to > m * 60_000),
              ),
            ).length,
        )
        expect(curve.reduce((a, b) => a + b, 0)).toBe(minutes.reduce((a, b) => a + b, 0))
        expect(Math.max(0, ...curve)).toBeLessThanOrEqual(people.length)
      }),
      { seed: 9, numRuns: 400 },
    )
  })
})
