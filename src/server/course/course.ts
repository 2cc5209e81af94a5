// Courses and their lessons, as the marketer writes them.

import * as v from "valibot"
import { dayRule } from "@/core/calendar/days"
import type { CourseCard } from "@/core/course/card"
import { doneByOf, doneBys } from "@/core/course/done"
import { gatesSchema, readGates } from "@/core/course/gate"
import { type Opens, opensSchema } from "@/core/course/opens"
import type { RecipeCourse } from "@/core/funnel/step/kind"
import { readJson, strings } from "@/core/json"
import { allBlocks } from "@/core/page/document"
import { lessonPage } from "@/core/page/lesson"
import { refTo } from "@/core/reference"
import { refusals } from "@/core/words/refusals"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { freeCourseSlug } from "../free-address"
import { writeReferences } from "../reference"
import { type Made, refusal, type Saved } from "../saved"
import type { SavedShared } from "../shared"
import { type Before, reconcile, type Stored } from "../shared"
import { countsBy } from "../tally"
import { countDaysAnew } from "./away"
import { promisesOf } from "./card"
import { changingPlan } from "./plan"
import { tellWhoWaits } from "./waiting"

export type CourseState = "draft" | "announced" | "live" | "closed"

export type CourseRow = {
  readonly id: number
  readonly slug: string
  readonly title: string
  readonly promise: string
  readonly teacher: string
  /** JSON: what one will be able to do, a line each. */
  readonly promises: string
  readonly state: CourseState
  readonly picture_id: number | null
  /** The day on which an announced course opens, "2027-01-31". */
  readonly starts: string | null
  readonly opens: string
  readonly in_order: number
  readonly done_by: string
  readonly open_to_all: number
  readonly tells: number
  readonly certifies: number
  readonly gates: string
  readonly signing_up: number
  readonly away_days: number | null
  readonly leave_step_id: number | null
  readonly revision: number
}

export type ModuleRow = {
  readonly id: number
  readonly position: number
  readonly title: string
  readonly opens: string | null
}

export type LessonRow = {
  readonly id: number
  readonly course_id: number
  readonly position: number
  readonly title: string
  readonly page: string | null
  readonly page_revision: number
  readonly body: string
  readonly minutes: number
  /** How long what its page plays is, counted from the files. */
  readonly seconds: number
  /** Minutes as typed, or else counted. */
  readonly takes: number
  readonly picture_id: number | null
  readonly picture_alt: string
  readonly video_id: number | null
  readonly file_id: number | null
  readonly state: "draft" | "live"
  readonly module_id: number | null
  readonly opens: string | null
  readonly free: number
  readonly required: number
  readonly done_by: string | null
  readonly comments: "off" | "on" | "moderated"
  readonly gates: string
  readonly revision: number
}

export async function listCourses(
  db: Db,
): Promise<(CourseRow & { lessons: number; live: number; learners: number })[]> {
  const rows = await db.rows<CourseRow & { lessons: number; live: number }>(
    `SELECT c.*, (SELECT COUNT(*) FROM lesson l WHERE l.course_id = c.id AND l.state <> 'removed') AS lessons, (SELECT COUNT(*) FROM lesson l WHERE l.course_id = c.id AND l.state = 'live') AS live
     FROM course c ORDER BY c.title LIMIT 500`,
  )
  const learners = await countsBy(db, "learners")
  return rows.map((r) => ({
    ...r,
    lessons: r.lessons,
    live: r.live,
    learners: learners.get(r.id) ?? 0,
  }))
}

const courseFields = "c.*, DATE_FORMAT(c.starts, '%Y-%m-%d') AS starts"

export type CourseRead = {
  readonly course: CourseRow
  readonly modules: readonly ModuleRow[]
  readonly lessons: readonly LessonRow[]
}

export async function readCourse(db: Db, id: number): Promise<CourseRead | undefined> {
  const course = await db.row<CourseRow>(`SELECT ${courseFields} FROM course c WHERE id = ?`, [id])
  if (!course) return undefined
  return {
    course,
    modules: await db.rows<ModuleRow>(
      "SELECT id, position, title, opens FROM module WHERE course_id = ? AND removed_at IS NULL ORDER BY position, id",
      [id],
    ),
    lessons: await db.rows<LessonRow>(
      "SELECT * FROM lesson WHERE course_id = ? AND state <> 'removed' ORDER BY position, id",
      [id],
    ),
  }
}

/** SQL: a lesson has something in it besides its title, on its page or from before lessons were pages. */
export const isWritten =
  "(page IS NOT NULL AND JSON_LENGTH(page, '$.blocks') > 0 OR page IS NULL AND (body <> '' OR picture_id IS NOT NULL OR video_id IS NOT NULL OR file_id IS NOT NULL))"

/** Lessons of these courses that are live with nothing in them. */
export function emptyLessons(db: Db, courses: readonly number[]): Promise<{ course_id: number; title: string }[]> {
  return db.rows(
    `SELECT course_id, title FROM lesson WHERE course_id IN (?) AND state = 'live' AND NOT ${isWritten} ORDER BY position, id`,
    [[0, ...courses]],
  )
}

/** A lesson of a course as its editor has it; undefined where it isn't there. */
export function readLesson(db: Db, course: number, lesson: number): Promise<LessonRow | undefined> {
  return db.row<LessonRow>("SELECT * FROM lesson WHERE id = ? AND course_id = ? AND state <> 'removed'", [
    lesson,
    course,
  ])
}

export async function courseForRecipe(db: Db, id: number): Promise<RecipeCourse | undefined> {
  const found = await readCourse(db, id)
  if (!found) return undefined
  const { course, modules, lessons } = found
  const card: CourseCard = {
    ...course,
    state: course.state === "draft" ? "draft" : "live",
    promises: promisesOf(course.promises),
    lessons: lessons.map((l) => ({
      id: l.id,
      title: l.title,
      minutes: l.takes,
      state: l.state,
      module: modules.findLast((m) => m.position < l.position)?.title ?? "",
      free: l.free === 1,
    })),
  }
  const teacher = await db.row<{ id: number }>("SELECT id FROM teacher ORDER BY name = ? DESC, position LIMIT 1", [
    course.teacher,
  ])
  return {
    ...card,
    teacherId: teacher?.id ?? null,
    pictureId: course.picture_id,
    openings: new Map(lessons.map((l) => [l.id, opening(l)])),
  }
}

/** The first paragraph of a lesson as plain text, at most 400 characters. */
function opening(l: LessonRow): string {
  const texts = [...allBlocks(lessonPage(l).blocks)].flatMap((b) => ("html" in b ? [b.html] : []))
  const first = /<p>(.*?)<\/p>/s.exec(texts.join(""))?.[1] ?? ""
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

const yesOrNo = v.boolean()
const date = dayRule(refusals.course.date)

/** What isn't given stays as it is. */
const courseInput = v.partial(
  v.object({
    course: id,
    title: title("The course"),
    promise: v.pipe(v.string(), v.trim(), v.maxLength(400, refusals.course.promiseLong(400))),
    teacher: v.pipe(v.string(), v.trim(), v.maxLength(120, refusals.course.nameLong(120))),
    promises: v.pipe(v.array(v.pipe(v.string(), v.maxLength(300, refusals.value.longest(300)))), v.maxLength(12)),
    picture: v.nullable(id),
    state: v.picklist(["draft", "announced", "live", "closed"]),
    starts: v.nullable(date),
    opens: opensSchema,
    inOrder: yesOrNo,
    doneBy: v.picklist(doneBys),
    openToAll: yesOrNo,
    tells: yesOrNo,
    certifies: yesOrNo,
    /** Whether forms let people in. */
    signingUp: yesOrNo,
    awayDays: v.nullable(
      v.pipe(
        v.number(refusals.value.wholeDays),
        v.integer(refusals.value.wholeDays),
        v.minValue(1, refusals.value.atLeastOne),
        v.maxValue(365, refusals.course.awayDays(365)),
      ),
    ),
    /** The step to which the last lesson leads. */
    leaveStep: v.nullable(id),
    gates: gatesSchema,
  }),
)

const lessonInput = v.partial(
  v.object({
    lesson: id,
    title: title("The lesson"),
    minutes: v.pipe(
      v.number(refusals.value.wholeMinutes),
      v.integer(refusals.value.wholeMinutes),
      v.minValue(0, refusals.value.wholeMinutes),
      v.maxValue(600, refusals.course.minutes(600)),
    ),
    state: v.picklist(["draft", "live"]),
    opens: v.nullable(opensSchema),
    free: yesOrNo,
    required: yesOrNo,
    doneBy: v.nullable(v.picklist(doneBys)),
    comments: v.picklist(["off", "on", "moderated"]),
    gates: gatesSchema,
  }),
)

export async function newCourse(s: Context, typed: unknown): Promise<Made> {
  const read = v.safeParse(title("The course"), typed)
  if (!read.success) return refusal(read.issues)
  const at = new Date(await s.clock.now())
  return s.db.transaction(async (tx) => {
    const made = await tx.insert("course", {
      slug: await freeCourseSlug(tx, read.output),
      title: read.output,
      made_at: at,
      changed_at: at,
    })
    return { ok: true, id: made.id }
  })
}

export type CourseInput = Required<v.InferOutput<typeof courseInput>>
export type LessonInput = Required<v.InferOutput<typeof lessonInput>>

const opensOf = (json: string): Opens => v.parse(opensSchema, JSON.parse(json))

/** What is stored of a course, as its editor has it. */
export const storedCourse = (c: CourseRow): Stored<CourseInput> => ({
  revision: c.revision,
  value: {
    course: c.id,
    title: c.title,
    promise: c.promise,
    teacher: c.teacher,
    promises: readJson(strings, c.promises),
    picture: c.picture_id,
    state: c.state,
    starts: c.starts,
    opens: opensOf(c.opens),
    inOrder: Boolean(c.in_order),
    doneBy: doneByOf(null, c.done_by),
    openToAll: Boolean(c.open_to_all),
    tells: Boolean(c.tells),
    certifies: Boolean(c.certifies),
    signingUp: Boolean(c.signing_up),
    awayDays: c.away_days,
    leaveStep: c.leave_step_id,
    gates: readGates(c.gates),
  },
})

export const storedLesson = (l: LessonRow): Stored<LessonInput> => ({
  revision: l.revision,
  value: {
    lesson: l.id,
    title: l.title,
    minutes: l.minutes,
    state: l.state,
    opens: l.opens === null ? null : opensOf(l.opens),
    free: Boolean(l.free),
    required: Boolean(l.required),
    doneBy: l.done_by === null ? null : doneByOf(l.done_by, "pressed"),
    comments: l.comments,
    gates: readGates(l.gates),
  },
})

export async function saveCourse(s: Context, input: unknown, before?: Before): Promise<SavedShared<CourseInput>> {
  const read = v.safeParse(courseInput, input)
  if (!read.success) return refusal(read.issues)
  const course = read.output.course ?? 0
  const now = await s.clock.now()
  return s.db.transaction(async (tx): Promise<SavedShared<CourseInput>> => {
    const row = () => tx.row<CourseRow>(`SELECT ${courseFields} FROM course c WHERE id = ? FOR UPDATE`, [course])
    const stored = await row()
    if (!stored) return { refused: refusals.gone.course }
    const was = storedCourse(stored)
    const done = reconcile({ ...was.value, ...read.output }, was, before)
    if ("clash" in done) return done
    const c = done.write
    if (c.picture !== null && !(await isPicture(tx, c.picture)))
      return { refused: refusals.course.picture, field: "picture" }
    if (c.state === "announced" && c.starts === null) return { refused: refusals.course.starts, field: "starts" }
    if (c.leaveStep !== null && !(await tx.row("SELECT 1 FROM step WHERE id = ?", [c.leaveStep])))
      return { refused: refusals.gone.page, field: "leaveStep" }
    if (c.awayDays !== was.value.awayDays) await countDaysAnew(tx, course, c.awayDays, now)
    await changingPlan(tx, course, now, () =>
      tx.write(
        "UPDATE course SET title = ?, promise = ?, teacher = ?, promises = ?, picture_id = ?, state = ?, starts = ?, opens = ?, in_order = ?, done_by = ?, open_to_all = ?, tells = ?, certifies = ?, signing_up = ?, away_days = ?, leave_step_id = ?, gates = ?, changed_at = ?, revision = revision + 1 WHERE id = ?",
        [
          c.title,
          c.promise,
          c.teacher,
          JSON.stringify(c.promises),
          c.picture,
          c.state,
          c.starts,
          JSON.stringify(c.opens),
          c.inOrder,
          c.doneBy,
          c.openToAll,
          c.tells,
          c.certifies,
          c.signingUp,
          c.awayDays,
          c.leaveStep,
          JSON.stringify(c.gates),
          new Date(now),
          course,
        ],
      ),
    )
    await referCourse(tx, course, c.picture)
    const takes = (x: CourseInput) => x.state === "live" && x.signingUp
    if (takes(c) && !takes(was.value)) await tellWhoWaits(tx, course, now)
    return storedCourse((await row())!)
  })
}

export async function saveLesson(s: Context, input: unknown, before?: Before): Promise<SavedShared<LessonInput>> {
  const read = v.safeParse(lessonInput, input)
  if (!read.success) return refusal(read.issues)
  const lesson = read.output.lesson ?? 0
  const typed = read.output
  const now = await s.clock.now()
  return s.db.transaction(async (tx): Promise<SavedShared<LessonInput>> => {
    const row = () => tx.row<LessonRow>("SELECT * FROM lesson WHERE id = ? AND state <> 'removed' FOR UPDATE", [lesson])
    const stored = await row()
    if (!stored) return { refused: refusals.gone.lesson }
    const was = storedLesson(stored)
    const done = reconcile({ ...was.value, ...typed }, was, before)
    if ("clash" in done) return done
    const l = done.write
    await changingPlan(tx, stored.course_id, now, () =>
      tx.write(
        "UPDATE lesson SET title = ?, minutes = ?, state = ?, opens = ?, free = ?, required = ?, done_by = ?, comments = ?, gates = ?, revision = revision + 1 WHERE id = ?",
        [
          l.title,
          l.minutes,
          l.state,
          l.opens && JSON.stringify(l.opens),
          l.free,
          l.required,
          l.doneBy,
          l.comments,
          JSON.stringify(l.gates),
          lesson,
        ],
      ),
    )
    return storedLesson((await row())!)
  })
}

/** Says when the lessons of a module open; null: as the course says. */
export async function saveModule(s: Context, module: number, opens: unknown): Promise<Saved> {
  const read = v.safeParse(v.nullable(opensSchema), opens)
  if (!read.success) return refusal(read.issues)
  const now = await s.clock.now()
  return s.db.transaction(async (tx): Promise<Saved> => {
    const found = await tx.row<{ course_id: number }>("SELECT course_id FROM module WHERE id = ?", [module])
    if (!found) return { refused: refusals.gone.module }
    await changingPlan(tx, found.course_id, now, () =>
      tx.update("module", module, { opens: read.output && JSON.stringify(read.output) }),
    )
    return { ok: true }
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

async function isPicture(db: Db, media: number): Promise<boolean> {
  return (await db.row("SELECT 1 FROM media WHERE id = ? AND kind = 'picture'", [media])) !== undefined
}
