// Turns of e-mails: a rate is a rate in every window, whoever is asked and however often. By property; the law is that of the
// generic cell rate algorithm (ITU-T I.371): two of one kind are an interval apart.
import fc from "fast-check"
import { describe, expect, it } from "vitest"
import { mostSlowed, type Pace, type PaceWaiting, rateOf, slowedAfter, turnsOf, unpaced } from "./pace"

const now = 1_000_000
const horizon = 1_500
const mail = (id: number, more: Partial<PaceWaiting> = {}): PaceWaiting => ({
  id,
  domain: "post.example",
  asked: false,
  paced: false,
  ...more,
})
const many = (n: number, more: Partial<PaceWaiting> = {}) => Array.from({ length: n }, (_, i) => mail(i, more))

describe("turns", () => {
  it("are at once where nothing is set", () => {
    const t = turnsOf(many(50), new Map(), { all: null, domain: null }, now, horizon)
    expect([...t.go.values()]).toEqual(Array(50).fill(now))
    expect(t.putOff.size).toBe(0)
  })

  it("are an interval apart, and beyond the horizon put off by as much", () => {
    const t = turnsOf(many(40), new Map(), { all: 10, domain: null }, now, horizon)
    expect([...t.go.values()]).toEqual(Array.from({ length: 16 }, (_, i) => now + 100 * i))
    expect([...t.putOff.values()]).toEqual(Array.from({ length: 24 }, (_, i) => now + 1_600 + 100 * i))
  })

  it("don’t make one domain wait for another", () => {
    const mails = [...many(20), mail(100, { domain: "other.example" })]
    const t = turnsOf(mails, new Map(), { all: null, domain: 2 }, now, horizon)
    expect([...t.go]).toEqual([
      [0, now],
      [1, now + 500],
      [2, now + 1_000],
      [3, now + 1_500],
      [100, now],
    ])
    expect(t.putOff.get(4)).toBe(now + 2_000)
  })

  it("put what somebody waits for first, and everything else behind it", () => {
    const t = turnsOf([...many(3), mail(9, { asked: true })], new Map(), { all: 1, domain: null }, now, horizon)
    expect([...t.go]).toEqual([
      [9, now],
      [0, now + 1_000],
    ])
    expect(t.putOff.get(1)).toBe(now + 2_000)
  })

  it("let whoever was put off go before those who come now", () => {
    const first = turnsOf(many(10), new Map(), { all: 2, domain: null }, now, horizon)
    const later = now + 2_000
    const back = [...first.putOff].filter(([, at]) => at <= later).map(([id]) => mail(id, { paced: true }))
    const t = turnsOf([mail(77), ...back], first.paces, { all: 2, domain: null }, later, horizon)
    expect([...t.go]).toEqual(back.map((m) => [m.id, later]))
    expect(t.putOff.get(77)).toBe(now + 5_000)
  })

  // Two workers claim in turns, answers slow a domain down and let it pick up; what goes keeps every rate of its time.
  it("keep the rate whatever is claimed when, and lose nobody", () => {
    const domains = ["a.example", "b.example", "c.example"]
    fc.assert(
      fc.property(
        fc.record({
          all: fc.option(fc.integer({ min: 1, max: 40 })),
          domain: fc.option(fc.integer({ min: 1, max: 20 })),
          mails: fc.array(fc.record({ domain: fc.constantFrom(...domains), due: fc.integer({ min: 0, max: 4_000 }) }), {
            minLength: 1,
            maxLength: 80,
          }),
          step: fc.integer({ min: 50, max: 900 }),
          claim: fc.integer({ min: 1, max: 30 }),
        }),
        ({ all, domain, mails, step, claim }) => {
          const left = mails.map((m, id) => ({ ...mail(id, { domain: m.domain }), tryAt: now + m.due }))
          const went: { domain: string; at: number }[] = []
          let paces: ReadonlyMap<string, Pace> = new Map()
          for (let at = now; left.length && at < now + 600_000; at += step) {
            const due = left.filter((m) => m.tryAt <= at).slice(0, claim)
            const turns = turnsOf(due, paces, { all, domain }, at, horizon)
            expect(turns.go.size + turns.putOff.size).toBe(due.length)
            paces = turns.paces
            for (const m of due) {
              const goes = turns.go.get(m.id)
              if (goes !== undefined) {
                expect(goes).toBeGreaterThanOrEqual(at)
                went.push({ domain: m.domain, at: goes })
                left.splice(left.indexOf(m), 1)
              } else Object.assign(m, { paced: true, tryAt: turns.putOff.get(m.id)! })
            }
          }
          expect(left).toEqual([])
          const apart = (times: number[], rate: number | null) => {
            if (rate === null) return
            const sorted = times.toSorted((a, b) => a - b)
            for (let i = 1; i < sorted.length; i++)
              expect(sorted[i]! - sorted[i - 1]!).toBeGreaterThanOrEqual(1000 / rate - 1e-6)
          }
          // In all it is a rate: what waits for its domain, by the horizon at most, may come among the others.
          const times = went.map((w) => w.at).toSorted((a, b) => a - b)
          if (all !== null)
            for (const [i, from] of times.entries())
              for (const [j, to] of times.entries())
                if (j >= i) expect(j - i + 1).toBeLessThanOrEqual((all * (to - from + horizon)) / 1000 + 1 + 1e-6)
          for (const d of domains)
            apart(
              went.filter((w) => w.domain === d).map((w) => w.at),
              domain,
            )
        },
      ),
      { seed: 5, numRuns: 300 },
    )
  })
})

describe("a receiver that asks for less", () => {
  it.each<[number | null, number, number | null]>([
    [null, 0, null],
    [null, 1, 4],
    [20, 0, 20],
    [20, 1, 4],
    [2, 2, 0.5],
    [null, mostSlowed, 8 / 512],
  ])("of %s a second, halved %i times, gets %s", (set, slowed, rate) => expect(rateOf(set, slowed)).toBe(rate))

  it("is halved once for many answers, again for the next, and picks up when it takes everything", () => {
    expect(slowedAfter(0, 0, "later", now)).toBe(1)
    expect(slowedAfter(1, now, "later", now + 9_000)).toBe(1)
    expect(slowedAfter(1, now, "later", now + 10_000)).toBe(2)
    expect(slowedAfter(mostSlowed, now, "later", now + 99_000)).toBe(mostSlowed)
    expect(slowedAfter(2, now, "taken", now + 59_000)).toBe(2)
    expect(slowedAfter(2, now, "taken", now + 60_000)).toBe(1)
    expect(slowedAfter(0, 0, "taken", now)).toBe(0)
    expect(unpaced.slowed).toBe(0)
  })
})
