import * as v from "valibot"
import { type EffectKind, effectKinds, refsOfDeed } from "../effect/list"
import type { SequenceStepModule } from "./kind"

const kinds = Object.keys(effectKinds) as EffectKind[]

const schema = v.pipe(
  v.object({
    id: v.number(),
    kind: v.literal("effect"),
    effect: v.object({ kind: v.picklist(kinds), settings: v.unknown() }),
  }),
  v.transform((s) => ({
    ...s,
    effect: {
      kind: s.effect.kind,
      settings: v.parse(effectKinds[s.effect.kind].settings, s.effect.settings) as object,
    },
  })),
)

export const effect: SequenceStepModule<v.InferOutput<typeof schema>> = {
  label: "Put on a tag, open a course …",
  schema,
  says(s, name) {
    const ref = refsOfDeed(s.effect)[0]
    const says = effectKinds[s.effect.kind].says((ref && name(ref.to, ref.id)) ?? "something that is no longer there")
    return says.charAt(0).toUpperCase() + says.slice(1)
  },
  turn: (s) => ({ go: "do", doing: { effect: s.effect } }),
  refs: (s) => refsOfDeed(s.effect),
  waits: false,
}
