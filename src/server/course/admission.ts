// Who may open a course or a file, and what gave it: each origin by itself, so that what one gave can end while another's
// stays.
import type { Db } from "../db/pool"
import { happen } from "../happen"

/** What is opened: a course, one module or one lesson of it, or a file. */
export type Opened =
  | { readonly course: number; readonly module?: number | null; readonly lesson?: number | null }
  | { readonly media: number }

type Given = {
  readonly opens: Opened
  readonly origin: string
  /** The first order of the story it was bought in. */
  readonly story?: number
  readonly at: number
  /** Its end; without one it has none. */
  readonly until?: number | null
  readonly title: string
}

export type Admission = Given & { readonly person: number }

/** Opens something for somebody. A second time by the same origin changes nothing. To be called inside a transaction. */
export async function admit(tx: Db, { person, ...given }: Admission): Promise<void> {
  await admitAll(tx, [person], given)
}

/** Opens something for many, each once; gives those for whom it is new. To be called inside a transaction. */
export async function admitAll(tx: Db, people: readonly number[], a: Given): Promise<ReadonlySet<number>> {
  const course = "course" in a.opens ? a.opens.course : null
  const module = "course" in a.opens ? (a.opens.module ?? null) : null
  const lesson = "course" in a.opens ? (a.opens.lesson ?? null) : null
  const media = "media" in a.opens ? a.opens.media : null
  if (!people.length) return new Set()
  if (course !== null && !(await tx.row("SELECT id FROM course WHERE id = ?", [course]))) return new Set()
  const [from, until] = [new Date(a.at), a.until ? new Date(a.until) : null]
  const made = await tx.insert(
    "admission",
    people.map((p) => ({
      person_id: p,
      course_id: course,
      media_id: media,
      module_id: module,
      lesson_id: lesson,
      origin: a.origin,
      order_id: a.story ?? null,
      from_at: from,
      until_at: until,
    })),
    "ignore",
  )
  const fresh =
    made.affected === people.length ? people : made.affected ? await madeFrom(tx, made.id, people, a.origin) : []
  await happen(
    tx,
    fresh.map((person) => ({ kind: "admitted" as const, at: a.at, person, subject: course, words: a.title })),
  )
  return new Set(fresh)
}

/** Those of them whose admission was made just now: the numbers of a statement begin with its first. */
async function madeFrom(tx: Db, first: number, people: readonly number[], origin: string): Promise<number[]> {
  const rows = await tx.rows<{ person_id: number }>(
    "SELECT person_id FROM admission WHERE id >= ? AND origin = ? AND person_id IN (?)",
    [first, origin, people],
  )
  return rows.map((r) => r.person_id)
}

/** Ends what opens a course for somebody, apart from what they bought. To be called inside a transaction. */
export async function endGiven(
  tx: Db,
  e: { readonly person: number; readonly course: number; readonly at: number; readonly title: string },
): Promise<void> {
  const ended = await tx.write(
    "UPDATE admission SET until_at = ? WHERE person_id = ? AND course_id = ? AND order_id IS NULL AND (until_at IS NULL OR until_at > ?)",
    [new Date(e.at), e.person, e.course, new Date(e.at)],
  )
  if (ended.affected)
    await happen(tx, { kind: "access-ended", at: e.at, person: e.person, subject: e.course, words: `“${e.title}”` })
}
