// Laying out a river of forty steps with ten branches.
import { layoutRiver } from "@/core/funnel/layout"
import type { River } from "@/core/funnel/river"
import { type Line, median } from "./report"
import { timed } from "./yardstick"

export async function benchRiver(): Promise<Line[]> {
  const steps = Array.from({ length: 40 }, (_, i) => ({
    id: i + 1,
    name: `Step ${i + 1}`,
    label: "page",
    in: 1000,
    on: 900,
    here: 40,
    left: 60,
    sources: i ? [] : [{ name: "letter", n: 1000 }],
  }))
  const link = (from: number, to: number) => ({ from, to, outcome: "joined" as const, via: "page" as const, n: 450 })
  const streams = Array.from({ length: 10 }, (_, b) => [
    link(4 * b + 1, 4 * b + 2),
    link(4 * b + 1, 4 * b + 3),
    link(4 * b + 2, 4 * b + 4),
    link(4 * b + 3, 4 * b + 4),
    ...(b < 9 ? [link(4 * b + 4, 4 * b + 5)] : []),
  ]).flat()
  const river: River = { measure: "people", steps, streams, pools: [] }
  const taken: number[] = []
  for (let i = 0; i < 40; i++) {
    const start = performance.now()
    layoutRiver(river, 1240)
    taken.push(performance.now() - start)
  }
  return [{ what: "forty steps with ten branches, laid out", ...timed(median(taken), 20, "loop") }]
}
