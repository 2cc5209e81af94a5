// A seeded generator (mulberry32, public domain), so that the demo is the same every time.

export type Seeded = {
  (): number
  pick<T>(from: readonly T[]): T
  chance(p: number): boolean
  between(low: number, high: number): number
}

export function seeded(seed: number): Seeded {
  let a = seed >>> 0
  const next = () => {
    a = (a + 0x6d2b79f5) >>> 0
    let t = a
    t = Math.imul(t ^ (t >>> 15), t | 1)
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61)
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296
  }
  return Object.assign(next, {
    pick: <T>(from: readonly T[]): T => from[Math.floor(next() * from.length)]!,
    chance: (p: number) => next() < p,
    between: (low: number, high: number) => Math.round((low + next() * (high - low)) * 1e6) / 1e6,
  })
}
