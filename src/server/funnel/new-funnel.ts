// "New funnel": the whole thing from a course, wired, written and ready to have its words changed.
import * as v from "valibot"
import { miniCourseRecipe, type Recipe } from "@/core/funnel/recipe"
import { freeSlug, reserved, slugOf } from "@/core/funnel/slug"
import { courseForRecipe } from "../course/course"
import type { Db } from "../db/pool"
import type { Surroundings } from "../surroundings"

const input = v.object({ goal: v.literal("mini-course"), course: v.pipe(v.number(), v.integer(), v.minValue(1)) })

export async function newFunnel(s: Surroundings, asked: unknown): Promise<{ funnel: number } | { refused: string }> {
  const read = v.safeParse(input, asked)
  if (!read.success) return { refused: "Choose what people should end up with, and which course." }
  const at = new Date(await s.clock.now())
  return s.db.transaction(async (tx) => {
    const course = await courseForRecipe(tx, read.output.course)
    if (!course) return { refused: "This course is no longer there." }
    if (course.lessons.length === 0)
      return { refused: `“${course.title}” has no lesson yet. Write the first one, then come back.` }
    const taken = await tx.rows<{ path: string }>("SELECT path FROM step UNION SELECT path FROM live_page")
    const firsts = new Set([...reserved, ...taken.map((t) => t.path.split("/")[0]!)])
    const recipe = miniCourseRecipe(course, freeSlug(slugOf(course.title, "mini-course"), firsts))
    return { funnel: await writeRecipe(tx, recipe, course.id, at) }
  })
}

async function writeRecipe(tx: Db, recipe: Recipe, course: number, at: Date): Promise<number> {
  const funnel = (
    await tx.write("INSERT INTO funnel (name, goal, made_at, changed_at) VALUES (?, 'mini-course', ?, ?)", [
      recipe.name,
      at,
      at,
    ])
  ).id
  const ids = new Map<string, number>()
  for (const [position, s] of recipe.steps.entries()) {
    const made = await tx.write(
      "INSERT INTO step (funnel_id, kind, name, path, position, course_id, page) VALUES (?, ?, ?, ?, ?, ?, ?)",
      [
        funnel,
        s.kind,
        s.name,
        s.path,
        position,
        s.kind === "learning" ? course : null,
        s.page && JSON.stringify(s.page),
      ],
    )
    ids.set(s.key, made.id)
  }
  for (const s of recipe.streams)
    await tx.write("INSERT INTO stream (step_id, outcome, to_step_id) VALUES (?, ?, ?)", [
      ids.get(s.from),
      s.outcome,
      ids.get(s.to),
    ])
  const sequence = (
    await tx.write("INSERT INTO sequence (funnel_id, name, state, leave_line) VALUES (?, ?, 'live', ?)", [
      funnel,
      recipe.sequence.name,
      recipe.sequence.leaveLine,
    ])
  ).id
  for (const [position, m] of recipe.sequence.mails.entries())
    await tx.write(
      "INSERT INTO sequence_mail (sequence_id, position, after_days, at_minute, subject, body, button, lesson_id) VALUES (?, ?, ?, ?, ?, ?, ?, ?)",
      [sequence, position, m.afterDays, m.atMinute, m.subject, m.body, m.button, m.lessonId],
    )
  for (const e of recipe.effects)
    await tx.write("INSERT INTO effect (step_id, outcome, kind, sequence_id, course_id) VALUES (?, ?, ?, ?, ?)", [
      ids.get(e.step),
      e.outcome,
      e.kind,
      e.kind === "begin-sequence" ? sequence : null,
      e.kind === "open-course" ? course : null,
    ])
  return funnel
}
