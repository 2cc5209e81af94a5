import * as v from "valibot"
import { refTo } from "../../reference"
import type { EffectModule } from "./kind"

const settings = v.object({ sequence: v.number() })

export const endSequence: EffectModule<v.InferOutput<typeof settings>> = {
  label: "end a sequence",
  says: (name) => `ends “${name}”`,
  chooses: "sequence",
  settings,
  of: (sequence) => ({ sequence }),
  happens: (s) => ({ kind: "sequence-ended", about: s.sequence }),
  refs: (s) => refTo("sequence", s.sequence, "ends it"),
}
