import * as v from "valibot"
import { refTo } from "../../reference"
import { among, type ConditionModule, id, nameWords } from "./kind"

const schema = v.object({ kind: v.literal("lesson"), lesson: id, has: v.boolean() })

export const lesson: ConditionModule<v.InferOutput<typeof schema>> = {
  label: "A lesson",
  schema,
  says: (c, name) => `have ${c.has ? "" : "not "}done the lesson ${nameWords(name("lesson", c.lesson))}`,
  holds: (c, who) => who.done.has(c.lesson) === c.has,
  sql: (c) => among(c.has, "SELECT person_id FROM lesson_done WHERE lesson_id = ?", [c.lesson]),
  refs: (c) => refTo("lesson", c.lesson, "asks who has done it"),
  stranger: (c) => !c.has,
}
