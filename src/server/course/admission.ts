// Who may open a course or a file, and what gave it: each origin by itself, so that what one gave can end while another's
// stays.
import type { Db } from "../db/pool"
import { happen } from "../happen"

export type Admission = {
  readonly person: number
  readonly opens: { readonly course: number; readonly module?: number | null } | { readonly media: number }
  readonly origin: string
  /** The first order of the story it was bought in. */
  readonly story?: number
  readonly at: number
  /** Its end; without one it has none. */
  readonly until?: number | null
  readonly title: string
}

/** Opens something for somebody. A second time by the same origin changes nothing. To be called inside a transaction. */
export async function admit(tx: Db, a: Admission): Promise<void> {
  const course = "course" in a.opens ? a.opens.course : null
  const module = "course" in a.opens ? (a.opens.module ?? null) : null
  const media = "media" in a.opens ? a.opens.media : null
  if (course !== null && !(await tx.row("SELECT id FROM course WHERE id = ?", [course]))) return
  const made = await tx.write(
    "INSERT IGNORE INTO admission (person_id, course_id, media_id, module_id, origin, order_id, from_at, until_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?)",
    [a.person, course, media, module, a.origin, a.story ?? null, new Date(a.at), a.until ? new Date(a.until) : null],
  )
  if (made.affected) await happen(tx, { kind: "admitted", at: a.at, person: a.person, subject: course, words: a.title })
}
