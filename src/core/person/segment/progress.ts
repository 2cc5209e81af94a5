import * as v from "valibot"
import { refTo } from "../../reference"
import { course } from "./course"
import { type ConditionModule, id, nameWords, percent } from "./kind"

const schema = v.object({ kind: v.literal("progress"), course: id, from: percent, to: percent })

/** Is in a course, and has done from so many to so many percent of its live lessons. */
export const progress: ConditionModule<v.InferOutput<typeof schema>> = {
  label: "How far in a course",
  schema,
  says: (c, name) => `have done ${c.from} to ${c.to} % of ${nameWords(name("course", c.course))}`,
  sql(c, now, segment) {
    const is = course.sql({ kind: "course", course: c.course, has: true }, now, segment)
    return {
      sql: `(${is.sql} AND COALESCE((SELECT FLOOR(100 * COUNT(d.lesson_id) / COUNT(*)) FROM lesson l LEFT JOIN lesson_done d ON d.lesson_id = l.id AND d.person_id = p.id WHERE l.course_id = ? AND l.state = 'live'), 0) BETWEEN ? AND ?)`,
      values: [...is.values, c.course, c.from, c.to],
    }
  },
  refs: (c) => refTo("course", c.course, "asks who is in it"),
  stranger: () => false,
}
