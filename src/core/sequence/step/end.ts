import * as v from "valibot"
import type { SequenceStepModule } from "./kind"

const schema = v.object({ id: v.number(), kind: v.literal("end") })

export const end: SequenceStepModule<v.InferOutput<typeof schema>> = {
  label: "End here",
  schema,
  says: () => "The sequence ends here",
  turn: () => ({ go: "end" }),
  refs: () => [],
  waits: false,
}
