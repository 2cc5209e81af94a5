// The learning area: what a person may open, and their way through it. Whether something is open is decided by `mayOpen` alone;
// what is read here is what it is asked with.

import { type DoneBy, doneByOf } from "@/core/course/done"
import { type AdmissionTo, type Asking, type LessonProgress, type MayOpen, mayOpen } from "@/core/course/may-open"
import { lessonOf } from "@/core/course/plan"
import { afterJoining, openingWords } from "@/core/course/words"
import { refsOfPage } from "@/core/page/block/list"
import type { Page } from "@/core/page/document"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import type { Row } from "../db/row"
import { shownLesson } from "../page/kept"
import { addressesOf } from "../page/links"
import { type Admitted, admittedAs } from "../person/session"
import { schoolRow } from "../school-view"
import type { CourseState, LessonRow } from "./course"
import { type LessonMedia, mediaOf } from "./lesson-page"
import { readPlans } from "./plan"

export type LearnLesson = {
  readonly id: number
  readonly title: string
  readonly minutes: number
  readonly module: number | null
  readonly may: MayOpen
  /** Why it isn't open and when it will be; null: it is open. */
  readonly says: string | null
  /** The same in short. */
  readonly when: string | null
  readonly required: boolean
}

export type LearnCourse = {
  readonly id: number
  readonly slug: string
  readonly title: string
  readonly promise: string
  readonly teacher: string
  readonly picture: string | null
  readonly state: CourseState
  readonly modules: readonly { readonly id: number; readonly title: string }[]
  readonly lessons: readonly LearnLesson[]
  readonly done: ReadonlySet<number>
  /** All of it is files: there is no way through it, and nothing to be done. */
  readonly onlyFiles: boolean
  /** Whether anything is open to them, or will be by an admission they have. */
  readonly mine: boolean
}

type CourseFound = Omit<LearnCourse, "modules" | "lessons" | "done" | "onlyFiles" | "mine">

const fields = "c.id, c.slug, c.title, c.promise, c.teacher, c.state, c.open_to_all, m.stored AS picture"

/** Courses with what somebody may open of them; nobody signed in is null. `pretend` asks as somebody else than they are. */
async function withAnswers(
  s: Context,
  who: Admitted | null,
  found: readonly (CourseFound & { open_to_all: number })[],
  pretend: (asking: Asking) => Asking = (asking) => asking,
): Promise<LearnCourse[]> {
  const at = await s.clock.now()
  const ids = [0, ...found.map((c) => c.id)]
  const modules = await s.db.rows<{ id: number; course_id: number; title: string }>(
    "SELECT id, course_id, title FROM module WHERE course_id IN (?) AND removed_at IS NULL ORDER BY position, id",
    [ids],
  )
  const lessons = await s.db.rows<
    Pick<Row<"lesson">, "id" | "course_id" | "title" | "only_files"> & { minutes: number }
  >(
    "SELECT id, course_id, title, takes AS minutes, only_files FROM lesson WHERE course_id IN (?) AND state = 'live' ORDER BY position, id",
    [ids],
  )
  const asked = await askings(s.db, who, found, at)
  const titles = new Map(lessons.map((l) => [l.id, l.title]))
  return found.map(({ open_to_all: _, ...c }) => {
    const asking = pretend(asked.get(c.id)!)
    const { zone, progress } = asking
    const plan = asking.plans.at(-1)?.plan
    const words = { now: at, zone, lesson: (id: number) => titles.get(id) ?? "the one before" }
    // Many lessons of a course say the same: each is put into words once.
    const said = new Map<string, Pick<LearnLesson, "says" | "when">>()
    const sayings = (may: MayOpen) => {
      const key = JSON.stringify(may)
      const known = said.get(key) ?? {
        says: openingWords(may, { ...words, days: afterJoining }),
        when: openingWords(may, words),
      }
      said.set(key, known)
      return known
    }
    const own = lessons.filter((l) => l.course_id === c.id)
    const mine = own.map((l): LearnLesson => {
      const may = mayOpen(asking, l.id)
      const planned = plan && lessonOf(plan, l.id)
      return {
        id: l.id,
        title: l.title,
        minutes: l.minutes,
        module: planned?.module ?? null,
        may,
        ...sayings(may),
        required: planned?.required ?? true,
      }
    })
    return {
      ...c,
      picture: c.picture && `/media/${c.picture}`,
      modules: modules.filter((m) => m.course_id === c.id).map(({ id, title }) => ({ id, title })),
      lessons: mine,
      done: new Set(progress.done.keys()),
      onlyFiles: own.length > 0 && own.every((l) => l.only_files),
      mine:
        asking.openToAll ||
        mine.some((l) => (l.may.open ? l.may.by === "admission" : l.may.why === "not-yet")) ||
        (!mine.length && asking.admissions.some((a) => a.from <= at && (a.until === null || a.until > at))),
    }
  })
}

/** What `mayOpen` is asked with for somebody, by course. */
export async function askings(
  db: Db,
  who: Admitted | null,
  courses: readonly { readonly id: number; readonly open_to_all: number }[],
  at: number,
): Promise<Map<number, Asking>> {
  const ids = [0, ...courses.map((c) => c.id)]
  const plans = await readPlans(db, ids)
  const admissions = who ? await admissionsOf(db, who, ids) : new Map<number, AdmissionTo[]>()
  const progress = await progressIn(db, who, ids)
  const zone = await zoneOf(db, who)
  return new Map(
    courses.map((c) => [
      c.id,
      {
        known: who !== null,
        admissions: admissions.get(c.id) ?? [],
        plans: plans.get(c.id) ?? [],
        openToAll: Boolean(c.open_to_all),
        progress,
        zone,
        at,
      },
    ]),
  )
}

async function admissionsOf(db: Db, who: Admitted, courses: readonly number[]): Promise<Map<number, AdmissionTo[]>> {
  const rows = await db.rows<
    Pick<Row<"admission">, "module_id" | "lesson_id" | "from_at" | "until_at"> & { course_id: number }
  >(
    "SELECT course_id, module_id, lesson_id, from_at, until_at FROM admission WHERE person_id = ? AND course_id IN (?) AND (? IS NULL OR FIND_IN_SET(order_id, ?))",
    [admittedAs(who), courses, who.scope, who.scope],
  )
  const found = new Map<number, AdmissionTo[]>()
  for (const r of rows) {
    const a = {
      module: r.module_id,
      lesson: r.lesson_id,
      from: r.from_at.getTime(),
      until: r.until_at?.getTime() ?? null,
    }
    found.set(r.course_id, [...(found.get(r.course_id) ?? []), a])
  }
  return found
}

/** Of a device that is only let into what it has just taken, what was done on it. */
async function progressIn(db: Db, who: Admitted | null, courses: readonly number[]): Promise<LessonProgress> {
  if (!who) return { seen: new Map(), done: new Map() }
  const done = await db.rows<{ lesson_id: number; at: Date }>(
    who.scope === null
      ? "SELECT d.lesson_id, d.at FROM lesson_done d JOIN lesson l ON l.id = d.lesson_id WHERE d.person_id = ? AND l.course_id IN (?)"
      : "SELECT d.lesson_id, d.at FROM lesson_done_unproved d JOIN lesson l ON l.id = d.lesson_id WHERE FIND_IN_SET(d.order_id, ?) AND l.course_id IN (?)",
    [who.scope === null ? who.person : who.scope, courses],
  )
  const seen =
    who.scope === null
      ? await db.rows<{ lesson_id: number; at: Date }>(
          "SELECT d.lesson_id, d.at FROM lesson_seen d JOIN lesson l ON l.id = d.lesson_id WHERE d.person_id = ? AND l.course_id IN (?)",
          [who.person, courses],
        )
      : []
  const by = (rows: readonly { lesson_id: number; at: Date }[]) =>
    new Map(rows.map((r) => [r.lesson_id, r.at.getTime()]))
  return { seen: by(seen), done: by(done) }
}

async function zoneOf(db: Db, who: Admitted | null): Promise<string> {
  const row = who
    ? await db.row<{ zone: string }>("SELECT zone FROM person WHERE id = ?", [admittedAs(who)])
    : await schoolRow(db)
  return row?.zone ?? "UTC"
}

/** The shelf: courses they have an admission to, running or over, by title; at most 200. */
export async function myCourses(s: Context, who: Admitted): Promise<LearnCourse[]> {
  const found = await s.db.rows<CourseFound & { open_to_all: number }>(
    `SELECT ${fields} FROM course c LEFT JOIN media m ON m.id = c.picture_id
     WHERE c.state <> 'draft' AND c.id IN (SELECT a.course_id FROM admission a WHERE a.person_id = ? AND (? IS NULL OR FIND_IN_SET(a.order_id, ?)))
     ORDER BY c.title LIMIT 200`,
    [admittedAs(who), who.scope, who.scope],
  )
  return (await withAnswers(s, who, found)).filter((c) => c.mine)
}

/** A course as whoever asks meets it, theirs or not; undefined where there is none or it is a draft. */
export async function courseFor(s: Context, who: Admitted | null, slug: string): Promise<LearnCourse | undefined> {
  const found = await s.db.rows<CourseFound & { open_to_all: number }>(
    `SELECT ${fields} FROM course c LEFT JOIN media m ON m.id = c.picture_id WHERE c.state <> 'draft' AND c.slug = ?`,
    [slug],
  )
  return (await withAnswers(s, who, found))[0]
}

/** As whom the school looks at its own course: a stranger, somebody without it, a learner of so many days, or a person. */
export type SeenAs =
  | { readonly as: "stranger" | "outside" }
  | { readonly as: "learner"; readonly days: number }
  | { readonly as: "person"; readonly person: number }

/** A course as such a person meets it now, a draft, too; nothing is marked by looking. Undefined where there is none. */
export async function courseSeenAs(s: Context, course: number, seen: SeenAs): Promise<LearnCourse | undefined> {
  const found = await s.db.rows<CourseFound & { open_to_all: number }>(
    `SELECT ${fields} FROM course c LEFT JOIN media m ON m.id = c.picture_id WHERE c.id = ?`,
    [course],
  )
  const who = seen.as === "person" ? { person: seen.person, scope: null } : null
  const [answer] = await withAnswers(s, who, found, (asking) => {
    if (seen.as === "person") return asking
    const from = seen.as === "learner" ? asking.at - seen.days * 86_400_000 : 0
    return {
      ...asking,
      known: seen.as !== "stranger",
      admissions: seen.as === "learner" ? [{ module: null, from, until: null }] : [],
      // Only the plan that is in force: nobody was there before.
      plans: asking.plans.slice(-1),
    }
  })
  return answer
}

/** A lesson of a course as somebody meets it, where it is open to them; nothing is marked by looking. */
export async function lessonSeenAs(db: Db, course: LearnCourse, lesson: LearnLesson): Promise<OpenLesson | undefined> {
  const row = lesson.may.open ? await openForLearner(db, lesson.id) : undefined
  if (!row) return undefined
  const page = await shownLesson(db, row)
  const addresses = await addressesOf(db, refsOfPage(page))
  return { course, lesson, row, page, addresses, media: await mediaOf(db, page), doneBy: row.done_by }
}

/** The course, or undefined where it isn't theirs. */
export async function myCourse(s: Context, who: Admitted | null, slug: string): Promise<LearnCourse | undefined> {
  const found = await courseFor(s, who, slug)
  return found?.mine ? found : undefined
}

export type OpenLesson = {
  readonly course: LearnCourse
  readonly lesson: LearnLesson
  readonly row: LessonRow
  readonly page: Page
  /** Where its links lead that name something of the school. */
  readonly addresses: ReadonlyMap<string, string>
  readonly media: ReadonlyMap<number, LessonMedia>
  readonly doneBy: DoneBy
}

/** A lesson as stored, with what makes it done: its own way, or its course's. */
export async function openForLearner(db: Db, lesson: number): Promise<(LessonRow & { done_by: DoneBy }) | undefined> {
  const row = await db.row<LessonRow & { course_done_by: string }>(
    "SELECT l.*, c.done_by AS course_done_by FROM lesson l JOIN course c ON c.id = l.course_id WHERE l.id = ? AND l.state = 'live'",
    [lesson],
  )
  return row && { ...row, done_by: doneByOf(row.done_by, row.course_done_by) }
}
