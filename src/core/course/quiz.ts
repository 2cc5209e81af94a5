// A quiz: its questions, how an answer is marked, and when it is passed.
import * as v from "valibot"
import { refusals } from "../words/refusals"

const id = v.pipe(v.string(), v.regex(/^[a-z0-9]{1,16}$/))
const words = v.pipe(v.string(), v.maxLength(600))
const common = { id, asks: words, explains: words }

const question = v.variant("kind", [
  /** One right answer or several; with several, all of them and no other. */
  v.object({
    ...common,
    kind: v.literal("choice"),
    options: v.pipe(v.array(v.object({ says: words, right: v.boolean() })), v.maxLength(12)),
  }),
  /** A short text; any of these is right, however it is written in capitals, spaces and accents. */
  v.object({ ...common, kind: v.literal("text"), answers: v.pipe(v.array(words), v.maxLength(20)) }),
  /** A number, right within the tolerance. */
  v.object({
    ...common,
    kind: v.literal("number"),
    answer: v.nullable(v.number()),
    tolerance: v.pipe(v.number(), v.minValue(0)),
  }),
])

export type QuizQuestion = v.InferOutput<typeof question>
export type QuestionKind = QuizQuestion["kind"]

export const quizFields = {
  questions: v.pipe(v.array(question), v.maxLength(100)),
  /** Percent of the points. */
  passMark: v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(100, refusals.value.wholePercent)),
  /** How often it may be tried; 0: as often as one likes. */
  tries: v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(99)),
  /** Whether questions and options come in another order each time. */
  shuffle: v.boolean(),
}

export type Quiz = {
  readonly questions: readonly QuizQuestion[]
  readonly passMark: number
  readonly tries: number
  readonly shuffle: boolean
}

/** An answer: numbers of options for a choice, what was typed for the others. */
export type QuizAnswers = Readonly<Record<string, readonly number[] | string>>

export type Marked = {
  readonly points: number
  readonly of: number
  readonly passed: boolean
  /** By question, whether it was right. */
  readonly right: Readonly<Record<string, boolean>>
}

/** Why a question can't be answered rightly, or null: it has no right answer, or says nothing. */
export function questionGap(q: QuizQuestion): "no-words" | "no-right-answer" | null {
  if (!q.asks.trim()) return "no-words"
  if (q.kind === "choice") return q.options.some((o) => o.right && o.says.trim()) ? null : "no-right-answer"
  if (q.kind === "text") return q.answers.some((a) => a.trim()) ? null : "no-right-answer"
  return q.answer === null ? "no-right-answer" : null
}

/** What can be answered: a question without a right answer isn't asked, and costs nobody a point. */
export const askedQuestion = (quiz: Quiz): QuizQuestion[] => quiz.questions.filter((q) => questionGap(q) === null)

/** Marks a try: one point for a question that is right as a whole. Passed with the pass mark or more. */
export function mark(quiz: Quiz, answers: QuizAnswers): Marked {
  const questions = askedQuestion(quiz)
  const right = Object.fromEntries(questions.map((q) => [q.id, isRight(q, answers[q.id])]))
  const points = Object.values(right).filter(Boolean).length
  const of = questions.length
  return { points, of, passed: of > 0 && points * 100 >= quiz.passMark * of, right }
}

function isRight(q: QuizQuestion, answer: readonly number[] | string | undefined): boolean {
  if (answer === undefined) return false
  if (q.kind === "choice") {
    if (typeof answer === "string") return false
    const chosen = new Set(answer)
    return q.options.every((o, i) => o.right === chosen.has(i)) && [...chosen].every((i) => i < q.options.length)
  }
  if (typeof answer !== "string") return false
  if (q.kind === "text") return q.answers.some((a) => a.trim() !== "" && fold(a) === fold(answer))
  const typed = readNumber(answer)
  // A tolerance typed in decimals is kept to what decimals can be told apart by.
  return (
    typed !== null &&
    q.answer !== null &&
    Math.abs(typed - q.answer) <= q.tolerance + 1e-9 * Math.max(1, Math.abs(q.answer))
  )
}

const fold = (text: string) => text.normalize("NFKD").replace(/\p{M}/gu, "").toLowerCase().replace(/\s+/g, " ").trim()

/** A number as people type it, with a point or a comma before its decimals; null for anything else. */
export function readNumber(typed: string): number | null {
  const text = typed
    .trim()
    .replace(/[\s\u00A0\u202F'’]/g, "")
    .replace(",", ".")
    .replace(/^[−–]/, "-")
  return /^[+-]?(\d+\.?\d*|\.\d+)$/.test(text) ? Number(text) : null
}

/** The order of n things, another one for each seed, the same for the same (Fisher-Yates with mulberry32). */
export function shuffled(n: number, seed: number): number[] {
  let state = seed >>> 0
  const next = () => {
    state = (state + 0x6d2b79f5) >>> 0
    let t = Math.imul(state ^ (state >>> 15), 1 | state)
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296
  }
  const order = Array.from({ length: n }, (_, i) => i)
  for (let i = n - 1; i > 0; i--) {
    const j = Math.floor(next() * (i + 1))
    ;[order[i], order[j]] = [order[j]!, order[i]!]
  }
  return order
}
