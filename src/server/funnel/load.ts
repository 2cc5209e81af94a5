// A funnel read from its tables into the one value that the core works on.

import type { CourseCard, Deed, Effect, Funnel, Sequence, Step, Stream } from "@/core/funnel/draft"
import { type EffectKind, readDeed, refsOfDeed } from "@/core/funnel/effect/list"
import { refsOfFunnel } from "@/core/funnel/refs"
import { type Outcome, readSettings, type StepKind } from "@/core/funnel/step/list"
import { readPage } from "@/core/page/document"
import type { Ref, Referred } from "@/core/reference"
import type { Db } from "../db/pool"

/** The funnel as it is being worked on, with everything it refers to; undefined where there is none. */
export async function loadFunnel(db: Db, id: number): Promise<Funnel | undefined> {
  const funnel = await db.row<{ id: number; name: string; again_after: number | null }>(
    "SELECT id, name, again_after FROM funnel WHERE id = ?",
    [id],
  )
  if (!funnel) return undefined
  const steps = await db.rows<{
    id: number
    kind: StepKind
    name: string
    path: string
    page: string | null
    settings: string
  }>("SELECT id, kind, name, path, page, settings FROM step WHERE funnel_id = ? ORDER BY position, id", [id])
  const streams = await db.rows<{ step_id: number; outcome: Outcome; to_step_id: number | null }>(
    "SELECT t.step_id, t.outcome, t.to_step_id FROM stream t JOIN step s ON s.id = t.step_id WHERE s.funnel_id = ? ORDER BY s.position, t.outcome",
    [id],
  )
  const effects = await db.rows<DeedRow & { step_id: number; outcome: Outcome }>(
    "SELECT e.id, e.step_id, e.outcome, e.kind, e.settings FROM effect e JOIN step s ON s.id = e.step_id WHERE s.funnel_id = ? ORDER BY e.id",
    [id],
  )
  const deeds = await named(db, effects)
  const draft: Funnel = {
    version: 2,
    id: funnel.id,
    name: funnel.name,
    againAfter: funnel.again_after,
    steps: steps.map(
      (s): Step => ({
        id: s.id,
        kind: s.kind,
        name: s.name,
        path: s.path,
        page: s.page === null ? null : readPage(JSON.parse(s.page)),
        settings: readSettings(s.kind, JSON.parse(s.settings)),
      }),
    ),
    streams: streams.map((s): Stream => ({ from: s.step_id, outcome: s.outcome, to: s.to_step_id })),
    effects: deeds.map((d): Effect => {
      const { step_id: step, outcome } = effects.find((e) => e.id === d.id)!
      return { id: d.id, step, outcome, kind: d.kind, settings: d.settings, name: d.name }
    }),
    sequences: await loadSequences(db, id),
    courses: [],
  }
  return {
    ...draft,
    courses: await loadCourseCards(
      db,
      refsOfFunnel(draft).map((r) => r.ref),
    ),
  }
}

export type DeedRow = { readonly id: number; readonly kind: EffectKind; readonly settings: string }

/** Effects with the names of what they are about; one about something that is gone is gone with it. */
export async function named(db: Db, rows: readonly DeedRow[]): Promise<Deed[]> {
  const deeds = rows.map((r) => ({ id: r.id, kind: r.kind, settings: readDeed(r.kind, JSON.parse(r.settings)) }))
  const about = deeds.map((d) => refsOfDeed(d)[0])
  const names = await namesOf(
    db,
    about.filter((r) => r !== undefined),
  )
  return deeds.flatMap((d, i): Deed[] => {
    const ref = about[i]
    const name = ref ? names.get(`${ref.to}:${ref.id}`) : ""
    return name === undefined ? [] : [{ ...d, name }]
  })
}

const nameColumn: Partial<Record<Referred, string>> = { course: "title", tag: "name", sequence: "name" }

async function namesOf(db: Db, refs: readonly Ref[]): Promise<Map<string, string>> {
  const names = new Map<string, string>()
  for (const to of new Set(refs.map((r) => r.to))) {
    const column = nameColumn[to] ?? "name"
    const rows = await db.rows<{ id: number; name: string }>(
      `SELECT id, \`${column}\` AS name FROM \`${to}\` WHERE id IN (?)`,
      [refs.filter((r) => r.to === to).map((r) => r.id)],
    )
    for (const r of rows) names.set(`${to}:${r.id}`, r.name)
  }
  return names
}

async function loadSequences(db: Db, funnel: number): Promise<Sequence[]> {
  const sequences = await db.rows<{ id: number; name: string; state: "draft" | "live"; leave_line: string }>(
    "SELECT id, name, state, leave_line FROM sequence WHERE funnel_id = ? ORDER BY id",
    [funnel],
  )
  const mails = await db.rows<{
    id: number
    sequence_id: number
    after_days: number
    at_minute: number | null
    subject: string
    body: string
    button: string
    lesson_id: number | null
    step_id: number | null
  }>(
    "SELECT m.id, m.sequence_id, m.after_days, m.at_minute, m.subject, m.body, m.button, m.lesson_id, m.step_id FROM sequence_mail m JOIN sequence q ON q.id = m.sequence_id WHERE q.funnel_id = ? ORDER BY m.position, m.id",
    [funnel],
  )
  return sequences.map((q) => ({
    id: q.id,
    name: q.name,
    state: q.state,
    leaveLine: q.leave_line,
    mails: mails
      .filter((m) => m.sequence_id === q.id)
      .map((m) => ({
        id: m.id,
        afterDays: m.after_days,
        atMinute: m.at_minute,
        subject: m.subject,
        body: m.body,
        button: m.button,
        lessonId: m.lesson_id,
        stepId: m.step_id,
      })),
  }))
}

/** The courses that any of these speak of, by themselves or by one of their lessons. */
async function loadCourseCards(db: Db, refs: readonly Ref[]): Promise<CourseCard[]> {
  const ids = (to: Referred) => [0, ...new Set(refs.filter((r) => r.to === to).map((r) => r.id))]
  const courses = await db.rows<Omit<CourseCard, "lessons">>(
    "SELECT id, slug, title, promise, teacher, IF(state = 'draft', 'draft', 'live') AS state FROM course WHERE id IN (?) OR id IN (SELECT course_id FROM lesson WHERE id IN (?)) ORDER BY id",
    [ids("course"), ids("lesson")],
  )
  const lessons = await db.rows<CourseCard["lessons"][number] & { course_id: number }>(
    "SELECT id, course_id, title, takes AS minutes, state FROM lesson WHERE course_id IN (?) AND state <> 'removed' ORDER BY position, id",
    [[0, ...courses.map((c) => c.id)]],
  )
  return courses.map((c) => ({
    ...c,
    lessons: lessons.filter((l) => l.course_id === c.id).map(({ course_id: _, ...l }) => l),
  }))
}
