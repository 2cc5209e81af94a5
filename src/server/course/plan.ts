// The plan of a course as stored: the one in force from the tables, those before as they were put by when it changed.

import * as v from "valibot"
import { type Opens, opensSchema } from "@/core/course/opens"
import { type CoursePlan, onlyAdds, type PlanVersion } from "@/core/course/plan"
import type { Db } from "../db/pool"
import type { Row } from "../db/row"
import { setTimer } from "../timer"

const opensOf = (json: string): Opens => v.parse(opensSchema, JSON.parse(json))

/** Every version of the plans of these courses, by course, the one in force last. */
export async function readPlans(db: Db, courses: readonly number[]): Promise<Map<number, PlanVersion[]>> {
  const ids = [0, ...courses]
  const rows = await db.rows<{ id: number; state: string; starts: string | null; opens: string; in_order: number }>(
    "SELECT id, state, DATE_FORMAT(starts, '%Y-%m-%d') AS starts, opens, in_order FROM course WHERE id IN (?)",
    [ids],
  )
  const modules = await db.rows<{ id: number; course_id: number; opens: string | null }>(
    "SELECT id, course_id, opens FROM module WHERE course_id IN (?) AND removed_at IS NULL ORDER BY position, id",
    [ids],
  )
  const lessons = await db.rows<Pick<Row<"lesson">, "id" | "course_id" | "module_id" | "opens" | "free" | "required">>(
    "SELECT id, course_id, module_id, opens, free, required FROM lesson WHERE course_id IN (?) AND state = 'live' ORDER BY position, id",
    [ids],
  )
  const before = await db.rows<{ course_id: number; until_at: Date; plan: string }>(
    "SELECT course_id, until_at, plan FROM plan_before WHERE course_id IN (?) ORDER BY course_id, until_at",
    [ids],
  )
  return new Map(
    rows.map((c) => {
      const plan: CoursePlan = {
        opens: opensOf(c.opens),
        starts: c.state === "announced" ? c.starts : null,
        inOrder: Boolean(c.in_order),
        modules: modules
          .filter((m) => m.course_id === c.id)
          .map((m) => ({ id: m.id, opens: m.opens === null ? null : opensOf(m.opens) })),
        lessons: lessons
          .filter((l) => l.course_id === c.id)
          .map((l) => ({
            id: l.id,
            module: l.module_id,
            opens: l.opens === null ? null : opensOf(l.opens),
            free: Boolean(l.free),
            required: Boolean(l.required),
          })),
      }
      const past = before.filter((b) => b.course_id === c.id)
      const versions = past.map((b, i) => ({
        from: past[i - 1]?.until_at.getTime() ?? 0,
        plan: JSON.parse(b.plan) as CoursePlan,
      }))
      return [c.id, [...versions, { from: past.at(-1)?.until_at.getTime() ?? 0, plan }]]
    }),
  )
}

/**
 * Runs a change of a course that may change its plan. Where it did more than add to it, and somebody has been let in, the plan
 * before is put by, so that what it had opened to them stays open. To be called inside a transaction.
 */
export async function changingPlan<T>(tx: Db, course: number, at: number, change: () => Promise<T>): Promise<T> {
  await tx.row("SELECT id FROM course WHERE id = ? FOR UPDATE", [course])
  const before = (await readPlans(tx, [course])).get(course)?.at(-1)
  const done = await change()
  const after = (await readPlans(tx, [course])).get(course)?.at(-1)
  if (!before || !after || onlyAdds(before.plan, after.plan)) return done
  if (!(await tx.row("SELECT 1 FROM admission WHERE course_id = ? LIMIT 1", [course]))) return done
  await setTimer(tx, { kind: "replan", about: course, dueAt: at })
  await tx.insert(
    "plan_before",
    { course_id: course, until_at: new Date(at), plan: JSON.stringify(before.plan) },
    "ignore",
  )
  return done
}
