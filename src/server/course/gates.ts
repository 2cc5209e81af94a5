// Gates as stored: the school's own; a course's and a lesson's are saved with them.
import * as v from "valibot"
import { type Gate, type Gates, gatesSchema, readGates } from "@/core/course/gate"
import { neverOpens, type PlanVersion } from "@/core/course/plan"
import type { CourseDoors } from "@/core/funnel/finding"
import { kindsThat } from "@/core/funnel/step/list"
import type { Db } from "../db/pool"
import { refusal, type Saved } from "../saved"
import type { Surroundings } from "../surroundings"
import { pageThatLeadsTo } from "./learn"
import { readPlans } from "./plan"

export async function schoolGates(db: Db): Promise<Gates> {
  const row = await db.row<{ gates: string }>("SELECT gates FROM school WHERE id = 1")
  return readGates(row?.gates ?? "{}")
}

export async function saveSchoolGates(s: Surroundings, typed: unknown): Promise<Saved> {
  const read = v.safeParse(gatesSchema, typed)
  if (!read.success) return refusal(read.issues)
  await s.db.write("UPDATE school SET gates = ? WHERE id = 1", [JSON.stringify(read.output)])
  return { ok: true }
}

export type GateView = {
  readonly school: Gates
  /** The live page that is found by itself, without a slash. */
  readonly page: string | null
  readonly steps: readonly {
    readonly id: number
    readonly name: string
    readonly funnel: string
    readonly live: boolean
  }[]
  readonly lessons: readonly { readonly id: number; readonly title: string; readonly gates: Gates }[]
}

/** What there is to choose from for the gates of a course, and what its lessons have chosen. */
export async function gateView(db: Db, course: number): Promise<GateView> {
  const steps = await db.rows<{ id: number; name: string; funnel: string; live: number }>(
    `SELECT s.id, s.name, f.name AS funnel, EXISTS (SELECT 1 FROM live_page p WHERE p.step_id = s.id) AS live
     FROM step s JOIN funnel f ON f.id = s.funnel_id WHERE s.kind IN (?) ORDER BY f.name, s.position, s.id LIMIT 500`,
    [kindsThat((k) => k.entry)],
  )
  const lessons = await db.rows<{ id: number; title: string; gates: string }>(
    "SELECT id, title, gates FROM lesson WHERE course_id = ? AND state <> 'removed' ORDER BY position, id",
    [course],
  )
  return {
    school: await schoolGates(db),
    page: await pageThatLeadsTo(db, course),
    steps: steps.map((x) => ({ ...x, live: Boolean(x.live) })),
    lessons: lessons.map((l) => ({ ...l, gates: readGates(l.gates) })),
  }
}

/** What is wrong with the ways into courses, by course: lessons that can never open, gates that lead to pages that aren't live. */
export async function courseDoors(db: Db): Promise<Map<number, CourseDoors>> {
  const courses = await db.rows<{ id: number; gates: string; state: string }>(
    "SELECT id, gates, state FROM course WHERE state <> 'draft' LIMIT 500",
  )
  const ids = courses.map((c) => c.id)
  const lessons = await db.rows<{ id: number; course_id: number; title: string; gates: string }>(
    "SELECT id, course_id, title, gates FROM lesson WHERE course_id IN (?) AND state = 'live' AND (gates <> '{}' OR course_id IN (SELECT c.id FROM course c WHERE c.in_order = 1) OR opens LIKE '%after-lesson%' OR module_id IN (SELECT m.id FROM module m WHERE m.opens LIKE '%after-lesson%'))",
    [[0, ...ids]],
  )
  const waiting = [...new Set(lessons.map((l) => l.course_id))]
  const plans = waiting.length ? await readPlans(db, waiting) : new Map<number, PlanVersion[]>()
  const school = await schoolGates(db)
  const dead = await deadSteps(db)
  return new Map(
    courses.map((c) => {
      const own = lessons.filter((l) => l.course_id === c.id)
      const plan = plans.get(c.id)?.at(-1)?.plan
      const never = plan ? [...neverOpens(plan)].filter(([, why]) => why === "circle").map(([id]) => id) : []
      const gates = [{ ...school, ...readGates(c.gates) }, ...own.map((l) => readGates(l.gates))].flatMap(
        Object.values,
      ) as Gate[]
      const led = gates.flatMap((g) => (g.kind === "step" ? (dead.get(g.step) ?? []) : []))
      return [
        c.id,
        {
          closed: c.state === "closed",
          never: own.filter((l) => never.includes(l.id)).map((l) => l.title),
          dead: [...new Set(led)],
        },
      ]
    }),
  )
}

/** Steps that have no live page, by number, with their names. */
async function deadSteps(db: Db): Promise<Map<number, string>> {
  const rows = await db.rows<{ id: number; name: string }>(
    "SELECT s.id, s.name FROM step s WHERE NOT EXISTS (SELECT 1 FROM live_page p WHERE p.step_id = s.id)",
  )
  return new Map(rows.map((r) => [r.id, r.name]))
}
