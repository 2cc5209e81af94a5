// What stands behind a gate, by its name: for the page that whoever stands before it is led to.
import type { Db } from "../db/pool"

export type LockedName = { readonly lesson: string | null; readonly course: string }

/** Only what anybody may know of: live lessons of courses that aren't drafts. */
export function lockedName(db: Db, what: "lesson" | "course", id: number): Promise<LockedName | undefined> {
  return what === "lesson"
    ? db.row<LockedName>(
        "SELECT l.title AS lesson, c.title AS course FROM lesson l JOIN course c ON c.id = l.course_id WHERE l.id = ? AND l.state = 'live' AND c.state <> 'draft'",
        [id],
      )
    : db.row<LockedName>("SELECT NULL AS lesson, title AS course FROM course WHERE id = ? AND state <> 'draft'", [id])
}

/** The part of an address that says it. */
export const lockedQuery = (asked: {
  readonly lesson: number | null
  readonly course: number
  readonly ended: boolean
}) => `?${asked.lesson === null ? `course=${asked.course}` : `lesson=${asked.lesson}`}${asked.ended ? "&ended" : ""}`
