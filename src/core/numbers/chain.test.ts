// Absorbing chains: the drunkard's walk, random chains by another way, derivatives by differences.
import fc from "fast-check"
import { identity, inv, type Matrix, matrix, multiply, subtract } from "mathjs"
import { describe, expect, it } from "vitest"
import { ChainError, type ChainStep, expected, levers } from "./chain"

const step = (id: number, comes: number, ...outs: [string, number, number, number | null][]): ChainStep => ({
  id,
  comes,
  outcomes: outs.map(([name, rate, brings, to]) => ({ name, rate, brings, to })),
})

describe("expected", () => {
  it("is the drunkard's walk of Grinstead and Snell, 11.2 (examples 11.14 to 11.16)", () => {
    // From corner 2: N's second row is 1, 2, 1; four steps on average; home (here worth 100) half of the time.
    const walk = (from: number) =>
      [1, 2, 3].map((i) =>
        step(
          i,
          i === from ? 1 : 0,
          ["back", 0.5, 0, i === 1 ? null : i - 1],
          ["on", 0.5, i === 3 ? 100 : 0, i === 3 ? null : i + 1],
        ),
      )
    const rows = [1, 2, 3].map((from) => [...expected(walk(from)).visits.values()].map((v) => Number(v.toFixed(10))))
    expect(rows).toEqual([
      [1.5, 1, 0.5],
      [1, 2, 1],
      [0.5, 1, 1.5],
    ])
    expect(rows.map((r) => r.reduce((a, b) => a + b))).toEqual([3, 4, 3])
    expect([1, 2, 3].map((from) => expected(walk(from)).total)).toEqual([25, 50, 75].map((x) => expect.closeTo(x, 10)))
  })

  it("follows people through random funnels as a long walk of shares does", () => {
    fc.assert(
      fc.property(funnels, (steps) => {
        const e = expected(steps)
        // Step by step, until hardly anybody is left.
        let here = new Map(steps.map((s) => [s.id, s.comes]))
        const seen = new Map(here)
        let total = 0
        for (let turn = 0; turn < 3000; turn++) {
          const next = new Map<number, number>()
          for (const s of steps)
            for (const o of s.outcomes) {
              const n = (here.get(s.id) ?? 0) * o.rate
              total += n * o.brings
              if (o.to !== null) next.set(o.to, (next.get(o.to) ?? 0) + n)
            }
          for (const [id, n] of next) seen.set(id, (seen.get(id) ?? 0) + n)
          here = next
        }
        for (const s of steps) expect(e.visits.get(s.id)).toBeCloseTo(seen.get(s.id)!, 4)
        expect(e.total / 1e6).toBeCloseTo(total / 1e6, 4)
        expect(steps.reduce((sum, s) => sum + s.comes * e.worth.get(s.id)!, 0)).toBeCloseTo(e.total, 4)
      }),
      { numRuns: 60 },
    )
  })

  it("agrees with a matrix package on random chains: the inverse of I − Q, its rows and what they bring", () => {
    fc.assert(
      fc.property(
        fc.array(fc.array(fc.nat(20), { minLength: 8, maxLength: 8 }), { minLength: 2, maxLength: 7 }),
        (all) => {
          const n = all.length
          // Shares of who goes to which step; some always leave.
          const q = all.map((row) => {
            const sum = row.reduce((a, b) => a + b, 1)
            return row.slice(0, n).map((x) => x / sum)
          })
          const steps = q.map((row, i) =>
            step(
              i,
              row.length + i,
              ...row.map((r, k): [string, number, number, number] => [`o${k}`, r, 10 * k + i, k]),
            ),
          )
          const inverse = inv(subtract(identity(n) as Matrix, matrix(q)))
          const comes = steps.map((s) => s.comes)
          const visits = multiply(matrix(comes), inverse).toArray() as number[]
          const brings = steps.map((s) => s.outcomes.reduce((sum, o) => sum + o.rate * o.brings, 0))
          const worth = multiply(inverse, matrix(brings)).toArray() as number[]
          const e = expected(steps)
          for (let i = 0; i < n; i++) {
            expect(e.visits.get(i)! / visits[i]!).toBeCloseTo(1, 9)
            expect(e.worth.get(i)!).toBeCloseTo(worth[i]!, 6)
          }
        },
      ),
      { seed: 11, numRuns: 200 },
    )
  })

  it("refuses what can't be, in words, and reckons with nobody", () => {
    const refused = (...steps: ChainStep[]) => {
      try {
        expected(steps)
        return ""
      } catch (e) {
        if (!(e instanceof ChainError)) throw e
        return e.message
      }
    }
    expect(refused(step(1, 1, ["a", 1.2, 0, null]))).toMatch(/between 0 and 100/)
    expect(refused(step(1, 1, ["a", -0.1, 0, null]))).toMatch(/between 0 and 100/)
    expect(refused(step(1, 1, ["a", Number.NaN, 0, null]))).toMatch(/between 0 and 100/)
    expect(refused(step(1, 1, ["a", 0.6, 0, null], ["b", 0.6, 0, null]))).toMatch(/more than 100/)
    expect(refused(step(1, 1, ["a", 0.5, 0, 9]))).toMatch(/isn’t there/)
    expect(refused(step(1, -1, ["a", 0.5, 0, null]))).toMatch(/nobody/)
    expect(refused(step(1, 1, ["a", 0.5, Number.NaN, null]))).toMatch(/number/)
    const round = [step(1, 1, ["a", 1, 0, 2]), step(2, 0, ["b", 1, 0, 1])]
    expect(refused(...round)).toMatch(/nobody ever leaves/)
    expect(expected([])).toMatchObject({ total: 0, perVisitor: null })
    expect(expected([step(1, 0, ["a", 0.5, 100, null])])).toMatchObject({ total: 0, perVisitor: null })
    expect(expected([step(1, 1, ["a", 0.5, 100, null])])).toMatchObject({ total: 50, perVisitor: 50 })
  })
})

describe("levers", () => {
  it("are the derivatives, as finite differences find them", () => {
    fc.assert(
      fc.property(funnels, (steps) => {
        const dx = 1e-6
        for (const l of levers(steps)) {
          const moved = (by: number) =>
            expected(
              steps.map((s) => ({
                ...s,
                outcomes: s.outcomes.map((o) =>
                  s.id !== l.step
                    ? o
                    : o.name === l.outcome
                      ? { ...o, rate: o.rate + by }
                      : s.outcomes.find((x) => x.name === l.outcome)!.instead === o.name
                        ? { ...o, rate: o.rate - by }
                        : o,
                ),
              })),
            ).total
          const found = (moved(dx) - moved(-dx)) / (2 * dx) / 100
          expect(Math.abs(l.perPoint - found) / (1 + Math.abs(found))).toBeLessThan(1e-4)
        }
      }),
      { numRuns: 60 },
    )
  })

  it("stand in the order of what they bring", () => {
    const steps = [
      step(1, 1000, ["joined", 0.3, 0, 2]),
      step(2, 0, ["bought", 0.05, 10_000, 3]),
      step(3, 0, ["accepted", 0.2, 2_000, null]),
    ]
    expect(levers(steps).map((l) => [l.outcome, Math.round(l.perPoint)])).toEqual([
      ["bought", 31_200],
      ["joined", 5_200],
      ["accepted", 300],
    ])
  })
})

/** Funnels of up to six steps, round ways too; each loses at least a tenth of who comes to it. */
const funnels = fc
  .array(
    fc.record({
      comes: fc.integer({ min: 0, max: 500 }),
      outs: fc.array(
        fc.record({
          part: fc.integer({ min: 1, max: 9 }),
          brings: fc.integer({ min: -500, max: 30_000 }),
          to: fc.nat(6),
        }),
        { minLength: 1, maxLength: 3 },
      ),
    }),
    { minLength: 1, maxLength: 6 },
  )
  .map((all) =>
    all.map((s, i): ChainStep => {
      const whole = s.outs.reduce((sum, o) => sum + o.part, 0)
      return {
        id: i,
        comes: s.comes,
        outcomes: s.outs.map((o, k) => ({
          name: `o${k}`,
          rate: (0.9 * o.part) / whole,
          brings: o.brings,
          to: o.to < all.length ? o.to : null,
          // Every other last outcome takes from the one before it.
          instead: k > 0 && o.part % 2 ? `o${k - 1}` : undefined,
        })),
      }
    }),
  )
