// Further offers otherwise: what each adds, from which rate on it is better than none, and other orders of them.
import * as v from "valibot"
import { expected } from "./chain"
import type { MeasuredOutcome, MeasuredStep } from "./measured"
import { atTheirMeans, type UnsureStep } from "./simulate"

/** A step that offers more to whoever has bought: by which outcomes it is accepted and turned down. */
export type FurtherOffer = {
  readonly id: number
  readonly name: string
  readonly takes: string
  readonly turns: string
}

/** The further offers of a funnel, in the order of its steps. */
export const furtherOffers = (steps: readonly MeasuredStep[]): FurtherOffer[] =>
  steps.flatMap((s) => {
    const takes = s.outcomes.find((o) => o.sells === "more")
    return takes?.instead ? [{ id: s.id, name: s.name, takes: takes.name, turns: takes.instead }] : []
  })

/** A further offer that is tried: which one, under what name, and after which outcome of which step. */
export const addedOffer = v.object({
  offer: v.number(),
  name: v.pipe(v.string(), v.maxLength(200)),
  after: v.number(),
  outcome: v.string(),
})
export type AddedOffer = v.InferOutput<typeof addedOffer>

/**
 * The steps with what is tried put in, numbered −1, −2 …: whoever went out by its outcome meets it, and goes on to where they went before,
 * whether they accept or not. What is to come after a step that isn't there is left out.
 *
 * @param blank the outcomes of a further offer of which nothing is known
 */
export function withAdded(
  steps: readonly MeasuredStep[],
  added: readonly AddedOffer[],
  blank: readonly MeasuredOutcome[],
): MeasuredStep[] {
  return added.reduce<MeasuredStep[]>(
    (all, a, i) => {
      const at = all.findIndex((s) => s.id === a.after)
      const way = all[at]?.outcomes.find((o) => o.name === a.outcome)
      if (!way) return all
      const id = -(i + 1)
      const step: MeasuredStep = {
        id,
        name: a.name,
        comes: 0,
        visits: 0,
        outcomes: blank.map((o) => ({ ...o, to: way.to })),
      }
      const before = {
        ...all[at]!,
        outcomes: all[at]!.outcomes.map((o) => (o === way ? { ...o, to: id } : o)),
      }
      return [...all.slice(0, at), before, step, ...all.slice(at + 1)]
    },
    [...steps],
  )
}

type Way = { readonly to: number | null }
const toOf = (s: { readonly outcomes: readonly (Way & { readonly name: string })[] } | undefined, outcome: string) =>
  s?.outcomes.find((o) => o.name === outcome)?.to ?? null

/** Without one: whoever came to it goes on to where whoever turned it down went. */
export function leaveOut<S extends UnsureStep>(steps: readonly S[], offer: FurtherOffer | undefined): S[] {
  const step = steps.find((s) => s.id === offer?.id)
  if (!offer || !step) return [...steps]
  const on = toOf(step, offer.turns)
  const next = on === offer.id ? null : on
  return steps
    .filter((s) => s !== step)
    .map((s) => ({
      ...s,
      // Whoever came in there from outside comes in where it led.
      comes: s.id === next ? s.comes + step.comes : s.comes,
      outcomes: s.outcomes.map((o) => (o.to === offer.id ? { ...o, to: next } : o)),
    }))
}

/**
 * In another order: the first of `order` stands where the first of the further offers does, and so on. Places keep their ways; rates and
 * what is brought go along with the offers. Anything but an order of all of them changes nothing.
 */
export function reorder<S extends UnsureStep>(
  steps: readonly S[],
  offers: readonly FurtherOffer[],
  order: readonly number[],
): S[] {
  const places = offers.map((o) => o.id)
  if (order.length !== places.length || places.some((p) => !order.includes(p))) return [...steps]
  const stands = (id: number | null) => (id !== null && places.includes(id) ? order[places.indexOf(id)]! : id)
  return steps.map((s) => {
    const at = order.indexOf(s.id)
    const place = at < 0 ? s : steps.find((x) => x.id === places[at])!
    const [mine, there] = [offers.find((o) => o.id === s.id), offers.find((o) => o.id === place.id)]
    const way = (o: S["outcomes"][number]) =>
      mine && there ? toOf(place, o.name === mine.takes ? there.takes : there.turns) : o.to
    return { ...s, comes: place.comes, outcomes: s.outcomes.map((o) => ({ ...o, to: stands(way(o)) })) }
  })
}

export type OfferAdds = FurtherOffer & {
  /** What it adds to each who comes to it, minor units, at the mean of each rate. */
  readonly adds: number
  readonly rate: number
  /** From which rate of acceptance on it is better than none, 0 to 1; null: no rate would make it so. */
  readonly least: number | null
}

/**
 * What each further offer adds. Without it everybody would have gone on to where whoever turns it down goes; with it, some leave there.
 * So with r who accept, l who leave, m what it brings, and A and D what somebody is worth after accepting and after turning it down, it is
 * even where r (m + A) + (1 − r − l) D = D: at r = l D / (m + A − D).
 */
export function offersAdd(steps: readonly UnsureStep[], offers: readonly FurtherOffer[]): OfferAdds[] {
  const chain = atTheirMeans(steps)
  const { worth } = expected(chain)
  const after = (to: number | null) => (to === null ? 0 : (worth.get(to) ?? 0))
  return offers.flatMap((o) => {
    const step = chain.find((s) => s.id === o.id)
    const takes = step?.outcomes.find((x) => x.name === o.takes)
    const turns = step?.outcomes.find((x) => x.name === o.turns)
    if (!step || !takes) return []
    const [a, d] = [after(takes.to), after(turns?.to ?? null)]
    const leaves = Math.max(0, 1 - takes.rate - (turns?.rate ?? 0))
    const gains = takes.brings + a - d
    const least = gains > 0 ? (leaves * d) / gains : null
    return [{ ...o, rate: takes.rate, adds: worth.get(o.id)! - d, least: least === null || least > 1 ? null : least }]
  })
}

/** The most further offers of which all orders are tried: 5! are 120. */
const mostOrdered = 5

export type OfferOrder = { readonly order: readonly number[]; readonly total: number }

/** What each order of the further offers would bring, the most first; nothing where there is only one, or more than are tried. */
export function offerOrders(steps: readonly UnsureStep[], offers: readonly FurtherOffer[]): OfferOrder[] {
  if (offers.length < 2 || offers.length > mostOrdered) return []
  return orders(offers.map((o) => o.id))
    .map((order) => ({ order, total: expected(atTheirMeans(reorder(steps, offers, order))).total }))
    .sort((a, b) => b.total - a.total)
}

const orders = (ids: readonly number[]): number[][] =>
  ids.length < 2 ? [[...ids]] : ids.flatMap((id) => orders(ids.filter((x) => x !== id)).map((rest) => [id, ...rest]))
