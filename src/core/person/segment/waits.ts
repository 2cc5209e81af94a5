import * as v from "valibot"
import { refTo } from "../../reference"
import { among, type ConditionModule, id, nameWords } from "./kind"

const schema = v.object({ kind: v.literal("waits"), course: id, has: v.boolean() })

/** Asked to be told when a course opens, and hasn't been told since. */
export const waits: ConditionModule<v.InferOutput<typeof schema>> = {
  label: "A waiting list",
  schema,
  says: (c, name) => `${c.has ? "wait" : "don’t wait"} for ${nameWords(name("course", c.course))}`,
  sql: (c) => among(c.has, "SELECT person_id FROM waiting WHERE course_id = ? AND told_at IS NULL", [c.course]),
  refs: (c) => refTo("course", c.course, "asks who waits for it"),
  stranger: (c) => !c.has,
}
