// A rounded river adds up at each step, and no amount is further than one unit from what it was (integrality theorem of network
// flows, Ford and Fulkerson; from memory). Random rivers, fixed seed.
import fc from "fast-check"
import { describe, expect, it } from "vitest"
import type { River } from "./river"
import { roundRiver } from "./round-river"

/** A river that adds up: streams and rests at random, and at each step a source of what is missing. */
const rivers: fc.Arbitrary<River> = fc
  .record({
    steps: fc.integer({ min: 1, max: 8 }),
    flows: fc.array(fc.record({ a: fc.nat(7), b: fc.nat(7), n: fc.nat(90_000), mail: fc.boolean() }), {
      maxLength: 20,
    }),
    rests: fc.array(fc.record({ here: fc.nat(50_000), left: fc.nat(50_000) }), { minLength: 8, maxLength: 8 }),
  })
  .map(({ steps, flows, rests }) => {
    const streams = flows
      .map((f) => ({ from: 1 + (f.a % steps), to: 1 + (f.b % steps), n: f.n, via: f.mail ? "mail" : "page" }) as const)
      .filter((s) => s.from < s.to)
      .map((s) => ({ ...s, outcome: "accepted" as const }))
    const sum = (all: readonly { n: number }[]) => all.reduce((t, x) => t + x.n, 0)
    return {
      measure: "money",
      streams,
      pools: [],
      steps: Array.from({ length: steps }, (_, i) => {
        const id = i + 1
        const on = sum(streams.filter((s) => s.from === id))
        const brought = sum(streams.filter((s) => s.to === id))
        const { here } = rests[i]!
        const left = Math.max(rests[i]!.left, brought - on - here)
        const paid = on + here + left - brought
        return {
          id,
          name: `S${id}`,
          label: "",
          in: on + here + left,
          on,
          here,
          left,
          sources: paid > 0 ? [{ name: "paid", n: paid }] : [],
        }
      }),
    }
  })

const whole = (n: number, unit: number) => n % unit === 0

describe("a river rounded to whole units", () => {
  it("adds up at each step, and stays within a unit of what it was", () => {
    fc.assert(
      fc.property(rivers, fc.constantFrom(100, 1, 1_000), (river, unit) => {
        const r = roundRiver(river, unit)
        r.streams.forEach((s, i) => {
          expect(whole(s.n, unit) && Math.abs(s.n - river.streams[i]!.n) < unit).toBe(true)
        })
        r.steps.forEach((s, i) => {
          const was = river.steps[i]!
          const brought = r.streams.filter((x) => x.to === s.id).reduce((t, x) => t + x.n, 0)
          const paid = s.sources.reduce((t, x) => t + x.n, 0)
          expect(s.in).toBe(s.on + s.here + s.left)
          expect(s.in).toBe(brought + paid)
          for (const key of ["here", "left"] as const) {
            expect(whole(s[key], unit)).toBe(true)
            expect(Math.abs(s[key] - was[key])).toBeLessThan(unit)
          }
        })
      }),
      { seed: 22, numRuns: 2_000 },
    )
  })

  it("worked by hand: three parts of 33.33, 33.33 and 33.34 of 100", () => {
    const step = { id: 1, name: "A", label: "", in: 10_000, on: 3_333, here: 3_333, left: 3_334 }
    const river: River = {
      measure: "money",
      pools: [],
      streams: [{ from: 1, to: 2, outcome: "accepted", via: "page", n: 3_333 }],
      steps: [
        { ...step, sources: [{ name: "paid", n: 10_000 }] },
        { id: 2, name: "B", label: "", in: 3_333, on: 0, here: 3_333, left: 0, sources: [] },
      ],
    }
    const [a, b] = roundRiver(river, 100).steps
    expect([a!.on, a!.here, a!.left].sort()).toEqual([3_300, 3_300, 3_400])
    expect([a!.in, b!.in]).toEqual([10_000, a!.on])
  })
})
