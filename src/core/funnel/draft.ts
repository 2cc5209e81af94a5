// A whole funnel as one value: its steps and pages, what leads where, what is set off, and the mails. What is edited, what
// preflight reads, what a release freezes, and what the river is laid out from.
import type { Page } from "../page/document"
import type { EffectKind } from "./effect/list"
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

/** Something that is done for a person when something happens. */
export type Action = {
  readonly id: number
  readonly kind: EffectKind
  /** What it is about, by its kind. */
  readonly settings: object
  /** What that is called now. */
  readonly name: string
}

/** What an outcome of a step sets off. */
export type Effect = Action & { readonly step: number; readonly outcome: Outcome }

export type SequenceMail = {
  readonly id: number
  readonly afterDays: number
  /** Minute of the reader's day; null: at once. */
  readonly atMinute: number | null
  readonly subject: string
  /** What inboxes show after the subject; empty: the beginning of the text. */
  readonly preview: string
  /** The plain text where it is written by hand; empty: it is made. */
  readonly plain: string
  /** Sanitised HTML with chips. */
  readonly body: string
  readonly button: string
  readonly lessonId: number | null
  /** A page where the button leads, instead of a lesson. */
  readonly stepId: number | null
}

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

/** What of a course shows on pages and in mails. */
export type CourseCard = {
  readonly id: number
  readonly slug: string
  readonly title: string
  readonly promise: string
  readonly teacher: string
  readonly state: "draft" | "live"
  readonly lessons: readonly {
    readonly id: number
    readonly title: string
    readonly minutes: number
    readonly state: "draft" | "live"
  }[]
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
