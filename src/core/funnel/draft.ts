// A whole funnel as one value: its steps and pages, what leads where, what is set off, and the mails. What preflight
// reads, what a release freezes, and what the river is laid out from.
import type { Page } from "../page/document"
import type { EffectKind, Outcome, StepKind } from "./kinds"

export type Step = {
  readonly id: number
  readonly kind: StepKind
  readonly name: string
  /** Public address without the leading slash; empty for the learning area. */
  readonly path: string
  readonly page: Page | null
  /** The course that a step of kind `learning` opens into. */
  readonly courseId: number | null
  /** What a checkout or a further offer sells. */
  readonly offerId: number | null
  /** The terms of a further offer; null: the offer's first. */
  readonly termsId: number | null
  /** A further offer takes the place of what was bought, instead of being added to it. */
  readonly replaces: boolean
  /** How the way goes on where a further offer can't be made: they have it, it is sold out, or it is over. */
  readonly skipAs: "accepted" | "declined"
}

export type Stream = { readonly from: number; readonly outcome: Outcome; readonly to: number | null }

export type Effect = {
  readonly id: number
  readonly step: number
  readonly outcome: Outcome
  readonly kind: EffectKind
  /** The tag, sequence or course it is about, by kind. */
  readonly subject: number
  /** What that is called now. */
  readonly name: string
}

export type SequenceMail = {
  readonly id: number
  readonly afterDays: number
  /** Minute of the reader's day; null: at once. */
  readonly atMinute: number | null
  readonly subject: string
  /** Sanitised HTML with chips. */
  readonly body: string
  readonly button: string
  readonly lessonId: number | null
  /** A page where the button leads, instead of a lesson. */
  readonly stepId: number | null
}

export type Sequence = {
  readonly id: number
  readonly name: string
  readonly state: "draft" | "live"
  /** Words of the link that unsubscribes. */
  readonly leaveLine: string
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
  readonly id: number
  readonly name: string
  readonly steps: readonly Step[]
  readonly streams: readonly Stream[]
  readonly effects: readonly Effect[]
  readonly sequences: readonly Sequence[]
  readonly courses: readonly CourseCard[]
}

export function stepById(funnel: Funnel, id: number | null): Step | undefined {
  return funnel.steps.find((s) => s.id === id)
}

export function streamTo(funnel: Funnel, from: number, outcome: Outcome): Step | undefined {
  return stepById(funnel, funnel.streams.find((s) => s.from === from && s.outcome === outcome)?.to ?? null)
}

/** The course that a funnel leads to. */
export function courseOf(funnel: Funnel): CourseCard | undefined {
  const learning = funnel.steps.find((s) => s.kind === "learning")
  return funnel.courses.find((c) => c.id === learning?.courseId)
}

/** Where a person who opens this step stands: a page of ours, or the course in the learning area. */
export function addressOf(funnel: Funnel, step: Step): string {
  if (step.kind !== "learning") return `/${step.path}`
  const course = funnel.courses.find((c) => c.id === step.courseId)
  return course ? `/learn/${course.slug}` : "/learn"
}
