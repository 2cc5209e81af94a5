import * as v from "valibot"
import type { ConditionModule } from "./kind"

const schema = v.object({ kind: v.literal("signed-in"), is: v.boolean() })

/** Whether the school knows who they are: everybody it knows, and nobody else. */
export const signedIn: ConditionModule<v.InferOutput<typeof schema>> = {
  label: "Signed in or not",
  schema,
  says: (c) => (c.is ? "are signed in" : "aren’t signed in"),
  sql: (c) => ({ sql: c.is ? "TRUE" : "FALSE", values: [] }),
  refs: () => [],
  stranger: (c) => !c.is,
}
