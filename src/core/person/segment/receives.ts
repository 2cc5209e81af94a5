import * as v from "valibot"
import type { ConditionModule } from "./kind"

const schema = v.object({ kind: v.literal("receives"), is: v.boolean() })

/** Whether their first address takes e-mails. */
export const receives: ConditionModule<v.InferOutput<typeof schema>> = {
  label: "Whether they get e-mails",
  schema,
  says: (c) => (c.is ? "get e-mails" : "get no e-mails: they left, or can’t be reached"),
  sql: (c) => ({
    // Those who don't are few: they are found by why they don't.
    sql: `p.id ${c.is ? "NOT " : ""}IN (SELECT a.person_id FROM address a JOIN person x ON x.id = a.person_id AND x.email = a.email WHERE a.suppressed IS NOT NULL)`,
    values: [],
  }),
  refs: () => [],
  stranger: (c) => !c.is,
}
