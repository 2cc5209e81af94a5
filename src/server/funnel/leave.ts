// Leaving a step: the one way an outcome becomes what it sets off, the next step, and the arrival there.

import { waysByLooking } from "@/core/funnel/address"
import { type Step, stepById, streamTo } from "@/core/funnel/draft"
import { type Outcome, stepKinds } from "@/core/funnel/step/list"
import type { Db } from "../db/pool"
import { origin } from "../origin"
import { type Release, releaseById } from "../releases"
import { performAll } from "../sequence/effect/list"
import type { OrderOf } from "../sequence/effect/perform"
import { arrive, arriveTogether, type Visit } from "./journey"

export type Leaving = {
  readonly release: Release
  readonly step: number
  readonly outcome: Outcome
  readonly at: number
  /** Whom it sets something off for; null: nobody is known yet, and what it sets off is caught up with `setOff`. */
  readonly person: number | null
  /** Who travels on; null: nobody does. */
  readonly visitor: Buffer | null
  readonly via?: "page" | "mail"
  readonly order?: OrderOf
  /** Minor units paid with this: the journey carries them on. */
  readonly paid?: number
  /** The step that follows, worked out when what this sets off is done; the outcome's stream where not given. */
  readonly next?: () => Promise<Step | null>
  /** False where its funnel has been taken off the web since: they travel on, and nothing is set off. */
  readonly setsOff?: boolean
}

/** Gives the step they come to, or null. To be called inside a transaction. */
export async function leave(tx: Db, l: Leaving): Promise<Step | null> {
  const { funnel } = l.release
  if (l.person !== null && l.setsOff !== false) await setOff(tx, l, [l.person])
  if (l.visitor === null) return null
  const next = l.next ? await l.next() : (streamTo(funnel, l.step, l.outcome) ?? null)
  if (next)
    await arrive(tx, {
      funnel: funnel.id,
      visitor: l.visitor,
      step: next.id,
      outcome: l.outcome,
      via: l.via ?? "page",
      at: l.at,
      paid: l.paid,
      ...(l.person === null ? {} : { person: l.person }),
    })
  return next
}

/**
 * Somebody who has been here before looks at a page: where a way that is gone by looking leads here from where they rest,
 * they went that way. Otherwise they have come only where people also come from outside.
 */
export async function comeByLooking(tx: Db, v: Visit & { readonly release: number }): Promise<void> {
  const release = await releaseById(tx, v.release)
  const step = release && stepById(release.funnel, v.step)
  if (!step) return
  const ways = waysByLooking(release.funnel, step.id)
  const journey = await tx.row<{ rest: number; person: number | null }>(
    "SELECT rest_step_id AS rest, person_id AS person FROM journey WHERE funnel_id = ? AND visitor = ? ORDER BY run DESC LIMIT 1 FOR UPDATE",
    [v.funnel, v.visitor],
  )
  const way = ways.find((w) => w.from === journey?.rest)
  if (journey && way)
    await leave(tx, {
      release,
      step: way.from,
      outcome: way.outcome,
      at: v.at,
      person: journey.person,
      visitor: v.visitor,
      next: async () => step,
    })
  else if (stepKinds[step.kind].entry) {
    const { againAfter } = release.funnel
    await arrive(tx, { ...v, outcome: ways[0]?.outcome ?? null, via: "page", againAfter })
  }
}

/** The same for many who leave a step by one outcome at one instant, by the stream it has. To be called inside a transaction. */
export async function leaveTogether(
  tx: Db,
  l: Pick<Leaving, "release" | "step" | "outcome" | "at" | "setsOff">,
  travellers: readonly { readonly person: number; readonly visitor: Buffer }[],
): Promise<void> {
  const { funnel } = l.release
  if (l.setsOff !== false) await setOff(tx, l, [...new Set(travellers.map((t) => t.person))])
  const next = streamTo(funnel, l.step, l.outcome)
  if (next)
    await arriveTogether(
      tx,
      { funnel: funnel.id, from: l.step, step: next.id, outcome: l.outcome, at: l.at },
      travellers,
    )
}

/** What an outcome sets off, for these people; by itself only where the leaving came before the person was known. */
export async function setOff(
  tx: Db,
  { release: { funnel }, step, outcome, at, order }: Pick<Leaving, "release" | "step" | "outcome" | "at" | "order">,
  people: readonly number[],
): Promise<void> {
  await performAll(
    tx,
    funnel.effects.filter((e) => e.step === step && e.outcome === outcome),
    people,
    { at, funnel: funnel.id, order, origin: order ? origin.order(order.id) : origin.funnel(funnel.id) },
  )
}
