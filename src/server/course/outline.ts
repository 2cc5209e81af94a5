// The outline of a course as it is written: modules and lessons are made, named, ordered, taken out and put back all at once.

import * as v from "valibot"
import { opensSchema } from "@/core/course/opens"
import type { Outline, OutlineRow } from "@/core/course/outline"
import { readJson } from "@/core/json"
import { lessonPage } from "@/core/page/lesson"
import { refusals } from "@/core/words/refusals"
import type { Context } from "../context"
import { type Db, number } from "../db/pool"
import type { Row } from "../db/row"
import { freeCourseSlug } from "../free-address"
import { type Made, type Refused, refusal } from "../saved"
import { isWritten, type LessonRow, readCourse, referCourse } from "./course"
import { referPage } from "./lesson-page"
import { changingPlan } from "./plan"

const id = v.pipe(v.number(), v.integer(), v.minValue(1))
const row = v.object({
  key: v.pipe(v.string(), v.maxLength(40)),
  id: v.nullable(id),
  kind: v.picklist(["module", "lesson"]),
  title: v.pipe(v.string(), v.trim(), v.maxLength(160, refusals.course.titleLong(160))),
  live: v.boolean(),
  free: v.boolean(),
  required: v.boolean(),
  written: v.boolean(),
  revision: v.number(),
  copyOf: v.optional(id),
})
/** A row as the window last heard of it. */
const heardRow = v.object({ id, live: v.boolean(), free: v.boolean(), required: v.boolean(), title: v.string() })
const outlineInput = v.object({
  course: id,
  rows: v.pipe(v.array(row), v.maxLength(2000, refusals.course.many)),
  /** The numbers that stood in the outline before, as `module:3`: what is not in it any more is taken out, and nothing else. */
  known: v.array(v.string()),
  /** Lessons as this window last heard of them: what it hasn't changed since stays as it is by now. */
  heard: v.optional(v.array(heardRow), []),
})

type Placed = {
  readonly row: OutlineRow
  readonly id: number
  readonly module: number | null
  readonly position: number
}

export type SavedOutline = { readonly rows: Outline } | Refused

/** A course's outline; keys are kind and number. */
export async function readOutline(db: Db, course: number): Promise<Outline> {
  const rows = await db.rows<
    Pick<Row<"module">, "id" | "title"> & {
      kind: OutlineRow["kind"]
      live: number
      free: number
      required: number
      written: number
      revision: number | string
    }
  >(
    `SELECT 'module' AS kind, id, position, title, 0 AS live, 0 AS free, 1 AS required, opens IS NOT NULL AS written, 0 AS revision FROM module WHERE course_id = ? AND removed_at IS NULL
     UNION ALL SELECT 'lesson', id, position, title, state = 'live', free, required, ${isWritten}, revision
       FROM lesson WHERE course_id = ? AND state <> 'removed' ORDER BY position, kind DESC, id`,
    [course, course],
  )
  return rows.map(({ kind, id, title, live, free, required, written, revision }) => ({
    key: `${kind}:${id}`,
    id,
    kind,
    title,
    live: Boolean(live),
    free: Boolean(free),
    required: Boolean(required),
    written: Boolean(written),
    revision: number(revision),
  }))
}

/** How long a course is and what is in it, counted from its lessons. */
export async function lessonLength(
  db: Db,
  course: number,
): Promise<{ minutes: number; videos: number; files: number }> {
  const row = await db.row<{ minutes: number | null; videos: number; files: number }>(
    `SELECT SUM(l.takes) AS minutes, (SELECT COUNT(*) FROM reference r JOIN lesson x ON x.id = r.from_lesson_id WHERE x.course_id = ? AND x.state = 'live' AND r.say = 'plays it') AS videos,
       (SELECT COUNT(*) FROM reference r JOIN lesson x ON x.id = r.from_lesson_id WHERE x.course_id = ? AND x.state = 'live' AND r.say = 'gives it') AS files
     FROM lesson l WHERE l.course_id = ? AND l.state = 'live'`,
    [course, course, course],
  )
  return { minutes: row?.minutes ?? 0, videos: row?.videos ?? 0, files: row?.files ?? 0 }
}

/** The same lesson without what makes it one: its words, media and settings. */
const content = "title, page, body, minutes, picture_id, picture_alt, video_id, file_id, opens, done_by, gates"

/**
 * Stores an outline as it is now. What another window has added since stays, at the end of what was there; a lesson that was
 * taken out and comes back is as it was.
 *
 * @returns the outline as stored, with the keys of the given rows
 */
export async function saveOutline(s: Context, input: unknown): Promise<SavedOutline> {
  const read = v.safeParse(outlineInput, input)
  if (!read.success) return refusal(read.issues)
  const { course, rows, known, heard } = read.output
  const now = await s.clock.now()
  return s.db.transaction(async (tx): Promise<SavedOutline> => {
    if (!(await tx.row("SELECT id FROM course WHERE id = ? FOR UPDATE", [course])))
      return { refused: refusals.gone.course }
    const keys = new Map<string, string>()
    await changingPlan(tx, course, now, async () => {
      const there = await idsOf(tx, course)
      const given = new Set([...known, ...rows.map((r) => `${r.kind}:${r.id}`)])
      const theirs = (await readOutline(tx, course)).filter((r) => !given.has(r.key))
      const placed: Placed[] = []
      let module: number | null = null
      for (const r of [...rows, ...theirs]) {
        if (r.id !== null && !there.has(`${r.kind}:${r.id}`)) continue
        const id = r.id ?? (await make(tx, course, r))
        if (r.kind === "module") module = id
        placed.push({ row: r, id, module, position: placed.length + 1 })
        keys.set(`${r.kind}:${id}`, r.key)
      }
      await place(tx, placed, heard)
      await takeOut(
        tx,
        course,
        known.filter((k) => !keys.has(k)),
        now,
      )
    })
    const stored = await readOutline(tx, course)
    return { rows: stored.map((r) => ({ ...r, key: keys.get(r.key) ?? r.key })) }
  })
}

async function idsOf(tx: Db, course: number): Promise<Set<string>> {
  const rows = await tx.rows<{ k: string }>(
    "SELECT CONCAT('module:', id) AS k FROM module WHERE course_id = ? UNION ALL SELECT CONCAT('lesson:', id) FROM lesson WHERE course_id = ?",
    [course, course],
  )
  return new Set(rows.map((r) => r.k))
}

async function make(tx: Db, course: number, r: OutlineRow): Promise<number> {
  if (r.kind === "module") {
    const made = await tx.insert("module", { course_id: course, position: 0, title: r.title })
    return made.id
  }
  if (r.copyOf !== undefined) {
    const copied = await tx.write(
      `INSERT INTO lesson (course_id, position, ${content}) SELECT ?, 0, ${content} FROM lesson WHERE id = ?`,
      [course, r.copyOf],
    )
    if (copied.affected) {
      await referAgain(tx, copied.id)
      return copied.id
    }
  }
  return (await tx.insert("lesson", { course_id: course, position: 0, title: r.title, body: "" })).id
}

async function referAgain(tx: Db, lesson: number): Promise<void> {
  const l = (await tx.row<LessonRow>("SELECT * FROM lesson WHERE id = ?", [lesson]))!
  await referPage(tx, lesson, lessonPage(l))
}

/** Writes names, order and marks of all rows: one statement for modules, one for lessons. What isn't changed here stays as it is. */
async function place(
  tx: Db,
  placed: readonly Placed[],
  heard: readonly v.InferOutput<typeof heardRow>[],
): Promise<void> {
  const before = new Map(heard.map((h) => [h.id, h]))
  /** Null: as it is. */
  const mark = (p: Placed, of: "live" | "free" | "required") =>
    p.row[of] === before.get(p.id)?.[of] ? null : Number(p.row[of])
  const of = (kind: string) =>
    JSON.stringify(
      placed
        .filter((p) => p.row.kind === kind)
        .map((p) => [
          p.id,
          p.position,
          kind === "lesson" && p.row.title === before.get(p.id)?.title ? null : p.row.title,
          p.module,
          mark(p, "live"),
          mark(p, "free"),
          mark(p, "required"),
        ]),
    )
  const table =
    "JSON_TABLE(?, '$[*]' COLUMNS (id INT PATH '$[0]', position INT PATH '$[1]', title VARCHAR(160) PATH '$[2]', module INT PATH '$[3]', live INT PATH '$[4]', free INT PATH '$[5]', required INT PATH '$[6]')) r"
  await tx.write(
    `UPDATE module m JOIN ${table} ON r.id = m.id SET m.position = r.position, m.title = r.title, m.removed_at = NULL`,
    [of("module")],
  )
  const state =
    "CASE WHEN r.live IS NOT NULL THEN IF(r.live, 'live', 'draft') WHEN l.state = 'removed' THEN 'draft' ELSE l.state END"
  await tx.write(
    `UPDATE lesson l JOIN ${table} ON r.id = l.id
     SET l.revision = l.revision + (l.title COLLATE utf8mb4_bin <> COALESCE(r.title, l.title) COLLATE utf8mb4_bin OR l.free <> COALESCE(r.free, l.free) OR l.required <> COALESCE(r.required, l.required) OR l.state <> ${state}),
       l.position = r.position, l.title = COALESCE(r.title, l.title), l.module_id = r.module, l.state = ${state}, l.free = COALESCE(r.free, l.free), l.required = COALESCE(r.required, l.required)`,
    [of("lesson")],
  )
}

const numbers = (keys: readonly string[], kind: string) => [
  0,
  ...keys.filter((k) => k.startsWith(`${kind}:`)).map((k) => Number(k.slice(kind.length + 1))),
]

async function takeOut(tx: Db, course: number, keys: readonly string[], now: number): Promise<void> {
  await tx.write("UPDATE module SET removed_at = ? WHERE course_id = ? AND id IN (?) AND removed_at IS NULL", [
    new Date(now),
    course,
    numbers(keys, "module"),
  ])
  await tx.write("UPDATE lesson SET state = 'removed', module_id = NULL WHERE course_id = ? AND id IN (?)", [
    course,
    numbers(keys, "lesson"),
  ])
}

/** A course with the same modules, lessons and rules, as a draft, without anybody in it. */
export async function copyCourse(s: Context, course: number): Promise<Made> {
  const now = new Date(await s.clock.now())
  return s.db.transaction(async (tx): Promise<Made> => {
    const from = await readCourse(tx, course)
    if (!from) return { refused: refusals.gone.course }
    const title = `${from.course.title.slice(0, 150)} (copy)`
    const made = await tx.write(
      `INSERT INTO course (slug, title, promise, teacher, picture_id, opens, in_order, done_by, open_to_all, tells, certifies, signing_up, away_days, leave_step_id, gates, made_at, changed_at)
       SELECT ?, ?, promise, teacher, picture_id, opens, in_order, done_by, open_to_all, tells, certifies, signing_up, away_days, leave_step_id, gates, ?, ? FROM course WHERE id = ?`,
      [await freeCourseSlug(tx, title), title, now, now, course],
    )
    await referCourse(tx, made.id, from.course.picture_id)
    const modules = new Map<number, number>()
    for (const m of from.modules)
      modules.set(
        m.id,
        (
          await tx.write(
            "INSERT INTO module (course_id, position, title, opens) SELECT ?, position, title, opens FROM module WHERE id = ?",
            [made.id, m.id],
          )
        ).id,
      )
    const lessons = new Map<number, number>()
    for (const l of from.lessons) {
      const copied = await tx.write(
        `INSERT INTO lesson (course_id, position, module_id, state, free, required, ${content}) SELECT ?, position, ?, state, free, required, ${content} FROM lesson WHERE id = ?`,
        [made.id, l.module_id === null ? null : (modules.get(l.module_id) ?? null), l.id],
      )
      lessons.set(l.id, copied.id)
      await referPage(tx, copied.id, lessonPage(l))
    }
    // A rule that waits for a lesson waits for its copy.
    for (const table of ["lesson", "module"] as const)
      for (const r of await tx.rows<{ id: number; opens: string }>(
        `SELECT id, opens FROM ${table} WHERE course_id = ? AND opens LIKE '%after-lesson%'`,
        [made.id],
      )) {
        const rule = readJson(opensSchema, r.opens)
        if (rule.kind !== "after-lesson") continue
        await tx.write(`UPDATE ${table} SET opens = ? WHERE id = ?`, [
          JSON.stringify({ ...rule, lesson: lessons.get(rule.lesson) ?? rule.lesson }),
          r.id,
        ])
      }
    return { ok: true, id: made.id }
  })
}
