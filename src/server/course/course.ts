// Courses and their lessons, as the marketer writes them.

import * as v from "valibot"
import type { CourseCard } from "@/core/funnel/draft"
import { freeSlug, slugOf } from "@/core/funnel/slug"
import type { RecipeCourse } from "@/core/funnel/step/kind"
import { refTo } from "@/core/reference"
import { refusals } from "@/core/words/refusals"
import type { Db } from "../db/pool"
import { cleanRichText } from "../page/rich-text"
import { writeReferences } from "../reference"
import { type Made, refusal, type Saved } from "../saved"
import type { SavedShared } from "../shared"
import { type Before, reconcile, type Stored } from "../shared"
import type { Surroundings } from "../surroundings"
import { countsBy } from "../tally"

export type CourseRow = {
  readonly id: number
  readonly slug: string
  readonly title: string
  readonly promise: string
  readonly teacher: string
  readonly state: "draft" | "live"
  readonly picture_id: number | null
  readonly revision: number
}

export type LessonRow = {
  readonly id: number
  readonly position: number
  readonly title: string
  readonly body: string
  readonly minutes: number
  readonly picture_id: number | null
  readonly picture_alt: string
  readonly video_id: number | null
  readonly file_id: number | null
  readonly state: "draft" | "live"
  readonly revision: number
}

export async function listCourses(
  db: Db,
): Promise<(CourseRow & { lessons: number; live: number; learners: number })[]> {
  const rows = await db.rows<CourseRow & { lessons: string; live: string }>(
    `SELECT c.*, (SELECT COUNT(*) FROM lesson l WHERE l.course_id = c.id) AS lessons, (SELECT COUNT(*) FROM lesson l WHERE l.course_id = c.id AND l.state = 'live') AS live
     FROM course c ORDER BY c.title LIMIT 500`,
  )
  const learners = await countsBy(db, "learners")
  return rows.map((r) => ({
    ...r,
    lessons: Number(r.lessons),
    live: Number(r.live),
    learners: learners.get(r.id) ?? 0,
  }))
}

export async function readCourse(db: Db, id: number): Promise<{ course: CourseRow; lessons: LessonRow[] } | undefined> {
  const course = await db.row<CourseRow>("SELECT * FROM course WHERE id = ?", [id])
  if (!course) return undefined
  return {
    course,
    lessons: await db.rows<LessonRow>("SELECT * FROM lesson WHERE course_id = ? ORDER BY position, id", [id]),
  }
}

export async function courseForRecipe(db: Db, id: number): Promise<RecipeCourse | undefined> {
  const found = await readCourse(db, id)
  if (!found) return undefined
  const { course, lessons } = found
  const card: CourseCard = {
    ...course,
    lessons: lessons.map((l) => ({ id: l.id, title: l.title, minutes: l.minutes, state: l.state })),
  }
  return { ...card, pictureId: course.picture_id, openings: new Map(lessons.map((l) => [l.id, opening(l.body)])) }
}

/** The first paragraph of a lesson as plain text, at most 400 characters. */
function opening(body: string): string {
  const first = /<p>(.*?)<\/p>/s.exec(body)?.[1] ?? ""
  return first
    .replace(/<[^>]*>/g, "")
    .replace(/&nbsp;/g, " ")
    .replace(/&amp;/g, "&")
    .replace(/&lt;/g, "<")
    .replace(/&gt;/g, ">")
    .trim()
    .slice(0, 400)
}

const id = v.pipe(v.number(), v.integer(), v.minValue(1))
const title = (what: string) =>
  v.pipe(v.string(), v.trim(), v.nonEmpty(`${what} needs a title.`), v.maxLength(160, refusals.course.titleLong(160)))

const courseInput = v.object({
  course: id,
  title: title("The course"),
  promise: v.pipe(v.string(), v.trim(), v.maxLength(400, refusals.course.promiseLong(400))),
  teacher: v.pipe(v.string(), v.trim(), v.maxLength(120, refusals.course.nameLong(120))),
  picture: v.nullable(id),
  state: v.picklist(["draft", "live"]),
})

const lessonInput = v.object({
  lesson: id,
  title: title("The lesson"),
  body: v.pipe(v.string(), v.maxLength(400_000, refusals.course.lessonLong)),
  minutes: v.pipe(
    v.number(refusals.value.wholeMinutes),
    v.integer(refusals.value.wholeMinutes),
    v.minValue(0, refusals.value.wholeMinutes),
    v.maxValue(600, refusals.course.minutes(600)),
  ),
  picture: v.nullable(id),
  pictureAlt: v.pipe(v.string(), v.trim(), v.maxLength(300)),
  video: v.nullable(id),
  file: v.nullable(id),
  state: v.picklist(["draft", "live"]),
})

/** Parts of an address in the learning area that are no course's. */
const ownRooms = ["orders", "plans", "sign-in"]

export async function newCourse(s: Surroundings, typed: unknown): Promise<Made> {
  const read = v.safeParse(title("The course"), typed)
  if (!read.success) return refusal(read.issues)
  const at = new Date(await s.clock.now())
  return s.db.transaction(async (tx) => {
    const others = await tx.rows<{ slug: string }>("SELECT slug FROM course FOR UPDATE")
    const taken = new Set([...ownRooms, ...others.map((r) => r.slug)])
    const made = await tx.write("INSERT INTO course (slug, title, made_at, changed_at) VALUES (?, ?, ?, ?)", [
      freeSlug(slugOf(read.output, "course"), taken),
      read.output,
      at,
      at,
    ])
    return { ok: true, id: made.id }
  })
}

type CourseInput = v.InferOutput<typeof courseInput>
type LessonInput = v.InferOutput<typeof lessonInput>

const storedCourse = (c: CourseRow): Stored<CourseInput> => ({
  revision: c.revision,
  value: {
    course: c.id,
    title: c.title,
    promise: c.promise,
    teacher: c.teacher,
    picture: c.picture_id,
    state: c.state,
  },
})

const storedLesson = (l: LessonRow): Stored<LessonInput> => ({
  revision: l.revision,
  value: {
    lesson: l.id,
    title: l.title,
    body: l.body,
    minutes: l.minutes,
    picture: l.picture_id,
    pictureAlt: l.picture_alt,
    video: l.video_id,
    file: l.file_id,
    state: l.state,
  },
})

export async function saveCourse(s: Surroundings, input: unknown, before?: Before): Promise<SavedShared<CourseInput>> {
  const read = v.safeParse(courseInput, input)
  if (!read.success) return refusal(read.issues)
  const at = new Date(await s.clock.now())
  return s.db.transaction(async (tx): Promise<SavedShared<CourseInput>> => {
    const row = () => tx.row<CourseRow>("SELECT * FROM course WHERE id = ? FOR UPDATE", [read.output.course])
    const stored = await row()
    if (!stored) return { refused: refusals.gone.course }
    const done = reconcile(read.output, storedCourse(stored), before)
    if ("clash" in done) return done
    const c = done.write
    if (c.picture !== null && !(await isMedia(tx, c.picture, "picture")))
      return { refused: refusals.course.picture, field: "picture" }
    await tx.write(
      "UPDATE course SET title = ?, promise = ?, teacher = ?, picture_id = ?, state = ?, changed_at = ?, revision = revision + 1 WHERE id = ?",
      [c.title, c.promise, c.teacher, c.picture, c.state, at, c.course],
    )
    await referCourse(tx, c.course, c.picture)
    return storedCourse((await row())!)
  })
}

export async function newLesson(s: Surroundings, course: number): Promise<Made> {
  return s.db.transaction(async (tx) => {
    if (!(await tx.row("SELECT id FROM course WHERE id = ? FOR UPDATE", [course])))
      return { refused: refusals.gone.course }
    const last = await tx.row<{ n: number }>(
      "SELECT COALESCE(MAX(position), 0) + 1 AS n FROM lesson WHERE course_id = ?",
      [course],
    )
    const made = await tx.write(
      "INSERT INTO lesson (course_id, position, title, body) VALUES (?, ?, 'New lesson', '')",
      [course, Number(last!.n)],
    )
    return { ok: true, id: made.id }
  })
}

export async function saveLesson(s: Surroundings, input: unknown, before?: Before): Promise<SavedShared<LessonInput>> {
  const read = v.safeParse(lessonInput, input)
  if (!read.success) return refusal(read.issues)
  const typed = { ...read.output, body: cleanRichText(read.output.body) }
  return s.db.transaction(async (tx): Promise<SavedShared<LessonInput>> => {
    const row = () => tx.row<LessonRow>("SELECT * FROM lesson WHERE id = ? FOR UPDATE", [typed.lesson])
    const stored = await row()
    if (!stored) return { refused: refusals.gone.lesson }
    const done = reconcile(typed, storedLesson(stored), before)
    if ("clash" in done) return done
    const l = done.write
    for (const [media, kind] of [
      [l.picture, "picture"],
      [l.video, "video"],
      [l.file, null],
    ] as const)
      if (media !== null && !(await isMedia(tx, media, kind)))
        return { refused: refusals.course.choose(kind ?? "file"), field: kind ?? "file" }
    await tx.write(
      "UPDATE lesson SET title = ?, body = ?, minutes = ?, picture_id = ?, picture_alt = ?, video_id = ?, file_id = ?, state = ?, revision = revision + 1 WHERE id = ?",
      [l.title, l.body, l.minutes, l.picture, l.pictureAlt, l.video, l.file, l.state, l.lesson],
    )
    await referLesson(tx, l.lesson, l)
    return storedLesson((await row())!)
  })
}

/** Writes what a course refers to. */
export async function referCourse(tx: Db, course: number, picture: number | null): Promise<void> {
  const refs = refTo("media", picture, "shows it")
  await writeReferences(
    tx,
    { course },
    refs.map((ref) => ({ from: { course }, ref })),
  )
}

/** Writes what a lesson refers to. */
export async function referLesson(
  tx: Db,
  lesson: number,
  of: Pick<LessonInput, "picture" | "video" | "file">,
): Promise<void> {
  const refs = [
    ...refTo("media", of.picture, "shows it"),
    ...refTo("media", of.video, "plays it"),
    ...refTo("media", of.file, "gives it"),
  ]
  await writeReferences(
    tx,
    { lesson },
    refs.map((ref) => ({ from: { lesson }, ref })),
  )
}

async function isMedia(db: Db, media: number, kind: "picture" | "video" | null): Promise<boolean> {
  return (
    (await db.row("SELECT 1 FROM media WHERE id = ? AND (? IS NULL OR kind = ?)", [media, kind, kind])) !== undefined
  )
}

export async function moveLesson(s: Surroundings, lesson: number, way: "up" | "down"): Promise<Saved> {
  return s.db.transaction(async (tx) => {
    const at = await tx.row<{ course_id: number }>("SELECT course_id FROM lesson WHERE id = ?", [lesson])
    if (!at) return { refused: refusals.gone.lesson }
    const order = (
      await tx.rows<{ id: number }>("SELECT id FROM lesson WHERE course_id = ? ORDER BY position, id FOR UPDATE", [
        at.course_id,
      ])
    ).map((r) => r.id)
    const from = order.indexOf(lesson)
    const to = way === "up" ? from - 1 : from + 1
    if (to >= 0 && to < order.length) order.splice(to, 0, ...order.splice(from, 1))
    for (const [i, l] of order.entries()) await tx.write("UPDATE lesson SET position = ? WHERE id = ?", [i + 1, l])
    return { ok: true }
  })
}

export async function removeLesson(s: Surroundings, lesson: number): Promise<Saved> {
  await s.db.write("DELETE FROM lesson WHERE id = ?", [lesson])
  return { ok: true }
}
