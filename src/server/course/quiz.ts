// Trying a quiz: what is asked of a learner, how a try is marked and kept, and what passing it does.
import * as v from "valibot"
import {
  askedQuestion,
  type Marked,
  mark,
  type Quiz,
  type QuizAnswers,
  type QuizQuestion,
  shuffled,
} from "@/core/course/quiz"
import { allBlocks } from "@/core/page/document"
import { lessonPage } from "@/core/page/lesson"
import { refusals } from "@/core/words/refusals"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { happen } from "../happen"
import type { Admitted, Learner } from "../person/session"
import { type Refused, refusal } from "../saved"
import type { LessonRow } from "./course"
import { setDone } from "./done"
import { courseFor, openForLearner } from "./learn"

/** A question as its learner gets it: without what is right. Options carry their number, which an answer names. */
export type AskedQuestion =
  | { readonly id: string; readonly asks: string; readonly kind: "text" | "number" }
  | {
      readonly id: string
      readonly asks: string
      readonly kind: "choice"
      readonly several: boolean
      readonly options: readonly { readonly n: number; readonly says: string }[]
    }

export type AskedQuiz = {
  readonly block: string
  readonly questions: readonly AskedQuestion[]
  readonly passMark: number
  /** Null: any number. */
  readonly triesLeft: number | null
  readonly last: { readonly points: number; readonly of: number; readonly passed: boolean } | null
}

type QuizOnPage = Quiz & { readonly id: string }

export function quizzesOf(row: LessonRow): QuizOnPage[] {
  return [...allBlocks(lessonPage(row).blocks)].flatMap((b) => ("questions" in b ? [b] : []))
}

type Try = { block: string; n: number; points: number; of_points: number; passed: number }

/** Every quiz of a lesson as this learner meets it, or a stranger: how earlier tries went is for the learner alone. */
export async function askQuizzes(db: Db, row: LessonRow, who: Learner | null): Promise<AskedQuiz[]> {
  const person = who?.person ?? null
  const quizzes = quizzesOf(row)
  if (!quizzes.length) return []
  const tries = await db.rows<Try>(
    "SELECT block, n, points, of_points, passed FROM quiz_try WHERE person_id = ? AND lesson_id = ? ORDER BY n",
    [person ?? 0, row.id],
  )
  return quizzes.map((q) => {
    const mine = tries.filter((t) => t.block === q.id)
    const last = mine.at(-1)
    const seed = (person ?? 0) * 1009 + mine.length
    return {
      block: q.id,
      questions: order(askedQuestion(q), q.shuffle, seed).map((x) => askedOf(x, q.shuffle, seed)),
      passMark: q.passMark,
      triesLeft: q.tries === 0 ? null : Math.max(0, q.tries - mine.length),
      last: last ? { points: last.points, of: last.of_points, passed: mine.some((t) => t.passed) } : null,
    }
  })
}

const order = <T>(all: readonly T[], shuffle: boolean, seed: number): T[] =>
  shuffle ? shuffled(all.length, seed).map((i) => all[i]!) : [...all]

function askedOf(q: QuizQuestion, shuffle: boolean, seed: number): AskedQuestion {
  if (q.kind !== "choice") return { id: q.id, asks: q.asks, kind: q.kind }
  const options = q.options.map((o, n) => ({ n, says: o.says })).filter((o) => o.says.trim())
  return {
    id: q.id,
    asks: q.asks,
    kind: q.kind,
    several: q.options.filter((o) => o.right).length > 1,
    options: order(options, shuffle, seed + 7),
  }
}

export type Tried = {
  readonly marked: Marked
  readonly explains: Readonly<Record<string, string>>
  readonly triesLeft: number | null
  /** Whether it is kept; not for somebody who isn't signed in with everything. */
  readonly kept: boolean
}

const answers = v.record(
  v.string(),
  v.union([
    v.pipe(v.array(v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(11))), v.maxLength(12)),
    v.pipe(v.string(), v.maxLength(1000)),
  ]),
)

/**
 * Marks a try. Kept for whoever is signed in; of many at once each counts, and none beyond the tries there are. Passing every
 * quiz of a lesson makes it done where the lesson wants that.
 */
export async function tryQuiz(
  s: Context,
  who: Admitted | null,
  at: { readonly slug: string; readonly lesson: number; readonly block: string },
  typed: unknown,
): Promise<Tried | Refused> {
  const read = v.safeParse(answers, typed)
  if (!read.success) return refusal(read.issues)
  const course = await courseFor(s, who, at.slug)
  const lesson = course?.lessons.find((l) => l.id === at.lesson)
  if (!course || !lesson?.may.open) return { refused: refusals.gone.lesson }
  const row = await openForLearner(s.db, at.lesson)
  const quiz = row && quizzesOf(row).find((q) => q.id === at.block)
  if (!row || !quiz) return { refused: refusals.gone.quiz }
  const kept = who?.scope === null && course.mine
  // Where tries are counted, nobody tries out what is right on the side.
  if (!kept && quiz.tries) return { refused: refusals.course.signInToTry }
  const marked = mark(quiz, read.output as QuizAnswers)
  const explains = Object.fromEntries(askedQuestion(quiz).map((q) => [q.id, q.explains]))
  if (!kept) return { marked, explains, triesLeft: null, kept: false }
  const now = await s.clock.now()
  const done = await s.db.transaction(async (tx): Promise<{ n: number } | Refused> => {
    await tx.row("SELECT id FROM person WHERE id = ? FOR UPDATE", [who.person])
    const before = await tx.row<{ n: number }>(
      "SELECT COUNT(*) AS n FROM quiz_try WHERE person_id = ? AND lesson_id = ? AND block = ?",
      [who.person, at.lesson, at.block],
    )
    const n = (before?.n ?? 0) + 1
    if (quiz.tries && n > quiz.tries) return { refused: refusals.course.noTryLeft }
    await tx.insert("quiz_try", {
      person_id: who.person,
      lesson_id: at.lesson,
      block: at.block,
      n,
      answers: JSON.stringify(read.output),
      points: marked.points,
      of_points: marked.of,
      passed: marked.passed,
      at: new Date(now),
    })
    await happen(tx, {
      kind: marked.passed ? "quiz-passed" : "quiz-failed",
      at: now,
      person: who.person,
      subject: at.lesson,
      words: `${lesson.title}, ${marked.points} of ${marked.of}`,
    })
    return { n }
  })
  if ("refused" in done) return done
  if (row.done_by === "passed" && (await passedAll(s.db, who.person, row))) await setDone(s, who, lesson, true)
  return { marked, explains, triesLeft: quiz.tries ? quiz.tries - done.n : null, kept: true }
}

async function passedAll(db: Db, person: number, row: LessonRow): Promise<boolean> {
  const passed = await db.rows<{ block: string }>(
    "SELECT DISTINCT block FROM quiz_try WHERE person_id = ? AND lesson_id = ? AND passed = 1",
    [person, row.id],
  )
  const have = new Set(passed.map((p) => p.block))
  return quizzesOf(row).every((q) => have.has(q.id))
}
