import * as v from "valibot"
import { refTo } from "../../reference"
import { among, type ConditionModule, id, nameWords } from "./kind"

const schema = v.object({ kind: v.literal("course"), course: id, has: v.boolean() })

/** May open something of it now. */
export const course: ConditionModule<v.InferOutput<typeof schema>> = {
  label: "A course",
  schema,
  says: (c, name) => `${c.has ? "are" : "aren’t"} in ${nameWords(name("course", c.course))}`,
  sql(c, now) {
    const at = new Date(now)
    return among(
      c.has,
      "SELECT person_id FROM admission WHERE course_id = ? AND from_at <= ? AND (until_at IS NULL OR until_at > ?)",
      [c.course, at, at],
    )
  },
  refs: (c) => refTo("course", c.course, "asks who is in it"),
  stranger: (c) => !c.has,
}
