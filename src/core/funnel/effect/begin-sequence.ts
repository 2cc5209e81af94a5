import * as v from "valibot"
import { refTo } from "../../reference"
import { checkSequence } from "../preflight-sequence"
import type { EffectModule } from "./kind"

const settings = v.object({ sequence: v.number(), again: v.optional(v.boolean(), false) })

export const beginSequence: EffectModule<v.InferOutput<typeof settings>> = {
  label: "begin a sequence",
  says: (name) => `begins “${name}”`,
  chooses: "sequence",
  settings,
  of: (sequence) => ({ sequence, again: false }),
  again: { label: "Also for somebody who has had it before", set: (s) => ({ ...s, again: true }) },
  refs: (s) => refTo("sequence", s.sequence, "begins it"),
  check(effect, { step, funnel, context }) {
    const { sequence: id } = v.parse(settings, effect.settings)
    const sequence = funnel.sequences.find((q) => q.id === id)
    return sequence ? checkSequence(sequence, { step, funnel, context }) : []
  },
}
