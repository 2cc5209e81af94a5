import * as v from "valibot"
import { type ConditionModule, day, days, daysWords } from "./kind"

const schema = v.object({ kind: v.literal("joined"), within: v.boolean(), days })

export const joined: ConditionModule<v.InferOutput<typeof schema>> = {
  label: "When they joined",
  schema,
  says: (c) => (c.within ? `joined in the last ${daysWords(c.days)}` : `joined more than ${daysWords(c.days)} ago`),
  sql: (c, now) => ({ sql: `p.joined_at ${c.within ? ">=" : "<"} ?`, values: [new Date(now - c.days * day)] }),
  refs: () => [],
  stranger: () => false,
}
