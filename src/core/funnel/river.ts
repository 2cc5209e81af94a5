// The river in numbers: how many journeys reached each step, where from, where they went on to, who is still there and
// who left. A journey is one visitor, later person, in one funnel, and stands at each step at most once.

import { sequenceBegun } from "../sequence/effect/list"
import { codeOfSource } from "../source"
import { locale } from "../words/locale"
import { type Funnel, type Step, stepById, streamTo } from "./draft"
import { hasOutcomes, type Outcome, outcomes, stepKinds } from "./step/list"

/** How many journeys came to a step in one way, as the rollup keeps it. */
export type RiverFlow = {
  readonly step: number
  /** 0 where they came from outside. */
  readonly from: number
  readonly outcome: string
  readonly via: "source" | "page" | "mail"
  readonly source: string
  readonly n: number
  /** Minor units that those journeys had paid by then. */
  readonly money: number
}

/** How many journeys rest at a step, and what they have paid in all. */
export type Resting = { readonly n: number; readonly money: number }

/** What a river is of: its people, or what they paid on the way (before refunds and what is charged later). */
export type Measure = "people" | "money"

/** One way out of a step that a journey took: "took the first", "declined the second". */
export type Way = { readonly step: number; readonly outcome: Outcome }

/** The name that stands at a step for money that came in there, which is its source. */
export const paidHere = "paid here"

export type RiverStep = {
  readonly id: number
  readonly name: string
  readonly label: string
  readonly in: number
  readonly on: number
  /** Rest here and moved within the last seven days; at the end of the river, everyone. */
  readonly here: number
  readonly left: number
  /** That all of them went on says nothing: only those who did are looked at. */
  readonly given?: true
  /** `affiliate`: they came by a link of somebody who recommends. */
  readonly sources: readonly { readonly name: string; readonly n: number; readonly affiliate?: true }[]
}

export type RiverStream = {
  readonly from: number
  readonly to: number
  readonly outcome: Outcome
  readonly via: "page" | "mail"
  readonly n: number
}

export type RiverPool = {
  readonly sequence: number
  readonly name: string
  readonly mails: number
  /** Begun by this outcome of this step. */
  readonly step: number
  readonly outcome: Outcome
  /** Those of the river who went out by it. */
  readonly n: number
}

export type River = {
  readonly measure: Measure
  readonly steps: readonly RiverStep[]
  readonly streams: readonly RiverStream[]
  readonly pools: readonly RiverPool[]
}

/** Sources drawn by name; the rest are "others". */
const mostSources = 4
/** The same of affiliates, where each is one. */
const mostAffiliates = 6

/**
 * Puts the flows onto the structure. For every step: in = on + here + left, and in = what the streams and sources
 * bring. Flows to or from steps that are no longer there are left out with everything that hangs on them.
 *
 * @param here journeys resting at a step that moved within the last seven days, by step
 * @param begun people in whom a sequence began, by sequence
 * @param ways only those are looked at who took each of these
 */
export function riverOf(
  funnel: Funnel,
  flows: readonly RiverFlow[],
  here: ReadonlyMap<number, Resting>,
  begun: ReadonlyMap<number, number>,
  ways: readonly Way[] = [],
): River {
  const asked = leadingTo(funnel, new Set(ways.map((w) => w.step)))
  const known = flows.filter((f) => stepById(funnel, f.step) && (f.from === 0 || stepById(funnel, f.from)))
  const streams = streamsOf(funnel, known)
  const steps = funnel.steps.map((step): RiverStep => {
    const into = known.filter((f) => f.step === step.id)
    const total = sum(into)
    const on = sum(known.filter((f) => f.from === step.id))
    const end = !hasOutcomes(step.kind)
    const resting = total - on
    const stays = end ? resting : Math.min(resting, here.get(step.id)?.n ?? 0)
    return {
      id: step.id,
      name: step.name,
      label: sourceLabel(funnel, step),
      in: total,
      on,
      here: stays,
      left: resting - stays,
      ...(asked.has(step.id) && on === total ? { given: true as const } : {}),
      sources: sourcesOf(into.filter((f) => f.from === 0)),
    }
  })
  const pools = funnel.effects.flatMap((e): RiverPool[] => {
    const begins = sequenceBegun(e)
    const sequence = funnel.sequences.find((s) => s.id === begins)
    if (!sequence) return []
    const { id, name, mails } = sequence
    // Whoever went on by it is in the river already; where it leads nowhere, those in whom the sequence began are asked for.
    const went = streamTo(funnel, e.step, e.outcome)
    const n = went ? sum(known.filter((f) => f.from === e.step && f.outcome === e.outcome)) : (begun.get(id) ?? 0)
    return [{ sequence: id, name, mails: mails.length, step: e.step, outcome: e.outcome, n }]
  })
  return { measure: "people", steps, streams, pools }
}

/**
 * The same river in money: how much the people in each stream had paid when they came out of it. Money has its source
 * where it is paid, so that for every step, too, in = on + here + left and in = what the streams and sources bring.
 *
 * @param recent what journeys that rest at a step and moved within the last seven days have paid, by step
 * @param rest the same for all journeys, whenever they moved
 */
export function moneyRiverOf(
  funnel: Funnel,
  flows: readonly RiverFlow[],
  recent: ReadonlyMap<number, Resting>,
  rest: ReadonlyMap<number, Resting>,
): River {
  const known = flows.filter((f) => stepById(funnel, f.step) && (f.from === 0 || stepById(funnel, f.from)))
  const money = known.map((f) => ({ ...f, n: f.money }))
  const steps = funnel.steps.map((step): RiverStep => {
    const brought = sum(money.filter((f) => f.step === step.id))
    const on = sum(money.filter((f) => f.from === step.id))
    const resting = Math.max(rest.get(step.id)?.money ?? 0, brought - on)
    const end = !hasOutcomes(step.kind)
    const here = end ? resting : Math.min(resting, recent.get(step.id)?.money ?? 0)
    const paid = on + resting - brought
    return {
      id: step.id,
      name: step.name,
      label: sourceLabel(funnel, step),
      in: on + resting,
      on,
      here,
      left: resting - here,
      sources: paid > 0 ? [{ name: paidHere, n: paid }] : [],
    }
  })
  return { measure: "money", steps, streams: streamsOf(funnel, money), pools: [] }
}

/** These steps, and all from which somebody can come to one of them. */
function leadingTo(funnel: Funnel, steps: ReadonlySet<number>): ReadonlySet<number> {
  const found = new Set(steps)
  for (let size = -1; size !== found.size; ) {
    size = found.size
    for (const s of funnel.streams) if (s.to !== null && found.has(s.to)) found.add(s.from)
  }
  return found
}

/** What kind of step it is, in a word: an upsell is a downsell for those who have just turned another one down. */
export function sourceLabel(funnel: Pick<Funnel, "steps" | "streams">, step: Step): string {
  const kind = stepKinds[step.kind]
  const second = funnel.streams.some(
    (s) => s.to === step.id && s.outcome === kind.sells?.turned && stepById(funnel, s.from)?.kind === step.kind,
  )
  return (second ? kind.afterNo : undefined) ?? kind.label
}

function sum(flows: readonly { n: number }[]): number {
  return flows.reduce((total, f) => total + f.n, 0)
}

/** Those who came by themselves and those who came by links of affiliates, each the largest first and the small ones together. */
function sourcesOf(flows: readonly RiverFlow[]): RiverStep["sources"] {
  const by = new Map<string, number>()
  for (const f of flows) by.set(f.source, (by.get(f.source) ?? 0) + f.n)
  const all = [...by].map(([source, n]) => ({ code: codeOfSource(source), name: source, n }))
  const byThem = all.flatMap((s) => (s.code === null ? [] : [{ name: s.code, n: s.n }]))
  const alone = all.flatMap((s) => (s.code === null ? [{ name: s.name, n: s.n }] : []))
  return [
    ...largest(alone, mostSources, "others"),
    ...largest(byThem, mostAffiliates, "other affiliates").map((s) => ({ ...s, affiliate: true as const })),
  ]
}

type Named = { readonly name: string; readonly n: number }

function largest(of: readonly Named[], most: number, rest: string): Named[] {
  const ranked = [...of].sort((a, b) => b.n - a.n || (a.name < b.name ? -1 : 1))
  if (ranked.length <= most) return ranked
  return [...ranked.slice(0, most - 1), { name: rest, n: sum(ranked.slice(most - 1)) }]
}

/** Every wired stream, with nobody in it where nobody came, and every stream that was wired once and carried somebody. */
function streamsOf(funnel: Funnel, flows: readonly RiverFlow[]): RiverStream[] {
  const by = new Map<string, RiverStream>()
  const add = (s: RiverStream) => {
    const key = `${s.from}>${s.to}>${s.outcome}>${s.via}`
    by.set(key, { ...s, n: (by.get(key)?.n ?? 0) + s.n })
  }
  for (const s of funnel.streams)
    if (s.to !== null && stepById(funnel, s.to) && stepById(funnel, s.from))
      add({ from: s.from, to: s.to, outcome: s.outcome, via: "page", n: 0 })
  for (const f of flows)
    if (f.from !== 0 && f.via !== "source" && f.outcome in outcomes)
      add({ from: f.from, to: f.step, outcome: f.outcome as Outcome, via: f.via, n: f.n })
  return [...by.values()]
}

/** The river as sentences, in the order of the steps: what a screen reader gets, and whoever would rather read. */
export function outlineOf(
  river: River,
  says: (n: number) => string = count,
): { step: number; text: string; ways: string[] }[] {
  const name = (id: number) => river.steps.find((s) => s.id === id)?.name ?? ""
  return river.steps.map((s) => {
    const ways = river.streams
      .filter((w) => w.from === s.id)
      .map(
        (w) =>
          `${says(w.n)} ${outcomes[w.outcome].done}${w.via === "mail" ? " by way of an e-mail" : ""} and went on to ${name(w.to)}`,
      )
    for (const p of river.pools.filter((p) => p.step === s.id))
      ways.push(
        `whoever ${outcomes[p.outcome].verb} begins ${p.name}: ${p.mails} ${p.mails === 1 ? "e-mail" : "e-mails"}, begun by ${count(p.n)}`,
      )
    if (s.sources.length)
      ways.unshift(
        river.measure === "money"
          ? `${says(s.sources[0]!.n)} ${paidHere}`
          : `came from ${s.sources.map((x) => `${x.name} (${says(x.n)})`).join(", ")}`,
      )
    const end = s.on === 0 && s.left === 0 && s.here === s.in
    if (!end && s.here) ways.push(`${says(s.here)} still here`)
    if (s.left) ways.push(`${says(s.left)} left`)
    return {
      step: s.id,
      text: `${s.name}, ${s.label}: ${says === count ? (s.in === 1 ? "1 person" : `${count(s.in)} people`) : says(s.in)}`,
      ways,
    }
  })
}

/** A whole number with thousands set apart. */
export function count(n: number): string {
  return n.toLocaleString(locale)
}
