// Columns and lanes for the steps of a river: a layered drawing of a graph (Sugiyama, Tagawa, Toda 1981), with the
// main channel kept straight in the first lane.

export type LaneLink = {
  readonly from: string
  readonly to: string
  readonly n: number
  readonly via: "page" | "mail"
  /** The answer to an offer, where the link is one. */
  readonly said?: "accepted" | "declined"
  /** Counts for the order of the columns only, and is not drawn. */
  readonly unseen?: boolean
}

/** A node in its place, or the place where a long link passes a column. */
export type LaidItem = {
  readonly id: string
  readonly node: string
  readonly real: boolean
  readonly column: number
  lane: number
  readonly n: number
}

/** A link between neighbouring columns; a long one is several of these. */
export type LaidLink = Pick<LaneLink, "from" | "to" | "n" | "via" | "said">

export type Laid = {
  readonly items: readonly LaidItem[]
  readonly links: readonly LaidLink[]
  readonly crossings: number
}

/**
 * Places nodes in columns (longest way from a start, links that go back left out) and lanes. The main channel follows
 * the first link of each node from the first node on; `side` nodes never belong to it. Nodes of a column have lanes of
 * their own; lanes below the main one are swapped while that lowers the number of crossings.
 */
export function rankAndLane(steps: readonly string[], links: readonly LaneLink[], side: readonly string[]): Laid {
  const nodes = [...steps, ...side]
  const forward = withoutBackLinks(nodes, links)
  const column = columnsOf(nodes, forward)
  const isSide = new Set(side)

  const main = new Set<string>()
  for (let at = steps[0]; at !== undefined && !main.has(at); ) {
    main.add(at)
    const here: string = at
    at = forward.find((l) => l.from === here && !isSide.has(l.to) && l.via === "page")?.to
  }

  const items: LaidItem[] = nodes.map((n) => ({
    id: n,
    node: n,
    real: true,
    column: column.get(n)!,
    lane: main.has(n) ? 0 : -1,
    n: 0,
  }))
  const laid: LaidLink[] = []
  const chains: LaidItem[][] = items.filter((i) => i.lane < 0).map((i) => [i])
  forward
    .filter((l) => !l.unseen)
    .forEach((l, k) => {
      const dummies: LaidItem[] = []
      const onMain = main.has(l.from) && main.has(l.to) && l.via === "page" && isMainLink(l, forward, isSide)
      for (let c = column.get(l.from)! + 1; c < column.get(l.to)!; c++)
        dummies.push({ id: `d${k}.${c}`, node: l.to, real: false, column: c, lane: onMain ? 0 : -1, n: l.n })
      items.push(...dummies)
      if (dummies.length && !onMain) chains.push(dummies)
      const ids = [l.from, ...dummies.map((d) => d.id), l.to]
      for (let i = 1; i < ids.length; i++)
        laid.push({ from: ids[i - 1]!, to: ids[i]!, n: l.n, via: l.via, said: l.said })
    })

  // Each chain takes the first lane that is free in all its columns.
  const taken = new Set(items.filter((i) => i.lane === 0).map((i) => `${i.column}:0`))
  const free = (chain: LaidItem[], lane: number) => chain.every((i) => !taken.has(`${i.column}:${lane}`))
  chains.sort((a, b) => a[0]!.column - b[0]!.column || b.length - a.length)
  for (const chain of chains) {
    let lane = 1
    while (!free(chain, lane)) lane++
    for (const i of chain) {
      i.lane = lane
      taken.add(`${i.column}:${lane}`)
    }
  }
  return { items, links: laid, crossings: untangle(items, chains, laid) }
}

function isMainLink(l: LaneLink, forward: readonly LaneLink[], side: ReadonlySet<string>): boolean {
  return forward.find((f) => f.from === l.from && !side.has(f.to) && f.via === "page") === l
}

/** Swaps the lanes of two chains, or moves one to another lane, while that lowers the number of crossings. */
function untangle(items: readonly LaidItem[], chains: readonly LaidItem[][], links: readonly LaidLink[]): number {
  const lanes = Math.max(1, ...items.map((i) => i.lane + 1))
  let best = crossings(items, links)
  const at = (column: number, lane: number) => items.some((i) => i.column === column && i.lane === lane)
  for (let better = best > 0, rounds = 0; better && rounds < 6; rounds++) {
    better = false
    for (const a of chains) {
      const was = a[0]!.lane
      for (let lane = 1; lane <= lanes && best > 0; lane++) {
        if (lane === a[0]!.lane) continue
        const others = chains.filter(
          (c) => c !== a && c[0]!.lane === lane && c.some((i) => a.some((j) => j.column === i.column)),
        )
        if (others.length > 1) continue
        const from = a[0]!.lane
        const other = others[0]
        if (other?.some((i) => items.some((o) => o.lane === from && o.column === i.column && !a.includes(o)))) continue
        if (!other && a.some((i) => at(i.column, lane))) continue
        for (const i of a) i.lane = lane
        if (other) for (const i of other) i.lane = from
        const now = crossings(items, links)
        if (now < best) {
          best = now
          better = true
        } else {
          for (const i of a) i.lane = from
          if (other) for (const i of other) i.lane = lane
        }
      }
      if (a[0]!.lane !== was) better = true
    }
  }
  return best
}

/** How many pairs of links between the same two columns cross. */
export function crossings(items: readonly LaidItem[], links: readonly LaidLink[]): number {
  const place = new Map(items.map((i) => [i.id, i]))
  const byColumn = new Map<number, [number, number][]>()
  for (const l of links) {
    const from = place.get(l.from)!
    const list = byColumn.get(from.column) ?? []
    list.push([from.lane, place.get(l.to)!.lane])
    byColumn.set(from.column, list)
  }
  let n = 0
  for (const list of byColumn.values())
    for (let i = 0; i < list.length; i++)
      for (let j = i + 1; j < list.length; j++) if ((list[i]![0] - list[j]![0]) * (list[i]![1] - list[j]![1]) < 0) n++
  return n
}

/** Leaves out links that close a circle, found by walking depth first in the given order. */
function withoutBackLinks(nodes: readonly string[], links: readonly LaneLink[]): LaneLink[] {
  const state = new Map<string, "open" | "done">()
  const back = new Set<LaneLink>()
  const walk = (node: string) => {
    state.set(node, "open")
    for (const l of links.filter((l) => l.from === node)) {
      if (state.get(l.to) === "open") back.add(l)
      else if (!state.has(l.to)) walk(l.to)
    }
    state.set(node, "done")
  }
  for (const n of nodes) if (!state.has(n)) walk(n)
  return links.filter((l) => !back.has(l) && state.has(l.to) && state.has(l.from))
}

function columnsOf(nodes: readonly string[], links: readonly LaneLink[]): Map<string, number> {
  const column = new Map(nodes.map((n) => [n, 0]))
  for (let moved = true, rounds = 0; moved && rounds <= nodes.length; rounds++) {
    moved = false
    for (const l of links) {
      const after = column.get(l.from)! + 1
      if (after > column.get(l.to)!) {
        column.set(l.to, after)
        moved = true
      }
    }
  }
  return column
}
