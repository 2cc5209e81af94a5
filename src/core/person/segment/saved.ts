import * as v from "valibot"
import { refTo } from "../../reference"
import { type ConditionModule, id, nameWords } from "./kind"

const schema = v.object({ kind: v.literal("segment"), segment: id, is: v.boolean() })

/** Is in a segment that is kept by its name, as it asks now. */
export const saved: ConditionModule<v.InferOutput<typeof schema>> = {
  label: "A segment",
  schema,
  says: (c, name) => `are ${c.is ? "" : "not "}in the segment ${nameWords(name("segment", c.segment))}`,
  sql(c, _, segment) {
    const of = segment(c.segment)
    return c.is ? of : { sql: `NOT ${of.sql}`, values: of.values }
  },
  refs: (c) => refTo("segment", c.segment, "asks who is in it"),
  stranger: (c) => !c.is,
}
