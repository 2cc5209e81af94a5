import * as v from "valibot"
import type { ConditionModule } from "./kind"

const schema = v.object({ kind: v.literal("receives"), is: v.boolean() })

/** Whether their first address takes e-mails. */
export const receives: ConditionModule<v.InferOutput<typeof schema>> = {
  label: "Whether they get e-mails",
  schema,
  says: (c) => (c.is ? "get e-mails" : "get no e-mails: they left, or can’t be reached"),
  holds: (c, who) => who.receives === c.is,
  sql: (c) => ({
    sql: `${c.is ? "" : "NOT "}EXISTS (SELECT 1 FROM address a WHERE a.person_id = p.id AND a.email = p.email AND a.suppressed IS NULL)`,
    values: [],
  }),
  refs: () => [],
  stranger: (c) => !c.is,
}
