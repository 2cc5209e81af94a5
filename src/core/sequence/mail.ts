// An e-mail of a sequence.

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
