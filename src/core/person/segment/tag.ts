import * as v from "valibot"
import { refTo } from "../../reference"
import { among, type ConditionModule, id, nameWords } from "./kind"

const schema = v.object({ kind: v.literal("tag"), tag: id, has: v.boolean() })

export const tag: ConditionModule<v.InferOutput<typeof schema>> = {
  label: "A tag",
  schema,
  says: (c, name) => `${c.has ? "have" : "don’t have"} the tag ${nameWords(name("tag", c.tag))}`,
  sql: (c) => among(c.has, "SELECT person_id FROM person_tag WHERE tag_id = ?", [c.tag]),
  refs: (c) => refTo("tag", c.tag, "asks who has it"),
  stranger: (c) => !c.has,
}
