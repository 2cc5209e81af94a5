import * as v from "valibot"
import { among, type ConditionModule, day, days, daysWords } from "./kind"

const schema = v.object({ kind: v.literal("clicked"), has: v.boolean(), days })

export const clicked: ConditionModule<v.InferOutput<typeof schema>> = {
  label: "Links in e-mails",
  schema,
  says: (c) => `have ${c.has ? "" : "not "}followed a link in an e-mail in the last ${daysWords(c.days)}`,
  sql: (c, now) =>
    among(c.has, "SELECT person_id FROM fact WHERE kind = 'clicked' AND at >= ? AND person_id IS NOT NULL", [
      new Date(now - c.days * day),
    ]),
  refs: () => [],
  stranger: (c) => !c.has,
}
