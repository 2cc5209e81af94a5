// A river in money, rounded to whole units so that what stands at each step still adds up: what flows in is what flows on, rests
// and has left. Each amount is one of the two whole units around it (every circulation has such a rounding: integrality of flows).
import type { River } from "./river"

/** An amount on its way; 0 stands for outside the river. */
type Edge = { readonly from: number; readonly to: number; value: number }

/** @param unit minor units in a whole one: 100 for euros, 1 for yen */
export function roundRiver(river: River, unit: number): River {
  const edges: Edge[] = []
  const edge = (from: number, to: number, value: number) => {
    const e = { from, to, value }
    edges.push(e)
    return e
  }
  const streams = river.streams.map((s) => ({ s, e: edge(s.from, s.to, s.n) }))
  const steps = river.steps.map((s) => ({
    s,
    here: edge(s.id, 0, s.here),
    left: edge(s.id, 0, s.left),
    sources: s.sources.map((x) => ({ x, e: edge(0, s.id, x.n) })),
  }))
  round(edges, unit)
  return {
    ...river,
    streams: streams.map(({ s, e }) => ({ ...s, n: e.value })),
    steps: steps.map(({ s, here, left, sources }) => {
      const on = streams.filter((x) => x.s.from === s.id).reduce((sum, x) => sum + x.e.value, 0)
      return {
        ...s,
        on,
        here: here.value,
        left: left.value,
        in: on + here.value + left.value,
        sources: sources.map(({ x, e }) => ({ ...x, n: e.value })),
      }
    }),
  }
}

/**
 * Rounds amounts that come in and go out at each node in equal sums. Whatever is broken lies on a ring of broken amounts; pushing
 * as much round it as makes one of them whole leaves every sum as it is, so that there is one less each time.
 */
function round(edges: readonly Edge[], unit: number): void {
  const broken = (e: Edge) => e.value % unit !== 0
  for (let start = edges.find(broken); start; start = edges.find(broken)) {
    const ring = ringFrom(start, edges.filter(broken))
    // What doesn't add up to begin with is rounded by itself.
    if (!ring) {
      start.value = Math.round(start.value / unit) * unit
      continue
    }
    const up = Math.min(...ring.map(({ e, along }) => (along ? unit - rest(e, unit) : rest(e, unit))))
    const down = Math.min(...ring.map(({ e, along }) => (along ? rest(e, unit) : unit - rest(e, unit))))
    const push = up <= down ? up : -down
    for (const { e, along } of ring) e.value += along ? push : -push
  }
}

const rest = (e: Edge, unit: number) => ((e.value % unit) + unit) % unit

type Walked = { readonly e: Edge; readonly along: boolean }

/** A ring of these edges, walked in one direction; null where a walk from this one ends. */
function ringFrom(start: Edge, among: readonly Edge[]): Walked[] | null {
  const walked: Walked[] = [{ e: start, along: true }]
  const seen = [start.from]
  for (let at = start.to; ; ) {
    const before = seen.indexOf(at)
    if (before >= 0) return walked.slice(before)
    seen.push(at)
    const used = walked.map((w) => w.e)
    const next = among.find((e) => !used.includes(e) && (e.from === at || e.to === at) && e.from !== e.to)
    if (!next) return null
    const along = next.from === at
    walked.push({ e: next, along })
    at = along ? next.to : next.from
  }
}
