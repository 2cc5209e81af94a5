import * as v from "valibot"
import { among, type ConditionModule } from "./kind"

const schema = v.object({ kind: v.literal("affiliate"), is: v.boolean() })

/** Whether they recommend the school's courses, and can begin or have begun. */
export const affiliate: ConditionModule<v.InferOutput<typeof schema>> = {
  label: "Whether they are an affiliate",
  schema,
  says: (c) => (c.is ? "are affiliates" : "aren’t affiliates"),
  sql: (c) => among(c.is, "SELECT person_id FROM affiliate WHERE state = 'active' AND person_id IS NOT NULL", []),
  refs: () => [],
  stranger: (c) => !c.is,
}
