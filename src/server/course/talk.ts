// What is written beside a lesson: notes that only their writer reads, and comments with answers.

import * as v from "valibot"
import { blockKinds } from "@/core/page/block/list"
import { allBlocks } from "@/core/page/document"
import { lessonPage } from "@/core/page/lesson"
import { refusals } from "@/core/words/refusals"
import { mayTry } from "../attempt"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { foldSearch } from "../person/person"
import type { Admitted, Learner } from "../person/session"
import { queueMail } from "../queue-mail"
import { type Made, refusal, type Saved } from "../saved"
import type { LessonRow } from "./course"
import { myCourse, myCourses, openForLearner } from "./learn"

const text = (most: number) => v.pipe(v.string(), v.trim(), v.maxLength(most, refusals.value.longest(most)))

/** Whether a lesson is open to a learner. */
async function isOpenTo(s: Context, who: Learner, slug: string, lesson: number): Promise<boolean> {
  return (await myCourse(s, who, slug))?.lessons.find((l) => l.id === lesson)?.may.open ?? false
}

export async function noteOf(db: Db, person: number, lesson: number): Promise<string> {
  const row = await db.row<{ body: string }>("SELECT body FROM note WHERE person_id = ? AND lesson_id = ?", [
    person,
    lesson,
  ])
  return row?.body ?? ""
}

/** Keeps a note as typed; an empty one is gone. */
export async function saveNote(s: Context, who: Learner, slug: string, lesson: number, typed: unknown): Promise<Saved> {
  const read = v.safeParse(text(10_000), typed)
  if (!read.success) return refusal(read.issues)
  if (!(await isOpenTo(s, who, slug, lesson))) return { refused: refusals.gone.lesson }
  if (read.output === "")
    await s.db.write("DELETE FROM note WHERE person_id = ? AND lesson_id = ?", [who.person, lesson])
  else
    await s.db.insert(
      "note",
      { person_id: who.person, lesson_id: lesson, body: read.output, at: new Date(await s.clock.now()) },
      "ON DUPLICATE KEY UPDATE body = VALUES(body), at = VALUES(at)",
    )
  return { ok: true }
}

export type Comment = {
  readonly id: number
  readonly answers: number | null
  readonly name: string
  /** Whether the school wrote it. */
  readonly school: boolean
  readonly mine: boolean
  readonly body: string
  readonly waiting: boolean
  readonly at: number
}

type Row = {
  id: number
  answers_id: number | null
  person_id: number | null
  person: string | null
  account: string | null
  body: string
  state: "waiting" | "shown" | "hidden"
  at: Date
}

/** What a learner reads below a lesson, the oldest first: what is shown, and what they wrote themselves and waits. At most 500. */
export async function commentsOn(db: Db, lesson: number, person: number | null): Promise<Comment[]> {
  const rows = await db.rows<Row>(
    `SELECT c.id, c.answers_id, c.person_id, p.name AS person, a.name AS account, c.body, c.state, c.at FROM comment c
     LEFT JOIN person p ON p.id = c.person_id LEFT JOIN account a ON a.id = c.account_id
     WHERE c.lesson_id = ? AND (c.state = 'shown' OR (c.state = 'waiting' AND c.person_id = ?)) ORDER BY c.id LIMIT 500`,
    [lesson, person],
  )
  return rows.map((r) => ({
    id: r.id,
    answers: r.answers_id,
    name: r.account ?? (r.person || "A learner"),
    school: r.account !== null,
    mine: r.person_id !== null && r.person_id === person,
    body: r.body,
    waiting: r.state === "waiting",
    at: r.at.getTime(),
  }))
}

const comment = v.pipe(text(4_000), v.nonEmpty(refusals.value.empty))

/** Puts a comment below a lesson, or an answer to one; it waits for the school where the lesson wants that. */
export async function addComment(
  s: Context,
  who: Learner,
  at: { readonly slug: string; readonly lesson: number; readonly answers: number | null },
  typed: unknown,
): Promise<Made> {
  const read = v.safeParse(comment, typed)
  if (!read.success) return refusal(read.issues)
  const row = (await isOpenTo(s, who, at.slug, at.lesson)) ? await openForLearner(s.db, at.lesson) : undefined
  if (!row || row.comments === "off") return { refused: refusals.gone.lesson }
  if (!(await mayTry(s.db, `comment:${who.person}`, { most: 30, windowMs: 3_600_000 })))
    return { refused: refusals.account.tooMany }
  if (at.answers !== null && !(await isThere(s.db, at.answers, at.lesson))) return { refused: refusals.gone.thing }
  const now = await s.clock.now()
  return s.db.transaction(async (tx): Promise<Made> => {
    const made = await tx.insert("comment", {
      lesson_id: at.lesson,
      answers_id: at.answers,
      person_id: who.person,
      body: read.output,
      state: row.comments === "moderated" ? "waiting" : "shown",
      at: new Date(now),
    })
    await tellTeacher(tx, made.id, now)
    return { ok: true, id: made.id }
  })
}

/** What is written within ten minutes comes to the teacher in one mail. */
const gathered = 10 * 60_000

/** Has comments mailed to whoever has the school: a mail that waits already tells of this one, too. */
async function tellTeacher(tx: Db, comment: number, now: number): Promise<void> {
  const accounts = await tx.rows<{ id: number; email: string; name: string }>(
    "SELECT id, email, name FROM account WHERE mails_comments = 1",
  )
  for (const a of accounts) {
    const waits = await tx.row(
      "SELECT 1 FROM mail m JOIN comment c ON c.id = m.comment_id WHERE m.to_email = ? AND c.at > ?",
      [a.email, new Date(now - gathered)],
    )
    if (waits) continue
    await queueMail(tx, {
      once: `comments:${a.id}:${comment}`,
      kind: "new-comments",
      to_email: a.email,
      to_name: a.name,
      comment_id: comment,
      due_at: new Date(now + gathered),
    })
  }
}

async function isThere(db: Db, id: number, lesson: number): Promise<boolean> {
  return (
    (await db.row("SELECT 1 FROM comment WHERE id = ? AND lesson_id = ? AND state = 'shown' AND answers_id IS NULL", [
      id,
      lesson,
    ])) !== undefined
  )
}

/** Takes one's own comment away, with the answers to it. */
export async function removeComment(s: Context, who: Learner, id: number): Promise<Saved> {
  await s.db.write("DELETE FROM comment WHERE id = ? AND person_id = ?", [id, who.person])
  return { ok: true }
}

export type CommentListed = {
  readonly id: number
  readonly name: string
  readonly person: number | null
  readonly body: string
  readonly state: "waiting" | "shown" | "hidden"
  readonly at: Date
  readonly lesson: number
  readonly title: string
  readonly answered: boolean
}

/** The comments of a course as the school looks after them: those that wait first, then the latest. At most 200. */
export async function courseComments(db: Db, course: number): Promise<CommentListed[]> {
  const rows = await db.rows<Omit<CommentListed, "answered"> & { answered: number }>(
    `SELECT c.id, COALESCE(a.name, NULLIF(p.name, ''), p.email) AS name, c.person_id AS person, c.body, c.state, c.at, l.id AS lesson, l.title,
       EXISTS (SELECT 1 FROM comment x WHERE x.answers_id = c.id AND x.account_id IS NOT NULL) AS answered
     FROM comment c JOIN lesson l ON l.id = c.lesson_id LEFT JOIN person p ON p.id = c.person_id LEFT JOIN account a ON a.id = c.account_id
     WHERE l.course_id = ? AND c.person_id IS NOT NULL ORDER BY c.state = 'waiting' DESC, c.id DESC LIMIT 200`,
    [course],
  )
  return rows.map((r) => ({ ...r, answered: Boolean(r.answered) }))
}

/** Shows or hides a comment. */
export async function setCommentState(s: Context, id: number, state: "shown" | "hidden"): Promise<Saved> {
  await s.db.update("comment", id, { state })
  return { ok: true }
}

/** The school answers a comment; what waited is shown by that. */
export async function answerComment(s: Context, id: number, typed: unknown): Promise<Saved> {
  const read = v.safeParse(comment, typed)
  if (!read.success) return refusal(read.issues)
  if (s.actor.is !== "account") return { refused: refusals.gone.account }
  const account = s.actor.id
  const now = new Date(await s.clock.now())
  return s.db.transaction(async (tx): Promise<Saved> => {
    const found = await tx.row<{ lesson_id: number; answers_id: number | null }>(
      "SELECT lesson_id, answers_id FROM comment WHERE id = ? FOR UPDATE",
      [id],
    )
    if (!found) return { refused: refusals.gone.thing }
    await tx.write("UPDATE comment SET state = 'shown' WHERE id = ? AND state = 'waiting'", [id])
    await tx.insert("comment", {
      lesson_id: found.lesson_id,
      answers_id: found.answers_id ?? id,
      account_id: account,
      body: read.output,
      state: "shown",
      at: now,
    })
    return { ok: true }
  })
}

/** How many comments wait for the school. */
export async function waitingComments(db: Db): Promise<{ n: number; course: number; title: string } | null> {
  const row = await db.row<{ n: number; course: number; title: string }>(
    `SELECT COUNT(*) AS n, MIN(l.course_id) AS course, MIN(co.title) AS title FROM comment c JOIN lesson l ON l.id = c.lesson_id JOIN course co ON co.id = l.course_id WHERE c.state = 'waiting'`,
  )
  const n = row?.n ?? 0
  return row && n ? { n, course: row.course, title: row.title } : null
}

export type FoundLesson = {
  readonly slug: string
  readonly course: string
  readonly lesson: number
  readonly title: string
  /** Some words around what was found; empty where it is in the title. */
  readonly line: string
}

/** Lessons that are open to somebody and say what they look for, in titles first; at most 50. */
export async function searchLessons(s: Context, who: Admitted, typed: string): Promise<FoundLesson[]> {
  const words = foldSearch(typed).split(/\s+/).filter(Boolean).slice(0, 6)
  if (!words.length) return []
  const courses = await myCourses(s, who)
  const open = courses.flatMap((c) => c.lessons.filter((l) => l.may.open).map((l) => ({ c, l })))
  const rows = await s.db.rows<LessonRow>("SELECT * FROM lesson WHERE id IN (?)", [[0, ...open.map((o) => o.l.id)]])
  const texts = new Map(rows.map((r) => [r.id, textOf(r)]))
  const found = open.flatMap(({ c, l }) => {
    const title = foldSearch(l.title)
    const text = texts.get(l.id) ?? ""
    const folded = foldSearch(text)
    if (!words.every((w) => title.includes(w) || folded.includes(w))) return []
    const inTitle = words.every((w) => title.includes(w))
    return [
      {
        inTitle,
        slug: c.slug,
        course: c.title,
        lesson: l.id,
        title: l.title,
        line: inTitle ? "" : around(text, words[0]!),
      },
    ]
  })
  return found.sort((a, b) => Number(b.inTitle) - Number(a.inTitle)).slice(0, 50)
}

/** All that a lesson says, as plain text. */
function textOf(row: LessonRow): string {
  return [...allBlocks(lessonPage(row).blocks)]
    .map((b) => blockKinds[b.kind].text?.(b) ?? "")
    .join(" ")
    .replace(/&nbsp;/g, " ")
    .replace(/\s+/g, " ")
}

function around(text: string, word: string): string {
  const at = Math.max(0, foldSearch(text).indexOf(word))
  const from = Math.max(0, at - 50)
  return `${from ? "…" : ""}${text.slice(from, at + 90).trim()}…`
}
