// Surveys: what a learner answers without being marked, and what all the answers come to.

import * as v from "valibot"
import {
  fitting,
  missing,
  resultsOf,
  type SurveyAnswers,
  type SurveyItem,
  type SurveyResult,
  surveyAnswers,
} from "@/core/course/survey"
import { readJson } from "@/core/json"
import { allBlocks } from "@/core/page/document"
import type { CourseFigures } from "@/core/page/figures"
import { lessonPage } from "@/core/page/lesson"
import { refusals } from "@/core/words/refusals"
import type { Context } from "../context"
import { csv } from "../csv"
import type { Db } from "../db/pool"
import { happen } from "../happen"
import type { Learner } from "../person/session"
import { refusal, type Saved } from "../saved"
import type { LessonRow } from "./course"
import { myCourse, openForLearner } from "./learn"

type SurveyOnPage = { readonly id: string; readonly items: readonly SurveyItem[] }

const surveysOf = (row: LessonRow): SurveyOnPage[] =>
  [...allBlocks(lessonPage(row).blocks)].flatMap((b) => ("survey" in b ? [{ id: b.id, items: b.survey }] : []))

/** What a learner has answered in a lesson, by its survey. */
export async function answersOf(db: Db, person: number, lesson: number): Promise<Map<string, SurveyAnswers>> {
  const rows = await db.rows<{ block: string; answers: string }>(
    "SELECT block, answers FROM survey_answer WHERE person_id = ? AND lesson_id = ?",
    [person, lesson],
  )
  return new Map(rows.map((r) => [r.block, readJson(surveyAnswers, r.answers)]))
}

/** Keeps what a learner answers; once more puts it in place of what they said before, and it is told once that they did. */
export async function answerSurvey(
  s: Context,
  who: Learner,
  at: { readonly slug: string; readonly lesson: number; readonly block: string },
  typed: unknown,
): Promise<Saved> {
  const read = v.safeParse(surveyAnswers, typed)
  if (!read.success) return refusal(read.issues)
  const lesson = (await myCourse(s, who, at.slug))?.lessons.find((l) => l.id === at.lesson)
  const row = lesson?.may.open ? await openForLearner(s.db, at.lesson) : undefined
  const survey = row && surveysOf(row).find((x) => x.id === at.block)
  if (!lesson || !survey) return { refused: refusals.gone.lesson }
  const answers = fitting(survey.items, read.output)
  const lacks = missing(survey.items, answers)
  if (lacks) return { refused: refusals.course.unanswered(lacks.asks), field: lacks.id }
  const now = await s.clock.now()
  return s.db.transaction(async (tx): Promise<Saved> => {
    await tx.insert(
      "survey_answer",
      {
        person_id: who.person,
        lesson_id: at.lesson,
        block: at.block,
        answers: JSON.stringify(answers),
        at: new Date(now),
      },
      "ON DUPLICATE KEY UPDATE answers = VALUES(answers), at = VALUES(at)",
    )
    await happen(tx, {
      kind: "survey-answered",
      at: now,
      once: `survey:${who.person}:${at.lesson}:${at.block}`,
      person: who.person,
      subject: at.lesson,
      words: lesson.title,
    })
    return { ok: true }
  })
}

export type SurveyListed = {
  readonly lesson: number
  readonly title: string
  readonly block: string
  readonly people: number
  readonly results: readonly SurveyResult[]
}

/** How many of the latest answers are looked at. */
const most = 20_000

/** What the surveys of a course came to, in the order of its lessons; of each the latest 20,000 answers. */
export async function surveyResults(db: Db, course: number): Promise<SurveyListed[]> {
  const found: SurveyListed[] = []
  for (const { row, survey } of await surveysIn(db, course)) {
    const rows = await db.rows<{ answers: string }>(
      "SELECT answers FROM survey_answer WHERE lesson_id = ? AND block = ? ORDER BY at DESC LIMIT ?",
      [row.id, survey.id, most],
    )
    const all = await db.row<{ n: number }>(
      "SELECT COUNT(*) AS n FROM survey_answer WHERE lesson_id = ? AND block = ?",
      [row.id, survey.id],
    )
    const results = resultsOf(
      survey.items,
      rows.map((r) => readJson(surveyAnswers, r.answers)),
    )
    found.push({ lesson: row.id, title: row.title, block: survey.id, people: all?.n ?? 0, results })
  }
  return found
}

async function surveysIn(db: Db, course: number): Promise<{ row: LessonRow; survey: SurveyOnPage }[]> {
  const rows = await db.rows<LessonRow>(
    "SELECT * FROM lesson WHERE course_id = ? AND state <> 'removed' AND page LIKE '%\"survey\"%' ORDER BY position, id",
    [course],
  )
  return rows.flatMap((row) => surveysOf(row).map((survey) => ({ row, survey })))
}

/** What learners think of each course, where a survey's scale asks: of its first that does, from all who answered. */
export async function courseRatings(db: Db): Promise<Map<number, NonNullable<CourseFigures["rating"]>>> {
  const lessons = await db.rows<LessonRow>(
    "SELECT * FROM lesson WHERE state = 'live' AND page LIKE '%\"rates\":true%' ORDER BY course_id, position, id",
  )
  const found = new Map<number, NonNullable<CourseFigures["rating"]>>()
  for (const row of lessons) {
    const [asked] = surveysOf(row).flatMap((s) =>
      s.items.flatMap((q) => (q.kind === "scale" && q.rates ? [{ block: s.id, ...q }] : [])),
    )
    if (!asked || found.has(row.course_id)) continue
    const all = await db.row<{ people: number; average: number | null }>(
      "SELECT COUNT(*) AS people, AVG(a.n) AS average FROM (SELECT CAST(JSON_VALUE(answers, ?) AS UNSIGNED) AS n FROM survey_answer WHERE lesson_id = ? AND block = ?) a WHERE a.n BETWEEN 1 AND ?",
      [`$."${asked.id}"`, row.id, asked.block, asked.most],
    )
    if (all?.people) found.set(row.course_id, { average: all.average ?? 0, most: asked.most, people: all.people })
  }
  return found
}

/** The answers to one survey as CSV, a line for each person, the latest first, a thousand at a time. */
export async function* exportAnswers(db: Db, course: number, lesson: number, block: string): AsyncGenerator<string> {
  const found = (await surveysIn(db, course)).find((x) => x.row.id === lesson && x.survey.id === block)
  if (!found) return
  const { items } = found.survey
  yield csv([["email", "name", "answered", ...items.map((q) => q.asks)]])
  for (let from = 0; ; from += 1000) {
    const rows = await db.rows<{ email: string; name: string; at: Date; answers: string }>(
      "SELECT p.email, p.name, a.at, a.answers FROM survey_answer a JOIN person p ON p.id = a.person_id WHERE a.lesson_id = ? AND a.block = ? ORDER BY a.at DESC, a.person_id LIMIT 1000 OFFSET ?",
      [lesson, block, from],
    )
    if (!rows.length) return
    yield csv(
      rows.map((r) => {
        const answers = readJson(surveyAnswers, r.answers)
        return [r.email, r.name, r.at.toISOString(), ...items.map((q) => inWords(q, answers[q.id]))]
      }),
    )
  }
}

function inWords(q: SurveyItem, answer: SurveyAnswers[string] | undefined): string {
  if (answer === undefined) return ""
  if (q.kind === "choice" && Array.isArray(answer))
    return (answer as number[]).map((n) => q.options[n] ?? "").join("; ")
  return String(answer)
}
