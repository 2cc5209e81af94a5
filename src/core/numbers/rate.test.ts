import { describe, expect, it } from "vitest"
import { assumedRate, known, meanOf, quantile, RateError } from "./rate"

/** The share of a Beta below x, by Simpson's rule: another way than the package's continued fraction. */
function below(x: number, a: number, b: number): number {
  const f = (t: number) => t ** (a - 1) * (1 - t) ** (b - 1)
  const integral = (to: number) => {
    const n = 20_000
    let sum = f(0) + f(to)
    for (let i = 1; i < n; i++) sum += f((to * i) / n) * (i % 2 ? 4 : 2)
    return (sum * to) / n / 3
  }
  return integral(x) / integral(1)
}

describe("a rate", () => {
  it("is joined from what was assumed and counted, as numerical integration has it", () => {
    for (const [hits, of, a, b] of [
      [3, 40, 2, 8],
      [0, 12, 1, 1],
      [25, 60, 4, 9],
    ] as const) {
      const beta = known({ hits, of }, { a, b })
      expect(meanOf(beta)).toBeCloseTo((a + hits) / (a + b + of), 12)
      for (const p of [0.1, 0.25, 0.5, 0.75, 0.9]) expect(below(quantile(beta, p), beta.a, beta.b)).toBeCloseTo(p, 5)
    }
  })

  it("that nobody assumed has Jeffreys’ interval (Brown, Cai and DasGupta 2001, table 5: 95 %, of 10; from memory)", () => {
    const interval = (hits: number) => [0.025, 0.975].map((p) => quantile(known({ hits, of: 10 }), p).toFixed(3))
    expect(interval(1)).toEqual(["0.011", "0.381"])
    expect(interval(2)).toEqual(["0.044", "0.503"])
    expect(interval(5)).toEqual(["0.224", "0.776"])
  })

  it("that is assumed lies in its range four times out of five, most likely where it was said", () => {
    for (const [from, likely, to] of [
      [0.02, 0.05, 0.1],
      [0.3, 0.4, 0.5],
      [0, 0.01, 0.05],
      [0.9, 0.97, 1],
    ] as const) {
      const { a, b } = assumedRate({ from, likely, to })
      expect((a - 1) / (a + b - 2)).toBeCloseTo(likely, 9)
      expect(below(to, a, b) - below(from, a, b)).toBeCloseTo(0.8, 3)
    }
    expect(meanOf(assumedRate({ from: 0.2, likely: 0.2, to: 0.2 }))).toBeCloseTo(0.2, 5)
  })

  it("is refused where it is none", () => {
    for (const [from, likely, to] of [
      [0.5, 0.4, 0.6],
      [0.5, 0.4, 0.3],
      [-0.1, 0, 0.1],
      [0.5, 0.8, 1.2],
      [Number.NaN, 0.5, 0.6],
    ] as const)
      expect(() => assumedRate({ from, likely, to })).toThrow(RateError)
    expect(() => known({ hits: 4, of: 3 })).toThrow(RateError)
    expect(() => known({ hits: -1, of: 3 })).toThrow(RateError)
  })
})
