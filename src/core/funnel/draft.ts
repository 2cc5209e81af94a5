// A whole funnel as one value: its steps and pages, what leads where, what is set off, and the mails. What is edited, what
// preflight reads, what a release freezes, and what the river is laid out from.
import type { CourseCard } from "../course/card"
import type { Page } from "../page/document"
import type { Action } from "../sequence/effect/list"
import type { SequenceMail } from "../sequence/mail"
import type { Outcome, StepKind } from "./step/list"

export type Step = {
  readonly id: number
  readonly kind: StepKind
  readonly name: string
  /** Public address without the leading slash; empty where it has no page. */
  readonly path: string
  readonly page: Page | null
  /** What is set at it, by its kind. */
  readonly settings: object
}

export type Stream = { readonly from: number; readonly outcome: Outcome; readonly to: number | null }

/** What an outcome of a step sets off. */
export type Effect = Action & { readonly step: number; readonly outcome: Outcome }

/** A paused one takes nobody on and sends nothing until it goes on. */
export type SequenceState = "draft" | "live" | "paused"

/** A sequence as a funnel sees it. */
export type Sequence = {
  readonly id: number
  readonly name: string
  readonly state: SequenceState
  /** Words of the link that unsubscribes. */
  readonly leaveLine: string
  /** In the order in which they are read. */
  readonly mails: readonly SequenceMail[]
}

export type Funnel = {
  readonly version: 2
  readonly id: number
  readonly name: string
  /** Days away after which the journey of somebody who comes back begins again, 1 to 3650; null: never. */
  readonly againAfter: number | null
  readonly steps: readonly Step[]
  readonly streams: readonly Stream[]
  readonly effects: readonly Effect[]
  /** Those that it begins, as they are now. */
  readonly sequences: readonly Sequence[]
  /** The courses that any of this speaks of, as they are now. */
  readonly courses: readonly CourseCard[]
}

export function stepById(funnel: Pick<Funnel, "steps">, id: number | null): Step | undefined {
  return funnel.steps.find((s) => s.id === id)
}

export function streamTo(funnel: Pick<Funnel, "steps" | "streams">, from: number, outcome: Outcome): Step | undefined {
  return stepById(funnel, funnel.streams.find((s) => s.from === from && s.outcome === outcome)?.to ?? null)
}
