// The learning area: what a person may open, and their way through it. Every read asks for the admission first.
import { kindsThat, stepKinds } from "@/core/funnel/step/list"
import type { Listener } from "../around"
import type { Db } from "../db/pool"
import { type Happening, happen, onceKey } from "../happen"
import type { Learner } from "../person/session"
import type { Surroundings } from "../surroundings"
import type { LessonRow } from "./course"

export type LearnCourse = {
  readonly id: number
  readonly slug: string
  readonly title: string
  readonly promise: string
  readonly teacher: string
  readonly picture: string | null
  readonly lessons: readonly { readonly id: number; readonly title: string; readonly minutes: number }[]
  readonly done: ReadonlySet<number>
}

const admitted =
  "EXISTS (SELECT 1 FROM admission a WHERE a.course_id = c.id AND a.person_id = ? AND a.from_at <= ? AND (a.until_at IS NULL OR a.until_at > ?) AND (? IS NULL OR FIND_IN_SET(a.order_id, ?)))"

async function courses(s: Surroundings, who: Learner, slug: string | null): Promise<LearnCourse[]> {
  const now = new Date(await s.clock.now())
  const rows = await s.db.rows<{
    id: number
    slug: string
    title: string
    promise: string
    teacher: string
    picture: string | null
  }>(
    `SELECT c.id, c.slug, c.title, c.promise, c.teacher, m.stored AS picture FROM course c LEFT JOIN media m ON m.id = c.picture_id
     WHERE c.state = 'live' AND ${admitted} AND (? IS NULL OR c.slug = ?) ORDER BY c.title LIMIT 200`,
    [who.person, now, now, who.scope, who.scope, slug, slug],
  )
  const ids = [0, ...rows.map((r) => r.id)]
  const lessons = await s.db.rows<{ id: number; course_id: number; title: string; minutes: number }>(
    "SELECT id, course_id, title, minutes FROM lesson WHERE course_id IN (?) AND state = 'live' ORDER BY position, id",
    [ids],
  )
  const done = await s.db.rows<{ lesson_id: number }>(
    who.scope === null
      ? "SELECT d.lesson_id FROM lesson_done d JOIN lesson l ON l.id = d.lesson_id WHERE d.person_id = ? AND l.course_id IN (?)"
      : "SELECT d.lesson_id FROM lesson_done_unproved d JOIN lesson l ON l.id = d.lesson_id WHERE FIND_IN_SET(d.order_id, ?) AND l.course_id IN (?)",
    [who.scope ?? who.person, ids],
  )
  const doneIds = new Set(done.map((d) => d.lesson_id))
  return rows.map((r) => ({
    ...r,
    picture: r.picture && `/media/${r.picture}`,
    lessons: lessons.filter((l) => l.course_id === r.id).map(({ id, title, minutes }) => ({ id, title, minutes })),
    done: doneIds,
  }))
}

export function myCourses(s: Surroundings, who: Learner): Promise<LearnCourse[]> {
  return courses(s, who, null)
}

/** The course, or undefined where this person may not open it or it isn't live. */
export async function myCourse(s: Surroundings, who: Learner, slug: string): Promise<LearnCourse | undefined> {
  return (await courses(s, who, slug))[0]
}

export type OpenLesson = {
  readonly course: LearnCourse
  readonly lesson: Pick<LessonRow, "id" | "title" | "body" | "minutes" | "picture_alt">
  readonly picture: { readonly stored: string; readonly width: number; readonly height: number } | null
  readonly video: { readonly stored: string; readonly type: string } | null
  readonly file: { readonly stored: string; readonly name: string; readonly size: number } | null
}

export async function openLesson(
  s: Surroundings,
  who: Learner,
  slug: string,
  lesson: number,
): Promise<OpenLesson | undefined> {
  const course = await myCourse(s, who, slug)
  if (!course?.lessons.some((l) => l.id === lesson)) return undefined
  const row = await s.db.row<LessonRow>("SELECT * FROM lesson WHERE id = ?", [lesson])
  if (!row) return undefined
  const media = await s.db.rows<{
    id: number
    stored: string
    type: string
    name: string
    size: number
    width: number
    height: number
  }>("SELECT id, stored, type, name, size, width, height FROM media WHERE id IN (?)", [
    [0, row.picture_id ?? 0, row.video_id ?? 0, row.file_id ?? 0],
  ])
  const by = (id: number | null) => media.find((m) => m.id === id) ?? null
  await markOpened(s, who, row)
  return { course, lesson: row, picture: by(row.picture_id), video: by(row.video_id), file: by(row.file_id) }
}

/** The first look at a lesson happens once; of a device that is only let into what it has just taken, once for that. */
async function markOpened(s: Surroundings, who: Learner, lesson: LessonRow): Promise<void> {
  const { person, scope } = who
  const once = scope === null ? `opened:${person}:${lesson.id}` : `opened:order:${scope}:${lesson.id}`
  if (await s.db.row("SELECT 1 FROM fact WHERE once = ?", [onceKey(once)])) return
  const at = await s.clock.now()
  await s.db.transaction(async (tx) => {
    await happen(tx, {
      kind: "lesson-opened",
      at,
      once,
      person,
      subject: lesson.id,
      words: lesson.title,
      ...(scope === null ? {} : { data: { orders: scope } }),
    })
  })
}

/**
 * Marks a lesson as done, or not. A device that is only let into what it has just taken keeps that apart: whoever typed
 * somebody's address there neither sees nor changes what they have done.
 */
export async function markDone(
  s: Surroundings,
  who: Learner,
  slug: string,
  lesson: number,
  done: boolean,
): Promise<boolean> {
  const { person, scope } = who
  const course = await myCourse(s, who, slug)
  const found = course?.lessons.find((l) => l.id === lesson)
  if (!found) return false
  const at = await s.clock.now()
  await s.db.transaction(async (tx) => {
    if (scope !== null) {
      if (done)
        await tx.write("INSERT IGNORE INTO lesson_done_unproved (order_id, lesson_id, at) VALUES (?, ?, ?)", [
          Number(scope.split(",").at(-1)),
          lesson,
          new Date(at),
        ])
      else
        await tx.write("DELETE FROM lesson_done_unproved WHERE FIND_IN_SET(order_id, ?) AND lesson_id = ?", [
          scope,
          lesson,
        ])
      return
    }
    if (!done) {
      await tx.write("DELETE FROM lesson_done WHERE person_id = ? AND lesson_id = ?", [person, lesson])
      return
    }
    const made = await tx.write("INSERT IGNORE INTO lesson_done (person_id, lesson_id, at) VALUES (?, ?, ?)", [
      person,
      lesson,
      new Date(at),
    ])
    if (made.affected) await happen(tx, [doneFact(person, lesson, found.title, at)])
  })
  return true
}

const doneFact = (person: number, lesson: number, title: string, at: number): Happening => ({
  kind: "lesson-done",
  at,
  once: `done:${person}:${lesson}`,
  person,
  subject: lesson,
  words: title,
})

/** What a device did before its mailbox had proved itself is its person's from now on. */
export const takeProgress: Listener = {
  to: ["signed-in", "confirmed"],
  async hear(tx, h) {
    const scope = h.data?.orders
    const person = h.person
    if (!scope || !person) return
    const done = await tx.rows<{ lesson_id: number; title: string; at: Date }>(
      "SELECT d.lesson_id, l.title, MIN(d.at) AS at FROM lesson_done_unproved d JOIN lesson l ON l.id = d.lesson_id WHERE FIND_IN_SET(d.order_id, ?) GROUP BY 1, 2",
      [scope],
    )
    for (const d of done) {
      const made = await tx.write("INSERT IGNORE INTO lesson_done (person_id, lesson_id, at) VALUES (?, ?, ?)", [
        person,
        d.lesson_id,
        d.at,
      ])
      if (made.affected) await happen(tx, doneFact(person, d.lesson_id, d.title, h.at))
    }
    await tx.write("DELETE FROM lesson_done_unproved WHERE FIND_IN_SET(order_id, ?)", [scope])
  },
}

export type MyFile = { readonly name: string; readonly stored: string; readonly size: number }

/** Files that a person may take away, by what they were let into. */
export async function myFiles(s: Surroundings, who: Learner): Promise<MyFile[]> {
  const now = new Date(await s.clock.now())
  return s.db.rows<MyFile>(
    "SELECT DISTINCT m.name, m.stored, m.size FROM admission a JOIN media m ON m.id = a.media_id WHERE a.person_id = ? AND a.from_at <= ? AND (a.until_at IS NULL OR a.until_at > ?) AND (? IS NULL OR FIND_IN_SET(a.order_id, ?)) ORDER BY m.name LIMIT 200",
    [who.person, now, now, who.scope, who.scope],
  )
}

/** Kinds of step that somebody without access is sent to, the likeliest first. */
const gates = kindsThat((k) => k.gate !== undefined).sort((a, b) => stepKinds[b].gate! - stepKinds[a].gate!)

/**
 * The gate: where somebody without an admission is sent, the live page of a funnel that sells this course, or else the one
 * that gives it away.
 */
export async function gateOf(db: Db, slug: string): Promise<{ title: string; path: string | null } | undefined> {
  const course = await db.row<{ id: number; title: string }>(
    "SELECT id, title FROM course WHERE slug = ? AND state = 'live'",
    [slug],
  )
  if (!course) return undefined
  const page = await db.row<{ path: string }>(
    `SELECT p.path FROM live_page p JOIN step s ON s.id = p.step_id AND s.kind IN (?)
     WHERE EXISTS (SELECT 1 FROM reference r JOIN step t ON t.id = r.step_id WHERE r.course_id = ? AND r.block IS NULL AND t.funnel_id = p.funnel_id AND t.kind IN (?)) ORDER BY FIELD(s.kind, ?), p.funnel_id LIMIT 1`,
    [gates, course.id, kindsThat((k) => k.opens !== undefined), gates],
  )
  return { title: course.title, path: page?.path ?? null }
}
