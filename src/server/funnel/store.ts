// The one writer of a funnel's draft: what differs from what is stored is written, and what it refers to is written anew.
import { isDeepStrictEqual } from "node:util"
import type { Effect, Funnel, Step } from "@/core/funnel/draft"
import { refsOfFunnel } from "@/core/funnel/refs"
import { effectKinds, refsOfDeed } from "@/core/sequence/effect/list"
import type { Db } from "../db/pool"
import { writeReferences } from "../reference"
import { storeSeries } from "../sequence/store"

/** Numbers given to what had none yet (below zero), by kind of thing. */
type Given = Record<"steps" | "effects" | "sequences", Map<number, number>>

export type StoredFunnel = {
  readonly funnel: number
  /** The number of a step that had none, or the same. */
  step(id: number): number
}

/**
 * Writes a draft over what is stored (`before`; null: it is new). To be called inside a transaction that holds the funnel's
 * row. A page counts its revision up where it has changed. Sequences that have no number yet are written with it.
 */
export async function storeFunnel(tx: Db, before: Funnel | null, draft: Funnel, at: number): Promise<StoredFunnel> {
  const given: Given = { steps: new Map(), effects: new Map(), sequences: new Map() }
  const funnel = await storeHead(tx, before, draft, at)
  const order = (f: Funnel | null) => f?.steps.map((s) => s.id).join()
  const moved = order(before) !== order(draft)
  for (const [position, s] of draft.steps.entries())
    await storeStep(
      tx,
      funnel,
      before?.steps.find((x) => x.id === s.id),
      s,
      moved ? position : null,
      given,
    )
  const steps = new Map(given.steps)
  const stepId = (id: number) => steps.get(id) ?? id
  const gone = (list: readonly { id: number }[] | undefined, kept: readonly { id: number }[]) =>
    (list ?? []).filter((x) => !kept.some((y) => y.id === x.id)).map((x) => x.id)
  const removed = gone(before?.steps, draft.steps)
  const effectsGone = gone(before?.effects, draft.effects)
  if (effectsGone.length) await tx.write("DELETE FROM effect WHERE id IN (?)", [effectsGone])
  if (removed.length) await tx.write("DELETE FROM step WHERE id IN (?)", [removed])
  await storeStreams(tx, before, draft, stepId)
  for (const q of draft.sequences)
    if (q.id < 0) {
      const mails = q.mails.map((m) => ({ ...m, stepId: m.stepId === null ? null : stepId(m.stepId) }))
      given.sequences.set(q.id, (await storeSeries(tx, { ...q, mails })).id)
    }
  const effects = draft.effects.map((e) => ({
    ...e,
    step: stepId(e.step),
    settings: aboutGiven(e, given),
  }))
  for (const e of effects) {
    const known = before?.effects.find((x) => x.id === e.id)
    if (known && isDeepStrictEqual(known.settings, e.settings)) continue
    const settings = JSON.stringify(e.settings)
    if (known) await tx.update("effect", e.id, { settings })
    else {
      const id = e.id > 0 ? e.id : undefined
      const made = await tx.insert("effect", { id, step_id: e.step, outcome: e.outcome, kind: e.kind, settings })
      if (e.id < 0) given.effects.set(e.id, made.id)
    }
  }
  await storeReferences(tx, funnel, { ...draft, effects }, given)
  return { funnel, step: stepId }
}

/** The settings of an effect that is about a sequence which has just been given its number. */
function aboutGiven(e: Effect, given: Given): object {
  const about = refsOfDeed(e)[0]
  const number = about?.to === "sequence" ? given.sequences.get(about.id) : undefined
  return number === undefined ? e.settings : effectKinds[e.kind].of(number)
}

async function storeHead(tx: Db, before: Funnel | null, draft: Funnel, at: number): Promise<number> {
  const now = new Date(at)
  if (before) {
    await tx.update("funnel", draft.id, { name: draft.name, again_after: draft.againAfter, changed_at: now })
    return draft.id
  }
  const made = await tx.insert("funnel", {
    name: draft.name,
    again_after: draft.againAfter,
    made_at: now,
    changed_at: now,
  })
  return made.id
}

async function storeStep(
  tx: Db,
  funnel: number,
  before: Step | undefined,
  s: Step,
  position: number | null,
  given: Given,
): Promise<void> {
  const page = s.page && JSON.stringify(s.page)
  const settings = JSON.stringify(s.settings)
  if (!before) {
    const made = await tx.insert("step", {
      id: s.id > 0 ? s.id : undefined,
      funnel_id: funnel,
      kind: s.kind,
      name: s.name,
      path: s.path,
      position: position ?? 0,
      page,
      settings,
    })
    if (s.id < 0) given.steps.set(s.id, made.id)
    return
  }
  if (before.name !== s.name || before.path !== s.path || !isDeepStrictEqual(before.settings, s.settings))
    await tx.update("step", s.id, { name: s.name, path: s.path, settings })
  if (!isDeepStrictEqual(before.page, s.page))
    await tx.write("UPDATE step SET page = ?, revision = revision + 1 WHERE id = ?", [page, s.id])
  if (position !== null) await tx.update("step", s.id, { position })
}

async function storeStreams(
  tx: Db,
  before: Funnel | null,
  draft: Funnel,
  stepId: (id: number) => number,
): Promise<void> {
  if (isDeepStrictEqual(before?.streams, draft.streams)) return
  await tx.write("DELETE FROM stream WHERE step_id IN (?)", [[0, ...draft.steps.map((s) => stepId(s.id))]])
  await tx.insert(
    "stream",
    draft.streams.map((t) => ({
      step_id: stepId(t.from),
      outcome: t.outcome,
      to_step_id: t.to === null ? null : stepId(t.to),
    })),
  )
}

/** Writes what a stored draft refers to, in place of what it referred to before. */
export async function storeReferences(tx: Db, funnel: number, draft: Funnel, given?: Given): Promise<void> {
  const id = (of: keyof Given, n: number | undefined) => (n === undefined ? undefined : (given?.[of].get(n) ?? n))
  await writeReferences(
    tx,
    { funnel },
    refsOfFunnel(draft).map(({ from, ref }) => ({
      from: {
        funnel,
        step: id("steps", from.step),
        block: from.block,
        effect: id("effects", from.effect),
      },
      ref: ref.to === "step" ? { ...ref, id: id("steps", ref.id)! } : ref,
    })),
  )
}
