import * as v from "valibot"
import { refTo } from "../../reference"
import { among, type ConditionModule, id, nameWords } from "./kind"

const schema = v.object({
  kind: v.literal("lesson"),
  lesson: id,
  has: v.boolean(),
  /** Opened it, whether or not they have done it. */
  opened: v.optional(v.boolean()),
})

export const lesson: ConditionModule<v.InferOutput<typeof schema>> = {
  label: "A lesson",
  schema,
  says: (c, name) =>
    `have ${c.has ? "" : "not "}${c.opened ? "opened" : "done"} the lesson ${nameWords(name("lesson", c.lesson))}`,
  sql: (c) =>
    c.opened
      ? among(c.has, "SELECT person_id FROM lesson_seen WHERE lesson_id = ?", [c.lesson])
      : among(c.has, "SELECT person_id FROM lesson_done WHERE lesson_id = ?", [c.lesson]),
  refs: (c) => refTo("lesson", c.lesson, "asks who has done it"),
  stranger: (c) => !c.has,
}
