import * as v from "valibot"
import type { SequenceStepModule } from "./kind"

const schema = v.object({
  id: v.number(),
  kind: v.literal("tell"),
  /** Members of the team, by the numbers of their accounts. */
  accounts: v.pipe(v.array(v.number()), v.maxLength(50)),
  says: v.pipe(v.string(), v.trim(), v.maxLength(300)),
})

export const tell: SequenceStepModule<v.InferOutput<typeof schema>> = {
  label: "Tell the team",
  schema,
  says: (s) => `Tell ${s.accounts.length === 1 ? "one of the team" : `${s.accounts.length || "nobody"} of the team`}`,
  turn: (s) => ({ go: "do", doing: { tell: { accounts: s.accounts, says: s.says } } }),
  refs: () => [],
  waits: false,
}
