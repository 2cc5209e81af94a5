// Numbers: made-up people walked through a funnel, against a plain loop over typed arrays, and the exact forecast of a long one.
import { randomBytes } from "node:crypto"
import { devices } from "@/core/device"
import { type ChainStep, expected } from "@/core/numbers/chain"
import { simulate, type UnsureStep } from "@/core/numbers/simulate"
import { recordNewcomers } from "@/server/funnel/journey"
import { rollRests, rollUp } from "@/server/funnel/rollup"
import { rollSources } from "@/server/numbers/roll-sources"
import { loader } from "./load-data"
import { type Line, median } from "./report"
import { inOwnDatabase, school } from "./segments"

const people = 100_000
const rounds = 15

/** Twelve steps, each with two ways on, one of which sells. */
const funnel = (length: number): UnsureStep[] =>
  Array.from({ length }, (_, i) => ({
    id: i,
    comes: i === 0 ? people : 0,
    outcomes: [
      { name: "on", rate: { a: 700, b: 300 }, brings: i % 3 === 2 ? 4_900 : 0, to: i + 1 < length ? i + 1 : null },
      { name: "aside", rate: { a: 120, b: 880 }, brings: 0, to: i + 2 < length ? i + 2 : null },
    ],
  }))

function timed(work: () => unknown): number {
  const times = Array.from({ length: rounds + 3 }, () => {
    const began = performance.now()
    work()
    return performance.now() - began
  })
  return median(times.slice(3))
}

/** The same walk with rates that are known, without anything that makes it ours. */
function bare(steps: readonly UnsureStep[]): number {
  const rate = (a: number, b: number) => a / (a + b)
  const first = Float64Array.from(steps, (s) => rate(s.outcomes[0]!.rate.a, s.outcomes[0]!.rate.b))
  const both = Float64Array.from(steps, (s, i) => first[i]! + rate(s.outcomes[1]!.rate.a, s.outcomes[1]!.rate.b))
  const brings = Float64Array.from(steps, (s) => s.outcomes[0]!.brings)
  let total = 0
  for (let n = 0; n < people; n++) {
    let here = 0
    while (here < steps.length) {
      const u = Math.random()
      if (u < first[here]!) total += brings[here++]!
      else if (u < both[here]!) here += 2
      else break
    }
  }
  return total
}

const visitors = 100_000
/** As the web process writes them. */
const together = 500

/** Newcomers taken in and summed, as they come in a rush, against LOAD DATA of the rows they come to. */
const takeIn = (folder: string): Promise<Line> =>
  inOwnDatabase(folder, async (s, url) => {
    await school(s.db)
    const at = Date.now()
    const visits = Array.from({ length: visitors }, (_, i) => ({
      funnel: 1,
      step: 1,
      visitor: randomBytes(16),
      source: ["letter", "podcast", "direct"][i % 3]!,
      at: at - (i % 5_000_000),
      device: devices[1 + (i % 3)]!,
    }))
    const began = performance.now()
    for (let i = 0; i < visitors; i += together) await recordNewcomers(s.db, visits.slice(i, i + together))
    const wrote = (performance.now() - began) / 1000
    while ((await rollUp(s)) > 0);
    while ((await rollRests(s)) > 0);
    while ((await rollSources(s)) > 0);
    const took = (performance.now() - began) / 1000
    const summed = await s.db.row<{ n: number }>("SELECT SUM(visited) AS n FROM source_day")
    if (summed?.n !== visitors) throw new Error(`${summed?.n} of ${visitors} were summed`)
    const load = await loader(s.db, url)
    const ms = (await load.copy("journey", visitors)) + (await load.copy("fact", visitors))
    await load.end()
    const ratio = ms / 1000 / wrote
    return {
      what: `${visitors} visitors taken in, a second (summed: ${Math.round(visitors / took)})`,
      ours: `${Math.round(visitors / wrote)}`,
      against: `${Math.round(visitors / (ms / 1000))} by LOAD DATA`,
      ratio: ratio.toFixed(2),
      wanted: "at least 0.2",
      missed: ratio < 0.2,
    }
  })

export async function benchNumbers(folder: string): Promise<Line[]> {
  const twelve = funnel(12)
  const ours = timed(() => simulate(twelve, { runs: 1, seed: 1 }))
  const against = timed(() => bare(twelve))
  const sixty = funnel(60).map(
    (s): ChainStep => ({ ...s, outcomes: s.outcomes.map((o) => ({ ...o, rate: o.rate.a / (o.rate.a + o.rate.b) })) }),
  )
  const exact = timed(() => expected(sixty))
  return [
    {
      what: "100,000 people through 12 steps, ms",
      ours: ours.toFixed(1),
      against: against.toFixed(1),
      ratio: (against / ours).toFixed(2),
      wanted: "under 150, at least 0.5 of a plain loop",
      missed: ours > 150 || against / ours < 0.5,
    },
    { what: "exact forecast of 60 steps, ms", ours: exact.toFixed(2), wanted: "under 5", missed: exact > 5 },
    await takeIn(folder),
  ]
}
