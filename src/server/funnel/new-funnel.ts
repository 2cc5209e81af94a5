// "New funnel": the whole thing from a course, wired, written and ready to have its words changed.
import * as v from "valibot"
import { miniCourseRecipe, type Recipe, sellCourseRecipe } from "@/core/funnel/recipe"
import { freeSlug, reserved, slugOf } from "@/core/funnel/slug"
import { giftsOf } from "@/core/offer/offer"
import { courseForRecipe } from "../course/course"
import type { Db } from "../db/pool"
import { loadOffers } from "../offer/offer"
import type { Surroundings } from "../surroundings"

const reference = v.pipe(v.number(), v.integer(), v.minValue(1))
const input = v.variant("goal", [
  v.object({ goal: v.literal("mini-course"), course: reference }),
  v.object({
    goal: v.literal("sell-course"),
    offer: reference,
    further: v.nullable(reference),
    second: v.nullable(reference),
  }),
])

export async function newFunnel(s: Surroundings, asked: unknown): Promise<{ funnel: number } | { refused: string }> {
  const read = v.safeParse(input, asked)
  if (!read.success) return { refused: "Choose what people should end up with, and what it is about." }
  const asks = read.output
  const at = new Date(await s.clock.now())
  return s.db.transaction(async (tx) => {
    const offers = await loadOffers(tx)
    const offer = asks.goal === "sell-course" ? offers.get(asks.offer) : undefined
    const sold = offer && giftsOf(offer, offers).find((g) => g.kind === "course")
    if (asks.goal === "sell-course" && !offer) return { refused: "This offer is no longer there." }
    if (offer && giftsOf(offer, offers).length === 0)
      return { refused: `“${offer.publicName}” gives nothing yet. Say what it gives, then come back.` }
    const about = asks.goal === "mini-course" ? asks.course : sold?.course
    const course = about === undefined ? null : ((await courseForRecipe(tx, about)) ?? null)
    if (about !== undefined && !course) return { refused: "This course is no longer there." }
    if (course?.lessons.length === 0)
      return { refused: `“${course.title}” has no lesson yet. Write the first one, then come back.` }
    const taken = await tx.rows<{ path: string }>("SELECT path FROM step UNION SELECT path FROM live_page")
    const firsts = new Set([...reserved, ...taken.map((t) => t.path.split("/")[0]!)])
    const base = freeSlug(
      slugOf(course?.title ?? offer!.publicName, asks.goal === "mini-course" ? "mini-course" : "course"),
      firsts,
    )
    const extra = (id: number | null) => (id === null ? null : (offers.get(id) ?? null))
    const recipe =
      asks.goal === "mini-course"
        ? miniCourseRecipe(course!, base)
        : sellCourseRecipe({ course, offer: offer!, further: extra(asks.further), second: extra(asks.second) }, base)
    return { funnel: await writeRecipe(tx, recipe, asks.goal, course?.id ?? null, at) }
  })
}

async function writeRecipe(tx: Db, recipe: Recipe, goal: string, course: number | null, at: Date): Promise<number> {
  const funnel = (
    await tx.write("INSERT INTO funnel (name, goal, made_at, changed_at) VALUES (?, ?, ?, ?)", [
      recipe.name,
      goal,
      at,
      at,
    ])
  ).id
  const ids = new Map<string, number>()
  for (const [position, s] of recipe.steps.entries()) {
    const made = await tx.write(
      "INSERT INTO step (funnel_id, kind, name, path, position, course_id, offer_id, page) VALUES (?, ?, ?, ?, ?, ?, ?, ?)",
      [
        funnel,
        s.kind,
        s.name,
        s.path,
        position,
        s.kind === "learning" ? course : null,
        s.offer ?? null,
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
      "INSERT INTO sequence_mail (sequence_id, position, after_days, at_minute, subject, body, button, lesson_id, step_id) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)",
      [
        sequence,
        position,
        m.afterDays,
        m.atMinute,
        m.subject,
        m.body,
        m.button,
        m.lessonId,
        m.leadsTo === undefined ? null : (ids.get(m.leadsTo) ?? null),
      ],
    )
  for (const e of recipe.effects)
    await tx.write("INSERT INTO effect (step_id, outcome, kind, sequence_id, course_id) VALUES (?, ?, ?, ?, ?)", [
      ids.get(e.step),
      e.outcome,
      e.kind,
      e.kind === "open-course" ? null : sequence,
      e.kind === "open-course" ? course : null,
    ])
  return funnel
}
