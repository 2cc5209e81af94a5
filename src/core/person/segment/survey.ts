import * as v from "valibot"
import { refTo } from "../../reference"
import { among, type ConditionModule, id } from "./kind"

const words = v.pipe(v.string(), v.maxLength(600))

const schema = v.object({
  kind: v.literal("survey"),
  lesson: id,
  /** The survey on the lesson's page, and the question in it. */
  block: v.pipe(v.string(), v.regex(/^[a-z0-9]{1,16}$/)),
  question: v.pipe(v.string(), v.regex(/^[a-z0-9]{1,16}$/)),
  /** The number of an option, from 0, or of the scale, from 1; null: any answer. */
  answer: v.nullable(v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(20))),
  has: v.boolean(),
  /** What was asked and how it was answered, in the words that the page had when this was asked. */
  asks: words,
  says: words,
})
export type SurveyCondition = v.InferOutput<typeof schema>

/** What somebody answered in a survey, the last time they did. */
export const survey: ConditionModule<SurveyCondition> = {
  label: "An answer in a survey",
  schema,
  says: (c) => `${c.has ? "answered" : "didn’t answer"} “${c.asks}”${c.answer === null ? "" : ` with “${c.says}”`}`,
  sql: (c) =>
    among(
      c.has,
      `SELECT person_id FROM survey_answer WHERE lesson_id = ? AND block = ? AND ${c.answer === null ? "JSON_EXISTS(answers, ?)" : "JSON_CONTAINS(answers, ?, ?)"}`,
      [c.lesson, c.block, ...(c.answer === null ? [] : [String(c.answer)]), `$."${c.question}"`],
    ),
  refs: (c) => refTo("lesson", c.lesson, "asks for an answer in it"),
  stranger: (c) => !c.has,
}
