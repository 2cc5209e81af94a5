// What a document refers to: the things whose removal would be felt there, and whose change shows there.

export type Referred =
  | "offer"
  | "course"
  | "lesson"
  | "media"
  | "sequence"
  | "tag"
  | "step"
  | "field"
  | "choice"
  | "webinar"
  | "segment"
  | "teacher"
  | "kept_section"

export type Ref = {
  readonly to: Referred
  readonly id: number
  /** What for, in a word that reads after "it": "sells it", "opens it". */
  readonly use: string
}

/** A reference where one is set. */
export function refTo(to: Referred, id: number | null | undefined, use: string): Ref[] {
  return id ? [{ to, id, use }] : []
}
