// Who may open a course or a file, and what gave it: each origin by itself, so that what one gave can end while another's
// stays.
import type { Db } from "../db/pool"
import { happen } from "../happen"

export const origin = {
  /** A form of a funnel. */
  funnel: (id: number) => `funnel:${id}`,
  /** A line of an order. */
  line: (id: number) => `line:${id}`,
  /** What was set off because of an order. */
  order: (id: number) => `order:${id}`,
  /** What was set off by anything else that happened. */
  occasion: (effect: number) => `effect:${effect}`,
} as const

export type Admission = {
  readonly person: number
  readonly opens: { readonly course: number } | { readonly media: number }
  readonly origin: string
  /** The first order of the story it was bought in. */
  readonly story?: number
  readonly at: number
  readonly title: string
}

/** Opens something for somebody. A second time by the same origin changes nothing. To be called inside a transaction. */
export async function admit(tx: Db, a: Admission): Promise<void> {
  const course = "course" in a.opens ? a.opens.course : null
  const media = "media" in a.opens ? a.opens.media : null
  if (course !== null && !(await tx.row("SELECT id FROM course WHERE id = ?", [course]))) return
  const made = await tx.write(
    "INSERT IGNORE INTO admission (person_id, course_id, media_id, origin, order_id, from_at) VALUES (?, ?, ?, ?, ?, ?)",
    [a.person, course, media, a.origin, a.story ?? null, new Date(a.at)],
  )
  if (made.affected) await happen(tx, { kind: "admitted", at: a.at, person: a.person, subject: course, words: a.title })
}
