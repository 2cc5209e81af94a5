// Changes to a funnel's draft, each from one value to another: steps put in, copied, moved, removed, led elsewhere, what they
// sell and set off. What is new has a number below zero until it is stored. A change that can't be made gives null.
import { type Page, type PageForm, wearing } from "../page/document"
import type { Action } from "../sequence/effect/list"
import { type Effect, type Funnel, type Step, stepById } from "./draft"
import type { Structure } from "./read"
import { hasPage, type Outcome, readSettings, type StepKind, type soldAt, stepKinds, waysOf } from "./step/list"

export type Edited = { readonly funnel: Funnel; readonly step: number }

/** Whether an outcome of a step leads on: only behind such can anything be put. */
export function canFollow(f: Funnel, after: number, outcome: Outcome): boolean {
  const step = stepById(f, after)
  return step !== undefined && waysOf(step.kind).includes(outcome)
}

/** Where an outcome leads, as a number, or null. */
const leads = (f: Funnel, from: number, by: Outcome) =>
  f.streams.find((t) => t.from === from && t.outcome === by)?.to ?? null

function lead(f: Funnel, from: number, outcome: Outcome, to: number | null): Funnel {
  const there = f.streams.some((t) => t.from === from && t.outcome === outcome)
  const stream = { from, outcome, to }
  return {
    ...f,
    streams: there
      ? f.streams.map((t) => (t.from === from && t.outcome === outcome ? stream : t))
      : [...f.streams, stream],
  }
}

/** Leads an outcome to a step of the same funnel, or nowhere. */
export function rewire(f: Funnel, step: number, outcome: Outcome, to: number | null): Funnel | null {
  if (!canFollow(f, step, outcome) || (to !== null && !stepById(f, to))) return null
  return lead(f, step, outcome, to)
}

/** A number that nothing of the list has. */
function fresh(of: readonly { readonly id: number }[]): number {
  return Math.min(0, ...of.map((x) => x.id)) - 1
}

export type NewStep = {
  readonly kind: StepKind
  readonly name: string
  readonly path: string
  readonly page: Page | null
  readonly settings: object
}

/** Puts a step in after an outcome: everyone who went out that way now meets it, and goes on to where they went before. */
export function insertStep(f: Funnel, after: number, outcome: Outcome, s: NewStep): Edited | null {
  if (!canFollow(f, after, outcome)) return null
  const id = fresh(f.steps)
  const at = f.steps.findIndex((x) => x.id === after) + 1
  const { kind, name, path, page } = s
  const step: Step = { id, kind, name, path, page, settings: readSettings(kind, s.settings) }
  const next = leads(f, after, outcome)
  let funnel: Funnel = { ...f, steps: [...f.steps.slice(0, at), step, ...f.steps.slice(at)] }
  for (const way of waysOf(s.kind)) funnel = lead(funnel, id, way, next)
  return { funnel: lead(funnel, after, outcome, id), step: id }
}

/** Where a step's people would go if it were not there: where whoever turns down what it offers goes. */
function past(f: Funnel, step: Step): number | null {
  const way = stepKinds[step.kind].sells?.turned ?? waysOf(step.kind)[0]
  const to = way ? leads(f, step.id, way) : null
  return to === step.id ? null : to
}

/** Takes a step out of the streams: whoever was led to it is led past it. */
function bypass(f: Funnel, step: Step): Funnel {
  const to = past(f, step)
  return {
    ...f,
    streams: f.streams.map((t) =>
      t.to === step.id && t.from !== step.id ? { ...t, to: to === t.from ? null : to } : t,
    ),
  }
}

/** Removes a step; whoever was led to it is led past it. Null for the last page, and for the end of the river. */
export function removeStep(f: Funnel, id: number): Funnel | null {
  const step = stepById(f, id)
  if (!step || !hasPage(step.kind) || f.steps.filter((x) => hasPage(x.kind)).length < 2) return null
  const led = bypass(f, step)
  return {
    ...led,
    steps: led.steps.filter((x) => x.id !== id),
    streams: led.streams.filter((t) => t.from !== id).map((t) => (t.to === id ? { ...t, to: null } : t)),
    effects: led.effects.filter((e) => e.step !== id),
  }
}

/**
 * Puts steps of one kind into one another's places: the first of `order` stands where the first of `places` did, and so on, with what is
 * on its page and what it sets off. Null where they aren't the same steps, or not of one kind.
 */
export function exchangePlaces(f: Funnel, places: readonly number[], order: readonly number[]): Funnel | null {
  const found = places.map((p) => stepById(f, p))
  if (order.length !== places.length || new Set(order).size !== order.length) return null
  if (places.some((p) => !order.includes(p)) || found.some((s) => !s || s.kind !== found[0]!.kind)) return null
  const stands = (id: number) => (places.includes(id) ? order[places.indexOf(id)]! : id)
  return {
    ...f,
    steps: f.steps.map((s) => stepById(f, stands(s.id))!),
    streams: f.streams.map((t) => ({ ...t, from: stands(t.from), to: t.to === null ? null : stands(t.to) })),
  }
}

/** Moves a step to after another outcome: its old place closes, and its people go on to where that outcome led. */
export function moveStep(f: Funnel, id: number, after: number, outcome: Outcome): Edited | null {
  const step = stepById(f, id)
  if (!step || id === after || !canFollow(f, after, outcome) || !waysOf(step.kind).length) return null
  const was = leads(f, after, outcome)
  if (was === id) return { funnel: f, step: id }
  let funnel = bypass(f, step)
  for (const way of waysOf(step.kind)) funnel = lead(funnel, id, way, was)
  funnel = lead(funnel, after, outcome, id)
  const rest = funnel.steps.filter((x) => x.id !== id)
  const at = rest.findIndex((x) => x.id === after) + 1
  return { funnel: { ...funnel, steps: [...rest.slice(0, at), step, ...rest.slice(at)] }, step: id }
}

/** Copies a step, its page, settings and effects, and puts the copy in after an outcome. */
export function copyStep(
  f: Funnel,
  id: number,
  after: number,
  outcome: Outcome,
  as: { readonly name: string; readonly path: string },
): Edited | null {
  const step = stepById(f, id)
  if (!step || !hasPage(step.kind)) return null
  const put = insertStep(f, after, outcome, { ...step, ...as })
  if (!put) return null
  let { funnel } = put
  for (const e of f.effects.filter((x) => x.step === id)) funnel = withEffect(funnel, { ...e, step: put.step })
  return { funnel, step: put.step }
}

function withEffect(f: Funnel, e: Omit<Effect, "id">): Funnel {
  return { ...f, effects: [...f.effects, { ...e, id: fresh(f.effects) }] }
}

/** What an outcome also sets off; "twice" where it does that already. */
export function addEffect(
  f: Funnel,
  step: number,
  outcome: Outcome,
  deed: Omit<Action, "id">,
): Funnel | "twice" | null {
  const at = stepById(f, step)
  if (!at || !Object.hasOwn(stepKinds[at.kind].outcomes, outcome)) return null
  const same = f.effects.some(
    (e) =>
      e.step === step &&
      e.outcome === outcome &&
      e.kind === deed.kind &&
      JSON.stringify(e.settings) === JSON.stringify(deed.settings),
  )
  return same ? "twice" : withEffect(f, { ...deed, step, outcome })
}

export function removeEffect(f: Funnel, id: number): Funnel | null {
  return f.effects.some((e) => e.id === id) ? { ...f, effects: f.effects.filter((e) => e.id !== id) } : null
}

function withStep(f: Funnel, id: number, change: (s: Step) => Step): Funnel | null {
  return stepById(f, id) ? { ...f, steps: f.steps.map((s) => (s.id === id ? change(s) : s)) } : null
}

/** Changes what a step sells, on which terms, and how those go on who can't have it. Null where it sells nothing. */
export function changeSold(
  f: Funnel,
  id: number,
  sold: Omit<NonNullable<ReturnType<typeof soldAt>>, "as">,
): Funnel | null {
  const step = stepById(f, id)
  const { sells } = step ? stepKinds[step.kind] : {}
  if (!step || !sells) return null
  return withStep(f, id, (s) => ({ ...s, settings: readSettings(s.kind, sells.with(s.settings, sold)) }))
}

export function renameStep(f: Funnel, id: number, name: string, path: string): Funnel | null {
  return withStep(f, id, (s) => ({ ...s, name, path: hasPage(s.kind) ? path : "" }))
}

export function changePage(f: Funnel, id: number, page: Page): Funnel | null {
  return withStep(f, id, (s) => ({ ...s, page }))
}

/** All its pages in one form. */
export const wearAlike = (f: Funnel, form: PageForm): Funnel => ({
  ...f,
  steps: f.steps.map((s) => (s.page ? { ...s, page: wearing(s.page, form) } : s)),
})

/**
 * Takes the structure back to what it was: steps, what they are set to, streams and effects. Pages, names and addresses that
 * were edited meanwhile stay as they are now; a step that was removed comes back as it was.
 */
export function undo(now: Funnel, was: Structure): Funnel {
  return {
    ...now,
    steps: was.steps.map((s) => {
      const here = stepById(now, s.id)
      return here ? { ...s, name: here.name, path: here.path, page: here.page } : s
    }),
    streams: was.streams,
    effects: was.effects,
  }
}
