import * as v from "valibot"
import { among, type ConditionModule, day, days, daysWords } from "./kind"

const schema = v.object({ kind: v.literal("here"), has: v.boolean(), days })

export const here: ConditionModule<v.InferOutput<typeof schema>> = {
  label: "When they last learned",
  schema,
  says: (c) => `have ${c.has ? "" : "not "}looked at a lesson in the last ${daysWords(c.days)}`,
  sql: (c, now) => among(c.has, "SELECT person_id FROM lesson_seen WHERE last_at >= ?", [new Date(now - c.days * day)]),
  refs: () => [],
  stranger: (c) => !c.has,
}
