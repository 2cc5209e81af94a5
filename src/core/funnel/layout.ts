// The drawing of a river, computed: the surface of each lane is level, depth is the number of people, and who left
// falls off the bottom edge. Positions follow from structure and numbers alone; lengths are CSS pixels.

import { type LaidItem, type LaidLink, type LaneLink, rankAndLane } from "./lanes"
import type { River } from "./river"
import { count, paidHere } from "./river"
import { outcomes } from "./step/list"

export type Box = { readonly x: number; readonly y: number; readonly w: number; readonly h: number }
export type CardPlace = Box & {
  readonly node: string
  readonly title: string
  readonly n: number
  readonly sub: string
  readonly mails: number
}
export type Label = Box & {
  readonly text: string
  readonly kind: "share" | "left" | "here" | "mail" | "source" | "thread" | "count" | "forecast"
}
/** The body of water under a card. Depth is exact; `shown` is what is drawn, never thinner than a hairline. */
export type Body = {
  readonly node: string
  readonly x: number
  readonly y: number
  readonly w: number
  readonly depth: number
  readonly shown: number
  /** How deep it was forecast to be; null: it wasn't. */
  readonly expected: number | null
}
export type Ribbon = {
  readonly kind: "page" | "mail" | "source" | "affiliate" | "accepted" | "declined"
  readonly from: string
  readonly to: string
  readonly n: number
  /** Exact thickness at both ends. */
  readonly depth: number
  readonly d: string
  readonly dry: boolean
}
export type Drain = {
  readonly node: string
  readonly n: number
  readonly depth: number
  readonly d: string
  readonly x: number
  readonly y: number
  readonly bottom: number
}
export type Basin = Box & { readonly node: string; readonly n: number; readonly depth: number }

export type Drawing = {
  readonly width: number
  readonly height: number
  readonly cards: readonly CardPlace[]
  readonly bodies: readonly Body[]
  readonly ribbons: readonly Ribbon[]
  readonly drains: readonly Drain[]
  readonly basins: readonly Basin[]
  /** What sets a sequence going: a thread, not water. */
  readonly threads: readonly { readonly from: string; readonly to: string; readonly d: string }[]
  readonly labels: readonly Label[]
  /** Where streams cross between columns. */
  readonly crossings: number
}

const cardHeight = 48
const cardGap = 8
const sourceWidth = 132
const rightMargin = 20
const hairline = 2
const sourceRow = 40
const deepest = 112

export const stepNode = (id: number) => `s${id}`
export const poolNode = (id: number) => `p${id}`

/**
 * Lays a river out. `width` is what is there; a river with many steps comes out wider and is scrolled. `says` words a
 * number: of people, or of money. `expected`: how many were forecast to come to each step, by its number.
 * Cards never overlap, nor do labels, whatever the structure and the counts.
 */
export function layoutRiver(
  river: River,
  width: number,
  says: (n: number) => string = count,
  expected: ReadonlyMap<number, number> = new Map(),
): Drawing {
  const laid = rankAndLane(
    river.steps.map((s) => stepNode(s.id)),
    linksOf(river),
    // Several outcomes may begin the same sequence: it is one pool.
    [...new Set(river.pools.map((p) => poolNode(p.sequence)))],
  )
  const columns = Math.max(1, ...laid.items.map((i) => i.column + 1))
  const pitch = Math.max(152, Math.min(250, (width - sourceWidth - rightMargin + 40) / columns))
  const bodyWidth = Math.round(pitch * 0.72)
  const left = (column: number) => sourceWidth + column * pitch
  const scale = deepest / Math.max(1, ...river.steps.map((s) => s.in), ...expected.values())

  const depthOf = new Map<string, number>()
  for (const s of river.steps) depthOf.set(stepNode(s.id), s.in * scale)
  for (const p of river.pools) depthOf.set(poolNode(p.sequence), sumMail(river, p.sequence) * scale)
  const thick = (item: LaidItem) => (item.real ? (depthOf.get(item.node) ?? 0) : item.n * scale)

  const expectedAt = (item: LaidItem) => {
    const step = river.steps.find((s) => stepNode(s.id) === item.node)
    const n = step && expected.get(step.id)
    return n === undefined ? null : n * scale
  }
  const surface = laneSurfaces(laid.items, (i) => Math.max(thick(i), expectedAt(i) ?? 0), river)
  const top = (item: LaidItem) => surface[item.lane]!
  const itemAt = new Map(laid.items.map((i) => [i.id, i]))
  const info = nodeInfo(river)

  const placer = new Placer()
  const cards: CardPlace[] = []
  const bodies: Body[] = []
  for (const item of laid.items.filter((i) => i.real)) {
    const x = left(item.column)
    const card = {
      x,
      y: top(item) - cardGap - cardHeight,
      w: bodyWidth,
      h: cardHeight,
      node: item.node,
      ...info.get(item.node)!,
    }
    cards.push(card)
    placer.take(card)
    const depth = thick(item)
    bodies.push({
      node: item.node,
      x,
      y: top(item),
      w: bodyWidth,
      depth,
      shown: depth > 0 ? Math.max(hairline, depth) : 0,
      expected: expectedAt(item),
    })
  }
  const labels: Label[] = []
  const say = (text: string, kind: Label["kind"], x: number, y: number, width: number) => {
    const box = placer.place({ x, y, w: width, h: kind === "source" ? 34 : 18 })
    labels.push({ ...box, text, kind })
  }

  // Streams are stacked at each end in the order of the lanes they go to and come from.
  const outAt = new Map<string, number>()
  const inAt = new Map<string, number>()
  const ribbons: Ribbon[] = []
  const drains: Drain[] = []
  const basins: Basin[] = []

  // From outside: beside the first column, otherwise a stub just before the step.
  for (const s of river.steps) {
    const item = itemAt.get(stepNode(s.id))!
    const x = left(item.column)
    let y = top(item)
    const total = s.sources.reduce((t, v) => t + v.n, 0)
    const rows: typeof s.sources = item.column === 0 ? s.sources : total ? [{ name: "from outside", n: total }] : []
    let row = top(item) - 20
    for (const v of rows) {
      const depth = v.n * scale
      if (item.column === 0) {
        const middle = Math.max(row + 12, y)
        ribbons.push(
          ribbon(v.affiliate ? "affiliate" : "source", `source:${v.name}`, item.node, v.n, depth, x - 26, middle, x, y),
        )
        say(`${v.name}\n${says(v.n)}`, "source", 6, middle + depth / 2 - 17, sourceWidth - 40)
        row = Math.max(row + sourceRow, middle + depth - 12)
      } else {
        ribbons.push(ribbon("source", `source:${v.name}`, item.node, v.n, depth, x - 22, y + 26, x, y))
        const text = s.sources[0]?.name === paidHere ? `+ ${says(v.n)}` : says(v.n)
        say(text, "count", x - 46, y + 30 + depth, textWidth(text))
      }
      y += depth
    }
    inAt.set(item.id, y)
  }

  const byFrom = [...laid.links].sort((a, b) => itemAt.get(a.to)!.lane - itemAt.get(b.to)!.lane || order(a, b))
  const starts = new Map<LaidLink, number>()
  for (const link of byFrom) {
    const from = itemAt.get(link.from)!
    const y = outAt.get(link.from) ?? top(from)
    starts.set(link, y)
    outAt.set(link.from, y + link.n * scale)
  }
  const byTo = [...laid.links].sort((a, b) => itemAt.get(a.from)!.lane - itemAt.get(b.from)!.lane || order(a, b))
  for (const link of byTo) {
    const from = itemAt.get(link.from)!
    const to = itemAt.get(link.to)!
    const y = inAt.get(link.to) ?? top(to)
    inAt.set(link.to, y + link.n * scale)
    const x1 = left(from.column) + bodyWidth
    const x2 = left(to.column)
    // It turns between the columns, and passes a column straight, below the cards of the lanes above.
    const passes = to.real ? 0 : bodyWidth
    ribbons.push(
      ribbon(link.said ?? link.via, from.id, to.id, link.n, link.n * scale, x1, starts.get(link)!, x2, y, passes),
    )
  }

  for (const s of river.steps) {
    const item = itemAt.get(stepNode(s.id))!
    const x = left(item.column) + bodyWidth
    let y = outAt.get(item.id) ?? top(item)
    const end = s.on === 0 && s.left === 0 && !river.streams.some((w) => w.from === s.id)
    const gap = pitch - bodyWidth
    if (!end && !s.given && s.in > 0 && s.on > 0 && river.measure === "people") {
      const took = river.streams.filter((w) => w.from === s.id && w.outcome === "accepted")
      const on = took.length ? took.reduce((sum, w) => sum + w.n, 0) : s.on
      const share = `${percent(on, s.in)} ${took.length ? "accepted" : "went on"}`
      const short = percent(on, s.in)
      const text = gap + bodyWidth * 0.5 > textWidth(share) ? share : short
      say(text, "share", x - textWidth(text) - 6, top(item) + 6, textWidth(text))
    }
    if (s.here && !end) {
      const depth = s.here * scale
      basins.push({ node: item.node, n: s.here, depth, x, y, w: Math.min(16, gap / 3), h: Math.max(hairline, depth) })
      const text = `${says(s.here)} still here`
      say(text, "here", x + 2, y + depth + 4, textWidth(text))
      y += depth
    }
    if (s.left) {
      const depth = s.left * scale
      const bottom = Math.max(y + depth, top(item) + 24) + 44
      drains.push(drain(item.node, s.left, depth, x, y, bottom, gap))
      const text = `${says(s.left)} left`
      say(text, "left", x + gap * 0.42 - textWidth(text) / 2, bottom + 2, textWidth(text))
    }
  }

  const begins = new Map(river.pools.map((p) => [`${p.step} ${p.sequence}`, p]))
  for (const b of bodies) {
    const step = river.steps.find((s) => stepNode(s.id) === b.node)
    if (b.expected === null || !step) continue
    const text = `${says(Math.round(expected.get(step.id)!))} forecast`
    say(text, "forecast", b.x + 6, b.y + Math.max(b.expected, b.shown) + 3, textWidth(text))
  }
  const threads = [...begins.values()].map((p) => {
    const from = itemAt.get(stepNode(p.step))!
    const to = itemAt.get(poolNode(p.sequence))!
    const x1 = left(from.column) + bodyWidth
    const y1 = top(from) + 3
    const x2 = left(to.column)
    const y2 = top(to) - cardGap - cardHeight / 2
    const middle = x1 + Math.min(pitch - bodyWidth, 60) / 2
    return {
      from: from.node,
      to: to.node,
      d: `M${r(x1)} ${r(y1)}C${r(middle)} ${r(y1)} ${r(middle)} ${r(y2)} ${r(x2)} ${r(y2)}`,
    }
  })

  // What is drawn decides how large the drawing is: a Bézier curve stays within its control points.
  const drawn: Box[] = [
    ...cards,
    ...labels,
    ...bodies.map((b) => ({ x: b.x, y: b.y, w: b.w, h: Math.max(b.depth, b.shown, b.expected ?? 0) })),
    ...basins.map((b) => ({ x: b.x, y: b.y, w: b.w, h: b.h })),
    ...[...ribbons, ...drains, ...threads].map((p) => boxOf(p.d)),
  ]
  const lowest = Math.max(...drawn.map((b) => b.y + b.h))
  const furthest = Math.max(...[...cards, ...labels].map((b) => b.x + b.w)) + rightMargin
  const widest = Math.max(...drawn.map((b) => b.x + b.w))
  return {
    width: Math.max(width, Math.ceil(furthest), Math.ceil(widest)),
    height: Math.max(260, Math.ceil(lowest + 14)),
    cards,
    bodies,
    ribbons,
    drains,
    basins,
    threads,
    labels,
    crossings: laid.crossings,
  }
}

/** A stream that came back by mail runs through the pool whose mail it was (the first one that could have sent it). */
function linksOf(river: River): LaneLink[] {
  const pool = poolOfReturns(river)
  const streams = river.streams.flatMap((s): LaneLink[] => {
    if (s.via === "mail" && pool)
      return [
        { from: stepNode(s.from), to: poolNode(pool), n: s.n, via: "mail" as const },
        { from: poolNode(pool), to: stepNode(s.to), n: s.n, via: "mail" as const },
      ]
    const said = s.outcome === "accepted" || s.outcome === "declined" ? s.outcome : undefined
    return [{ from: stepNode(s.from), to: stepNode(s.to), n: s.n, via: s.via, said }]
  })
  return streams.concat(
    // A pool stands after the step that its outcome leads to, and before the last, whether anybody came back or not.
    river.pools.flatMap((p) => {
      const after =
        river.streams.find((s) => s.from === p.step && s.outcome === p.outcome && s.via === "page")?.to ?? p.step
      // Whoever set it off by stopping is led nowhere: it stands aside, and holds nothing up.
      const last = !outcomes[p.outcome].leads
        ? undefined
        : river.streams.find((s) => s.from === after && s.via === "page")?.to
      const pool = poolNode(p.sequence)
      const unseen = { n: 0, via: "mail" as const, unseen: true }
      return [
        { ...unseen, from: stepNode(after), to: pool },
        ...(last === undefined ? [] : [{ ...unseen, from: pool, to: stepNode(last) }]),
      ]
    }),
  )
}

function poolOfReturns(river: River): number | null {
  return river.pools[0]?.sequence ?? null
}

function sumMail(river: River, sequence: number): number {
  if (poolOfReturns(river) !== sequence) return 0
  return river.streams.filter((s) => s.via === "mail").reduce((t, s) => t + s.n, 0)
}

function nodeInfo(river: River): Map<string, { title: string; n: number; sub: string; mails: number }> {
  const info = new Map<string, { title: string; n: number; sub: string; mails: number }>()
  for (const s of river.steps) info.set(stepNode(s.id), { title: s.name, n: s.in, sub: s.label, mails: 0 })
  for (const p of river.pools)
    info.set(poolNode(p.sequence), { title: p.name, n: p.n, sub: "sequence", mails: p.mails })
  return info
}

/**
 * Surfaces of the lanes: each lies below the water, the drains and the cards of the lanes above it in its own columns and
 * in those just before them, where drains fall; and never above the lane before it.
 */
function laneSurfaces(items: readonly LaidItem[], thick: (i: LaidItem) => number, river: River): number[] {
  const lanes = Math.max(1, ...items.map((i) => i.lane + 1))
  const surface: number[] = []
  const bottom = new Map<number, number>()
  for (let lane = 0; lane < lanes; lane++) {
    const here = items.filter((i) => i.lane === lane)
    const above = Math.max(18, ...here.flatMap((i) => [bottom.get(i.column) ?? 0, bottom.get(i.column - 1) ?? 0]))
    const y = Math.max(above + (here.some((i) => i.real) ? cardHeight + cardGap : 0), surface[lane - 1] ?? 0)
    surface.push(y)
    for (const i of here) {
      const step = river.steps.find((s) => stepNode(s.id) === i.node)
      const rows = i.column === 0 ? (step?.sources.length ?? 0) : 0
      const fallen = i.real && step && step.left > 0 ? 72 : 30
      bottom.set(i.column, y + Math.max(thick(i) + fallen, rows * sourceRow, 40))
    }
  }
  return surface
}

function ribbon(
  kind: Ribbon["kind"],
  from: string,
  to: string,
  n: number,
  depth: number,
  x1: number,
  y1: number,
  x2: number,
  y2: number,
  straight = 0,
): Ribbon {
  const shown = Math.max(hairline, depth)
  const m = (x1 + x2) / 2
  const end = x2 + straight
  const d =
    `M${r(x1)} ${r(y1)}C${r(m)} ${r(y1)} ${r(m)} ${r(y2)} ${r(x2)} ${r(y2)}` +
    `L${r(end)} ${r(y2)}L${r(end)} ${r(y2 + shown)}L${r(x2)} ${r(y2 + shown)}C${r(m)} ${r(y2 + shown)} ${r(m)} ${r(y1 + shown)} ${r(x1)} ${r(y1 + shown)}Z`
  return { kind, from, to, n, depth, d, dry: n === 0 }
}

function drain(node: string, n: number, depth: number, x: number, y: number, bottom: number, gap: number): Drain {
  const shown = Math.max(hairline, depth)
  const wide = Math.max(hairline, Math.min(depth, gap * 0.55))
  const far = x + gap * 0.16 + wide
  const near = x + gap * 0.16
  const d =
    `M${r(x)} ${r(y)}C${r(far)} ${r(y)} ${r(far)} ${r(y + shown * 0.4)} ${r(far)} ${r(Math.min(bottom, y + shown + 16))}L${r(far)} ${r(bottom)}` +
    `L${r(near)} ${r(bottom)}L${r(near)} ${r(Math.min(bottom, y + shown + 18))}C${r(near)} ${r(y + shown + 4)} ${r(near)} ${r(y + shown)} ${r(x)} ${r(y + shown)}Z`
  return { node, n, depth, d, x, y, bottom }
}

/** Streams of the same ends keep one order everywhere: by page before by mail. */
function order(a: LaidLink, b: LaidLink): number {
  return (a.via === "mail" ? 1 : 0) - (b.via === "mail" ? 1 : 0) || (a.from < b.from ? -1 : a.from > b.from ? 1 : 0)
}

/** The smallest box around the points of a path of absolute M, C, L. */
export function boxOf(d: string): Box {
  const n = [...d.matchAll(/-?\d+(?:\.\d+)?/g)].map((m) => Number(m[0]))
  const xs = n.filter((_, i) => i % 2 === 0)
  const ys = n.filter((_, i) => i % 2 === 1)
  const [x, y] = [Math.min(...xs), Math.min(...ys)]
  return { x, y, w: Math.max(...xs) - x, h: Math.max(...ys) - y }
}

function percent(n: number, of: number): string {
  const p = (100 * n) / of
  return `${p > 0 && p < 1 ? p.toFixed(1) : Math.round(p)} %`
}

function textWidth(text: string): number {
  return Math.ceil(text.length * 6.4 + 12)
}

function r(n: number): number {
  return Math.round(n * 10) / 10
}

/** Keeps boxes apart: what comes later is moved down until it is free. */
class Placer {
  private readonly taken: Box[] = []
  take(box: Box) {
    this.taken.push(box)
  }
  place<B extends Box>(wanted: B): B {
    let box = { ...wanted, x: Math.max(2, wanted.x) }
    for (let hit = this.hit(box); hit; hit = this.hit(box)) box = { ...box, y: hit.y + hit.h + 2 }
    this.take(box)
    return box
  }
  private hit(box: Box): Box | undefined {
    return this.taken.find((o) => overlap(o, box))
  }
}

export function overlap(a: Box, b: Box): boolean {
  return a.x < b.x + b.w && b.x < a.x + a.w && a.y < b.y + b.h && b.y < a.y + a.h
}
