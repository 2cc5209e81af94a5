import * as v from "valibot"
import type { SequenceStepModule } from "./kind"

const schema = v.object({
  id: v.number(),
  kind: v.literal("send"),
  /** The number of the e-mail. */
  mail: v.number(),
})

export const send: SequenceStepModule<v.InferOutput<typeof schema>> = {
  label: "Send an e-mail",
  schema,
  says: () => "Send",
  turn: (s) => ({ go: "send", mail: s.mail }),
  refs: () => [],
  waits: false,
}
