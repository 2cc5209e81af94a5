// Lessons that are done, by a press, by playing or by what somebody did: and with the last of them its module and its course.

import { isComplete } from "@/core/course/done"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { type Happening, happen } from "../happen"
import type { Admitted } from "../person/session"
import { type Listener, oneByOne } from "../tx-context"

export const doneFact = (person: number, lesson: number, title: string, at: number): Happening => ({
  kind: "lesson-done",
  at,
  once: `done:${person}:${lesson}`,
  person,
  subject: lesson,
  words: title,
})

/**
 * A device that is only let into what it has just taken keeps progress apart: whoever typed somebody's address there neither
 * sees nor changes what they have done.
 */
export async function setDone(
  s: Context,
  who: Admitted,
  lesson: { readonly id: number; readonly title: string },
  done: boolean,
): Promise<void> {
  const at = await s.clock.now()
  await s.db.transaction(async (tx) => {
    if (who.scope !== null) {
      const { scope } = who
      if (done)
        await tx.insert(
          "lesson_done_unproved",
          { order_id: Number(scope.split(",").at(-1)), lesson_id: lesson.id, at: new Date(at) },
          "ignore",
        )
      else
        await tx.write("DELETE FROM lesson_done_unproved WHERE FIND_IN_SET(order_id, ?) AND lesson_id = ?", [
          scope,
          lesson.id,
        ])
      return
    }
    const { person } = who
    if (!done) {
      await tx.write("DELETE FROM lesson_done WHERE person_id = ? AND lesson_id = ?", [person, lesson.id])
      return
    }
    const made = await tx.insert("lesson_done", { person_id: person, lesson_id: lesson.id, at: new Date(at) }, "ignore")
    if (made.affected) await happen(tx, [doneFact(person, lesson.id, lesson.title, at)])
  })
}
/** A part of a course is begun or done, once. */
export async function completePart(
  tx: Db,
  kind: "module-done" | "course-begun" | "course-done",
  id: number,
  person: number,
  at: number,
): Promise<void> {
  const table = kind === "module-done" ? "module" : "course"
  const found = await tx.row<{ title: string }>(`SELECT title FROM ${table} WHERE id = ?`, [id])
  await happen(tx, { kind, at, once: `${kind}:${person}:${id}`, person, subject: id, words: found?.title ?? "" })
}

/** With the last lesson that is required, its module and its course are done, once. */
export const completeParts: Listener = {
  to: ["lesson-done"],
  hear: oneByOne(async (tx, h) => {
    const { person } = h
    if (!person) return
    const lessons = await tx.rows<{ id: number; required: number; module_id: number | null; course_id: number }>(
      "SELECT o.id, o.required, o.module_id, o.course_id FROM lesson l JOIN lesson o ON o.course_id = l.course_id AND o.state = 'live' WHERE l.id = ?",
      [h.subject],
    )
    const own = lessons.find((l) => l.id === h.subject)
    if (!own) return
    const rows = await tx.rows<{ lesson_id: number }>(
      "SELECT d.lesson_id FROM lesson_done d JOIN lesson l ON l.id = d.lesson_id WHERE d.person_id = ? AND l.course_id = ?",
      [person, own.course_id],
    )
    const done = new Set(rows.map((r) => r.lesson_id))
    const planned = lessons.map((l) => ({ ...l, required: Boolean(l.required) }))
    const module = planned.filter((l) => l.module_id === own.module_id)
    if (own.module_id !== null && isComplete(module, done))
      await completePart(tx, "module-done", own.module_id, person, h.at)
    if (isComplete(planned, done)) await completePart(tx, "course-done", own.course_id, person, h.at)
  }),
}
/** What a device did before its mailbox had proved itself is its person's from now on. */
export const takeProgress: Listener = {
  to: ["signed-in", "confirmed"],
  hear: oneByOne(async (tx, h) => {
    const scope = h.data?.orders
    const person = h.person
    if (!scope || !person) return
    const done = await tx.rows<{ lesson_id: number; title: string; at: Date }>(
      "SELECT d.lesson_id, l.title, MIN(d.at) AS at FROM lesson_done_unproved d JOIN lesson l ON l.id = d.lesson_id WHERE FIND_IN_SET(d.order_id, ?) GROUP BY 1, 2",
      [scope],
    )
    for (const d of done) {
      const made = await tx.insert("lesson_done", { person_id: person, lesson_id: d.lesson_id, at: d.at }, "ignore")
      if (made.affected) await happen(tx, doneFact(person, d.lesson_id, d.title, h.at))
    }
    await tx.write("DELETE FROM lesson_done_unproved WHERE FIND_IN_SET(order_id, ?)", [scope])
  }),
}
