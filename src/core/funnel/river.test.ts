import fc from "fast-check"
import { describe, expect, it } from "vitest"
import { sampleFunnel } from "../../../tests/support/sample"
import { crossings, rankAndLane } from "./lanes"
import { type Box, boxOf, type Drawing, layoutRiver, overlap, stepNode } from "./layout"
import { outlineOf, type Resting, type River, type RiverFlow, riverOf } from "./river"

const funnel = sampleFunnel()
const [optin, inbox, welcome, learning] = funnel.steps.map((s) => s.id) as [number, number, number, number]
const flow = (
  step: number,
  from: number,
  outcome: string,
  n: number,
  via: RiverFlow["via"] = from ? "page" : "source",
  source = "letter",
): RiverFlow => ({ step, from, outcome, via, source, n, money: 0 })

const resting = (...at: [number, number][]) =>
  new Map(at.map(([step, n]): [number, Resting] => [step, { n, money: 0 }]))

describe("riverOf", () => {
  const flows = [
    flow(optin, 0, "", 60),
    flow(optin, 0, "", 40, "source", "direct"),
    flow(inbox, optin, "joined", 42),
    flow(welcome, inbox, "confirmed", 36),
    flow(learning, welcome, "started", 20),
    flow(learning, welcome, "started", 6, "mail"),
  ]
  const river = riverOf(funnel, flows, resting([optin, 8], [welcome, 99]), new Map([[9, 36]]))

  it("adds up at every step: in = on + here + left", () => {
    expect(river.steps.map((s) => [s.in, s.on, s.here, s.left])).toEqual([
      [100, 42, 8, 50],
      [42, 36, 0, 6],
      [36, 26, 10, 0],
      [26, 0, 26, 0],
    ])
  })
  it("keeps who came back by mail apart, and the pool's own number", () => {
    expect(river.streams.find((s) => s.via === "mail")).toEqual({
      from: welcome,
      to: learning,
      outcome: "started",
      via: "mail",
      n: 6,
    })
    expect(river.pools).toEqual([
      { sequence: 9, name: "Three mornings", mails: 3, step: inbox, outcome: "confirmed", n: 36 },
    ])
  })
  it("draws the dry bed where nobody came", () => {
    const dry = riverOf(funnel, [], new Map(), new Map())
    expect(dry.streams.map((s) => s.n)).toEqual([0, 0, 0])
    expect(layoutRiver(dry, 1240).ribbons.every((r) => r.dry)).toBe(true)
  })
  it("groups the small sources as others, and loses nobody", () => {
    const many = Array.from({ length: 9 }, (_, i) => flow(optin, 0, "", i + 1, "source", `s${i}`))
    const sources = riverOf(funnel, many, new Map(), new Map()).steps[0]!.sources
    expect(sources.map((s) => s.name)).toEqual(["s8", "s7", "s6", "others"])
    expect(sources.reduce((t, s) => t + s.n, 0)).toBe(45)
  })
  it("says the same in words", () => {
    expect(outlineOf(river)[0]).toEqual({
      step: optin,
      text: "First, opt-in page: 100 people",
      ways: [
        "came from letter (60), direct (40)",
        "42 joined and went on to Check your inbox",
        "8 still here",
        "50 left",
      ],
    })
    expect(outlineOf(river)[2]!.ways).toContain("6 started by way of an e-mail and went on to Learning area")
  })
})

// Rivers of any shape: 1 to 14 steps, links forward and back, any counts.
const anyRiver = fc
  .record({
    n: fc.integer({ min: 1, max: 14 }),
    links: fc.array(fc.tuple(fc.nat(13), fc.nat(13), fc.nat(3000), fc.boolean()), { maxLength: 24 }),
    entries: fc.array(fc.tuple(fc.nat(13), fc.nat(4), fc.nat(5000)), { minLength: 1, maxLength: 6 }),
    rests: fc.array(fc.tuple(fc.nat(500), fc.nat(2000)), { minLength: 14, maxLength: 14 }),
    pool: fc.boolean(),
  })
  .map(({ n, links, entries, rests, pool }): River => {
    const pairs = new Map(
      links
        .filter(([a, b]) => a < n && b < n && a !== b)
        .map(([a, b, c, mail]) => [
          `${a}>${b}`,
          {
            from: a + 1,
            to: b + 1,
            outcome: "joined" as const,
            via: mail && pool ? ("mail" as const) : ("page" as const),
            n: c,
          },
        ]),
    )
    const streams = [...pairs.values()]
    const sources = (id: number) =>
      [...new Map(entries.filter(([e]) => (e % n) + 1 === id).map(([, k, c]) => [`source ${k}`, c]))].map(
        ([name, c]) => ({ name, n: c }),
      )
    const steps = Array.from({ length: n }, (_, i) => {
      const id = i + 1
      const [here, left] = rests[i]!
      const on = streams.filter((s) => s.from === id).reduce((t, s) => t + s.n, 0)
      return {
        id,
        name: `Step ${id} with a rather long name`,
        label: "page",
        in: on + here + left,
        on,
        here,
        left,
        sources: sources(id),
      }
    })
    return {
      measure: "people" as const,
      steps,
      streams,
      pools: pool ? [{ sequence: 1, name: "Mornings", mails: 5, step: 1, outcome: "joined", n: 9 }] : [],
    }
  })

const apart = (boxes: readonly Box[]) => {
  for (let i = 0; i < boxes.length; i++)
    for (let j = i + 1; j < boxes.length; j++)
      expect(overlap(boxes[i]!, boxes[j]!), JSON.stringify([boxes[i], boxes[j]])).toBe(false)
}

describe("layoutRiver", () => {
  it("keeps depth at every step: what is drawn out of a body is as deep as the body", () => {
    fc.assert(
      fc.property(anyRiver, (river) => {
        const d = layoutRiver(river, 1240)
        const scale = 112 / Math.max(1, ...river.steps.map((s) => s.in))
        for (const s of river.steps) {
          const body = d.bodies.find((b) => b.node === stepNode(s.id))!
          expect(body.depth).toBeCloseTo(s.in * scale, 6)
          const drained = d.drains.filter((x) => x.node === body.node).reduce((t, x) => t + x.depth, 0)
          expect(drained).toBeCloseTo(s.left * scale, 6)
          const on = firstReaches(d, body.node)
          const back = river.streams.filter((w) => w.from === s.id).reduce((t, w) => t + w.n, 0) * scale - on
          // Streams that lead back are in the outline and the table, not in the drawing.
          expect(back).toBeGreaterThan(-1e-6)
          if (isForward(river)) expect(on + drained + s.here * scale).toBeCloseTo(body.depth, 5)
        }
      }),
      { seed: 4, numRuns: 300 },
    )
  })

  it("never lets cards or labels overlap, whatever the structure and the counts, and keeps inside", () => {
    fc.assert(
      fc.property(anyRiver, fc.constantFrom(700, 1240, 1900), (river, width) => {
        const d = layoutRiver(river, width)
        apart([...d.cards, ...d.labels])
        for (const b of [...d.cards, ...d.labels]) {
          expect(b.x).toBeGreaterThanOrEqual(0)
          expect(b.y).toBeGreaterThanOrEqual(0)
          expect(b.x + b.w).toBeLessThanOrEqual(d.width)
          expect(b.y + b.h).toBeLessThanOrEqual(d.height)
        }
        for (const r of d.ribbons) expect(r.d).not.toMatch(/NaN|Infinity/)
        // Nothing that is drawn runs out of the drawing: streams, drains, basins, threads.
        for (const { d: path } of [...d.ribbons, ...d.drains, ...d.threads]) {
          const b = boxOf(path)
          expect(b.x + b.w).toBeLessThanOrEqual(d.width)
          expect(b.y + b.h).toBeLessThanOrEqual(d.height)
        }
        for (const b of [...d.bodies, ...d.basins])
          expect(b.y + ("h" in b ? b.h : b.depth)).toBeLessThanOrEqual(d.height)
      }),
      { seed: 5, numRuns: 400 },
    )
  })

  it("leads no stream behind a card", () => {
    fc.assert(
      fc.property(anyRiver, fc.constantFrom(700, 1240), (river, width) => {
        const d = layoutRiver(river, width)
        for (const r of d.ribbons.filter((x) => !x.dry && x.kind !== "source"))
          for (const point of pointsOf(r.d))
            for (const card of d.cards) expect(inside(card, point), `${r.from}>${r.to} behind ${card.node}`).toBe(false)
      }),
      { seed: 29, numRuns: 300 },
    )
  })

  it("draws one straight surface for a plain funnel, and the pool below it", () => {
    const d = layoutRiver(
      riverOf(funnel, [flow(optin, 0, "", 9), flow(inbox, optin, "joined", 5)], new Map(), new Map()),
      1240,
    )
    const main = d.cards.filter((c) => c.node.startsWith("s"))
    expect(new Set(main.map((c) => c.y)).size).toBe(1)
    expect(d.cards.find((c) => c.node === "p9")!.y).toBeGreaterThan(main[0]!.y + 80)
    expect(d.crossings).toBe(0)
  })
})

/** Points along the first edge of a ribbon: its curve, then its straight part. */
function pointsOf(d: string): [number, number][] {
  const n = [...d.matchAll(/-?\d+(?:\.\d+)?/g)].map((m) => Number(m[0]))
  const at = (i: number): [number, number] => [n[2 * i]!, n[2 * i + 1]!]
  const [a, b, c, e] = [at(0), at(1), at(2), at(3)]
  const curve = Array.from({ length: 21 }, (_, i): [number, number] => {
    const t = i / 20
    const mix = (k: 0 | 1) =>
      a[k] * (1 - t) ** 3 + 3 * b[k] * t * (1 - t) ** 2 + 3 * c[k] * t ** 2 * (1 - t) + e[k] * t ** 3
    return [mix(0), mix(1)]
  })
  return [...curve, at(4)]
}

function inside(box: Box, [x, y]: [number, number]): boolean {
  return x > box.x + 1 && x < box.x + box.w - 1 && y > box.y + 1 && y < box.y + box.h - 1
}

/** Thickness of the ribbons that leave a body. */
function firstReaches(d: Drawing, node: string): number {
  return d.ribbons.filter((r) => r.from === node && r.kind !== "source").reduce((t, r) => t + r.depth, 0)
}

function isForward(river: River): boolean {
  return river.streams.every((s) => s.from < s.to) && river.streams.every((s) => s.via === "page")
}

describe("rankAndLane", () => {
  const link = (from: string, to: string) => ({ from, to, n: 1, via: "page" as const })
  it("draws branches that join again without a crossing", () => {
    // Accept goes straight on, decline to a second chance that joins again: twice in a row.
    const links = [
      link("a", "b"),
      link("b", "w"),
      link("b", "c"),
      link("c", "w"),
      link("w", "x"),
      link("x", "z"),
      link("x", "y"),
      link("y", "z"),
    ]
    expect(rankAndLane(["a", "b", "w", "c", "x", "z", "y"], links, []).crossings).toBe(0)
  })
  it("takes ten branches in a row, and a circle, in its stride", () => {
    const steps = Array.from({ length: 31 }, (_, i) => `n${i}`)
    const links = Array.from({ length: 10 }, (_, i) => [
      link(`n${3 * i}`, `n${3 * i + 1}`),
      link(`n${3 * i}`, `n${3 * i + 2}`),
      link(`n${3 * i + 1}`, `n${3 * i + 3}`),
      link(`n${3 * i + 2}`, `n${3 * i + 3}`),
    ]).flat()
    const laid = rankAndLane(steps, [...links, link("n30", "n0")], [])
    expect(laid.crossings).toBe(0)
    expect(Math.max(...laid.items.map((i) => i.lane))).toBe(1)
  })
  it("gives every item of a column a lane of its own, and counts crossings as drawn", () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.nat(11), fc.nat(11)), { maxLength: 25 }), (pairs) => {
        const steps = Array.from({ length: 12 }, (_, i) => `n${i}`)
        const laid = rankAndLane(
          steps,
          pairs.filter(([a, b]) => a !== b).map(([a, b]) => link(`n${a}`, `n${b}`)),
          [],
        )
        expect(new Set(laid.items.map((i) => `${i.column}:${i.lane}`)).size).toBe(laid.items.length)
        expect(laid.items.every((i) => i.lane >= 0)).toBe(true)
        expect(laid.crossings).toBe(crossings(laid.items, laid.links))
        const column = new Map(laid.items.map((i) => [i.id, i.column]))
        for (const l of laid.links) expect(column.get(l.to)).toBe(column.get(l.from)! + 1)
      }),
      { seed: 6, numRuns: 300 },
    )
  })
})

describe("sources", () => {
  const flow = (source: string, n: number) => ({
    step: 1,
    from: 0,
    outcome: "",
    via: "source" as const,
    source,
    n,
    money: 0,
  })
  const funnel = {
    id: 1,
    steps: [{ id: 1, kind: "letter" }],
    streams: [],
    effects: [],
    sequences: [],
    courses: [],
  } as never
  const sources = (...flows: ReturnType<typeof flow>[]) =>
    riverOf(funnel, flows, new Map(), new Map()).steps[0]!.sources
  it("that are affiliates stand by themselves, however few they brought", () => {
    const all = sources(
      ...Array.from({ length: 9 }, (_, i) => flow(`place ${i}`, 100 - i)),
      flow("@ada", 3),
      flow("@ben", 5),
    )
    expect(all.filter((s) => s.affiliate)).toEqual([
      { name: "ben", n: 5, affiliate: true },
      { name: "ada", n: 3, affiliate: true },
    ])
    expect(all.at(-3)).toMatchObject({ name: "others" })
    expect(all.reduce((sum, s) => sum + s.n, 0)).toBe(9 * 100 - 36 + 8)
  })
  it("of many affiliates the small ones are together", () => {
    const all = sources(...Array.from({ length: 20 }, (_, i) => flow(`@a${i}`, 20 - i)))
    expect(all).toHaveLength(6)
    expect(all.at(-1)).toEqual({ name: "other affiliates", n: (15 * 16) / 2, affiliate: true })
  })
})
