// A funnel read from its tables into the one value that the core works on.
import type { CourseCard, Effect, Funnel, Sequence, Step } from "@/core/funnel/draft"
import type { EffectKind, Outcome, StepKind } from "@/core/funnel/kinds"
import { type Page, readPage } from "@/core/page/document"
import type { Db } from "../db/pool"

/** The funnel as it is being worked on, with everything it refers to; undefined where there is none. */
export async function loadFunnel(db: Db, id: number): Promise<Funnel | undefined> {
  const funnel = await db.row<{ id: number; name: string }>("SELECT id, name FROM funnel WHERE id = ?", [id])
  if (!funnel) return undefined
  const steps = await db.rows<{
    id: number
    kind: StepKind
    name: string
    path: string
    page: string | null
    course_id: number | null
    offer_id: number | null
    terms_id: number | null
    replaces: number
    skip_as: Step["skipAs"]
  }>(
    "SELECT id, kind, name, path, page, course_id, offer_id, terms_id, replaces, skip_as FROM step WHERE funnel_id = ? ORDER BY position, id",
    [id],
  )
  const streams = await db.rows<{ step_id: number; outcome: Outcome; to_step_id: number | null }>(
    "SELECT t.step_id, t.outcome, t.to_step_id FROM stream t JOIN step s ON s.id = t.step_id WHERE s.funnel_id = ? ORDER BY s.position, t.outcome",
    [id],
  )
  const effects = await db.rows<{
    id: number
    step_id: number
    outcome: Outcome
    kind: EffectKind
    subject: number
    name: string
  }>(
    `SELECT e.id, e.step_id, e.outcome, e.kind, COALESCE(e.tag_id, e.sequence_id, e.course_id) AS subject, COALESCE(t.name, q.name, c.title) AS name
     FROM effect e JOIN step s ON s.id = e.step_id LEFT JOIN tag t ON t.id = e.tag_id LEFT JOIN sequence q ON q.id = e.sequence_id
     LEFT JOIN course c ON c.id = e.course_id WHERE s.funnel_id = ? ORDER BY e.id`,
    [id],
  )
  const sequences = await loadSequences(db, id)
  const pages = steps.map((s) => (s.page === null ? null : readPage(JSON.parse(s.page))))
  const courses = await loadCourseCards(
    db,
    coursesNamed(
      steps.map((s) => s.course_id),
      effects,
      sequences,
      pages,
    ),
  )
  return {
    id: funnel.id,
    name: funnel.name,
    steps: steps.map(
      (s, i): Step => ({
        id: s.id,
        kind: s.kind,
        name: s.name,
        path: s.path,
        page: pages[i]!,
        courseId: s.course_id,
        offerId: s.offer_id,
        termsId: s.terms_id,
        replaces: Boolean(s.replaces),
        skipAs: s.skip_as,
      }),
    ),
    streams: streams.map((s) => ({ from: s.step_id, outcome: s.outcome, to: s.to_step_id })),
    effects: effects.map(
      (e): Effect => ({
        id: e.id,
        step: e.step_id,
        outcome: e.outcome,
        kind: e.kind,
        subject: e.subject,
        name: e.name,
      }),
    ),
    sequences,
    courses,
  }
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

function coursesNamed(
  steps: (number | null)[],
  effects: { kind: EffectKind; subject: number }[],
  sequences: Sequence[],
  pages: (Page | null)[],
): { courses: number[]; lessons: number[] } {
  const courses = [
    ...steps,
    ...effects.filter((e) => e.kind === "open-course").map((e) => e.subject),
    ...pages.flatMap((p) => courseBlocks(p)),
  ]
  const lessons = sequences.flatMap((q) => q.mails.map((m) => m.lessonId))
  const real = (ids: (number | null)[]) => [...new Set(ids.filter((n) => n !== null))]
  return { courses: real(courses), lessons: real(lessons) }
}

function courseBlocks(page: Page | null): number[] {
  return page ? [...JSON.stringify(page.blocks).matchAll(/"course":(\d+)/g)].map((m) => Number(m[1])) : []
}

async function loadCourseCards(db: Db, named: { courses: number[]; lessons: number[] }): Promise<CourseCard[]> {
  const courses = await db.rows<Omit<CourseCard, "lessons">>(
    "SELECT id, slug, title, promise, teacher, state FROM course WHERE id IN (?) OR id IN (SELECT course_id FROM lesson WHERE id IN (?)) ORDER BY id",
    [
      [0, ...named.courses],
      [0, ...named.lessons],
    ],
  )
  const lessons = await db.rows<CourseCard["lessons"][number] & { course_id: number }>(
    "SELECT id, course_id, title, minutes, state FROM lesson WHERE course_id IN (?) ORDER BY position, id",
    [[0, ...courses.map((c) => c.id)]],
  )
  return courses.map((c) => ({
    ...c,
    lessons: lessons.filter((l) => l.course_id === c.id).map(({ course_id: _, ...l }) => l),
  }))
}
