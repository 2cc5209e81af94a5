// Gates: the school's own as stored (a course's and a lesson's are saved with them), and what somebody meets before one.

import * as v from "valibot"
import { type Gate, type Gates, gateFor, gatesSchema, readGates, type Situation, situationOf } from "@/core/course/gate"
import { neverOpens, type PlanVersion } from "@/core/course/plan"
import type { CourseDoors } from "@/core/funnel/finding"
import { kindsThat, stepKinds } from "@/core/funnel/step/list"
import { refusals } from "@/core/words/refusals"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import type { Row } from "../db/row"
import type { Admitted } from "../person/session"
import { refusal, type Saved } from "../saved"
import { schoolRow } from "../school-view"
import { emptyLessons } from "./course"
import { courseFor, type LearnCourse, type LearnLesson } from "./learn"
import { lockedQuery } from "./locked"
import { readPlans } from "./plan"

export async function schoolGates(db: Db): Promise<Gates> {
  const row = await schoolRow(db)
  return readGates(row?.gates ?? "{}")
}

export async function saveSchoolGates(s: Context, typed: unknown): Promise<Saved> {
  const read = v.safeParse(gatesSchema, typed)
  if (!read.success) return refusal(read.issues)
  await s.db.write("UPDATE school SET gates = ? WHERE id = 1", [JSON.stringify(read.output)])
  return { ok: true }
}

export type GateView = {
  readonly school: Gates
  /** Where signing out leads, and the last lesson of this course; null: to the sign-in page, to the course. */
  readonly signOut: number | null
  readonly lastLesson: number | null
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
  const leave = await db.row<{ school: number | null; course: number | null }>(
    "SELECT (SELECT leave_step_id FROM school WHERE id = 1) AS school, (SELECT leave_step_id FROM course WHERE id = ?) AS course",
    [course],
  )
  return {
    school: await schoolGates(db),
    signOut: leave?.school ?? null,
    lastLesson: leave?.course ?? null,
    page: await pageThatLeadsTo(db, course),
    steps: steps.map((x) => ({ ...x, live: Boolean(x.live) })),
    lessons: lessons.map((l) => ({ ...l, gates: readGates(l.gates) })),
  }
}

/** Chooses where signing out of the learning area leads; null: to its sign-in page. */
export async function saveSignOut(s: Context, step: unknown): Promise<Saved> {
  const read = v.safeParse(v.nullable(v.pipe(v.number(), v.integer(), v.minValue(1))), step)
  if (!read.success) return refusal(read.issues)
  if (read.output !== null && !(await s.db.row("SELECT 1 FROM step WHERE id = ?", [read.output])))
    return { refused: refusals.gone.page }
  await s.db.write("UPDATE school SET leave_step_id = ? WHERE id = 1", [read.output])
  return { ok: true }
}

/** Where somebody goes who signs out (`slug` null) or has done the last lesson of a course: a live page, or null. */
export async function wayOut(db: Db, slug: string | null): Promise<string | null> {
  const page = await db.row<{ path: string }>(
    slug === null
      ? "SELECT p.path FROM school x JOIN live_page p ON p.step_id = x.leave_step_id WHERE x.id = 1 LIMIT 1"
      : "SELECT p.path FROM course x JOIN live_page p ON p.step_id = x.leave_step_id WHERE x.slug = ? LIMIT 1",
    slug === null ? [] : [slug],
  )
  return page ? `/${page.path}` : null
}

/** What is wrong with courses and the ways into them, by course: lessons that can never open or have nothing in them, gates that lead to pages that aren't live. */
export async function coursePagesOf(db: Db): Promise<Map<number, CourseDoors>> {
  const courses = await db.rows<Pick<Row<"course">, "id" | "gates" | "state" | "signing_up" | "leave_step_id">>(
    "SELECT id, gates, state, signing_up, leave_step_id FROM course WHERE state <> 'draft' LIMIT 500",
  )
  const ids = courses.map((c) => c.id)
  const lessons = await db.rows<{ id: number; course_id: number; title: string; gates: string }>(
    "SELECT id, course_id, title, gates FROM lesson WHERE course_id IN (?) AND state = 'live' AND (gates <> '{}' OR course_id IN (SELECT c.id FROM course c WHERE c.in_order = 1) OR opens LIKE '%after-lesson%' OR module_id IN (SELECT m.id FROM module m WHERE m.opens LIKE '%after-lesson%'))",
    [[0, ...ids]],
  )
  const empty = await emptyLessons(db, ids)
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
      const steps = [...gates.flatMap((g) => (g.kind === "step" ? [g.step] : [])), c.leave_step_id ?? 0]
      const led = steps.flatMap((step) => dead.get(step) ?? [])
      return [
        c.id,
        {
          closed: c.state === "closed",
          signUpClosed: c.state === "closed" || !c.signing_up,
          never: own.filter((l) => never.includes(l.id)).map((l) => l.title),
          dead: [...new Set(led)],
          empty: empty.filter((l) => l.course_id === c.id).map((l) => l.title),
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

/** Kinds of step that somebody without access is sent to, the likeliest first. */
const gates = kindsThat((k) => k.gate !== undefined).sort((a, b) => stepKinds[b].gate! - stepKinds[a].gate!)

/** The live page of a funnel that sells this course, or else the one that gives it away; null where there is none. */
export async function pageThatLeadsTo(db: Db, course: number): Promise<string | null> {
  const page = await db.row<{ path: string }>(
    `SELECT p.path FROM live_page p JOIN step s ON s.id = p.step_id AND s.kind IN (?)
     WHERE EXISTS (SELECT 1 FROM reference r JOIN step t ON t.id = r.step_id WHERE r.course_id = ? AND r.block IS NULL AND t.funnel_id = p.funnel_id AND t.kind IN (?)) ORDER BY FIELD(s.kind, ?), p.funnel_id LIMIT 1`,
    [gates, course, kindsThat((k) => k.opens !== undefined), gates],
  )
  return page?.path ?? null
}

/** The title of a course that isn't a draft, and the page by which somebody comes to it. */
export async function gateOf(db: Db, slug: string): Promise<{ title: string; path: string | null } | undefined> {
  const course = await db.row<{ id: number; title: string }>(
    "SELECT id, title FROM course WHERE slug = ? AND state <> 'draft'",
    [slug],
  )
  return course && { title: course.title, path: await pageThatLeadsTo(db, course.id) }
}

/** What somebody meets who may not open something: a page to go to, or words on the spot over the curriculum. */
export type GateMet =
  | { readonly goTo: string }
  | {
      readonly course: LearnCourse
      /** The lesson that was asked for; null: the course. */
      readonly lesson: LearnLesson | null
      readonly situation: Situation
      readonly words: string
      /** The page by which they come to it, without a slash; null where there is none. */
      readonly page: string | null
    }

/**
 * The gate before a course (`lesson` null) or a lesson, for whoever may not open it: undefined where there is no such thing.
 */
export async function meetGate(
  s: Context,
  who: Admitted | null,
  slug: string,
  lesson: number | null,
): Promise<GateMet | undefined> {
  const course = await courseFor(s, who, slug)
  if (!course) return undefined
  const asked = lesson === null ? null : (course.lessons.find((l) => l.id === lesson) ?? null)
  if (lesson !== null && !asked && course.mine) return { goTo: `/learn/${slug}` }
  const situation = situationOf(
    (asked ?? nearest(course.lessons))?.may ?? { open: false, why: who ? "outside" : "stranger" },
  )
  if (situation === null) return { goTo: `/learn/${slug}` }
  const levels = await s.db.row<{ course: string; school: string; lesson: string | null }>(
    "SELECT c.gates AS course, (SELECT gates FROM school WHERE id = 1) AS school, (SELECT gates FROM lesson WHERE id = ? AND course_id = c.id) AS lesson FROM course c WHERE c.id = ?",
    [asked?.id ?? 0, course.id],
  )
  const read = (json: string | null | undefined): Gates => readGates(json ?? "{}")
  const { gate } = gateFor(situation, {
    lesson: read(levels?.lesson),
    course: read(levels?.course),
    school: read(levels?.school),
  })
  const to = `/learn/${slug}${asked ? `/${asked.id}` : ""}`
  const page = course.state === "closed" ? null : await pageThatLeadsTo(s.db, course.id)
  const why = lockedQuery({ lesson: asked?.id ?? null, course: course.id, ended: situation === "ended" })
  const here = (words: string): GateMet => ({ course, lesson: asked, situation, words, page })
  switch (gate.kind) {
    case "sign-in":
      // Whoever is signed in already would only come back to it.
      return who ? here("") : { goTo: `/learn/sign-in?to=${encodeURIComponent(to)}` }
    case "words":
      return here(gate.words)
    case "found":
      return page === null ? here("") : { goTo: `/${page}${why}` }
    case "step": {
      const live = await s.db.row<{ path: string }>("SELECT path FROM live_page WHERE step_id = ? LIMIT 1", [gate.step])
      return live ? { goTo: `/${live.path}${why}` } : here("")
    }
  }
}

/** The lesson that says best how somebody stands to the whole course: the nearest to being open. */
function nearest(lessons: readonly LearnLesson[]): LearnLesson | undefined {
  const order = ["not-yet", "too-late", "ended", "outside", "stranger"]
  return [...lessons]
    .filter((l) => !l.may.open)
    .sort((a, b) => order.indexOf(a.may.open ? "" : a.may.why) - order.indexOf(b.may.open ? "" : b.may.why))[0]
}
