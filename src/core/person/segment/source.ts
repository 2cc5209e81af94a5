import * as v from "valibot"
import type { ConditionModule } from "./kind"

const schema = v.object({
  kind: v.literal("source"),
  source: v.pipe(v.string(), v.trim(), v.maxLength(80)),
  is: v.boolean(),
})

export const source: ConditionModule<v.InferOutput<typeof schema>> = {
  label: "Where they came from",
  schema,
  says: (c) => `${c.is ? "came" : "didn’t come"} from “${c.source}”`,
  // Its name as it is: the collation of the column takes letters and accents for one another.
  sql: (c) => ({ sql: `p.source COLLATE utf8mb4_bin ${c.is ? "=" : "<>"} ?`, values: [c.source] }),
  refs: () => [],
  stranger: (c) => !c.is,
}
