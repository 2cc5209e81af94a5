import * as v from "valibot"
import type { ConditionModule } from "./kind"

const schema = v.object({
  kind: v.literal("zone"),
  /** Of the tz database: "Europe/Oslo". */
  zone: v.pipe(v.string(), v.trim(), v.maxLength(64)),
  is: v.boolean(),
})

export const zone: ConditionModule<v.InferOutput<typeof schema>> = {
  label: "Their time zone",
  schema,
  says: (c) => `${c.is ? "live" : "don’t live"} in the time zone ${c.zone.replaceAll("_", " ")}`,
  sql: (c) => ({ sql: `p.zone ${c.is ? "=" : "<>"} ?`, values: [c.zone] }),
  refs: () => [],
  stranger: (c) => !c.is,
}
