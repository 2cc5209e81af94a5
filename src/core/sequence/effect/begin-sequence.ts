import * as v from "valibot"
import { refTo } from "../../reference"
import type { Again, EffectModule } from "./kind"

/**
 * Whether it begins for somebody who has had it before: never, once that has ended, or at once (what they are in is ended).
 * Before there were three of them it was whether.
 */
const again = v.optional(
  v.union([
    v.picklist(["no", "ended", "at-once"]),
    v.pipe(
      v.boolean(),
      v.transform((is): Again => (is ? "ended" : "no")),
    ),
  ]),
  "no",
)
const settings = v.object({ sequence: v.number(), again })

export const beginSequence: EffectModule<v.InferOutput<typeof settings>> = {
  label: "begin a sequence",
  says: (name) => `begins “${name}”`,
  chooses: "sequence",
  settings,
  of: (sequence) => ({ sequence, again: "no" }),
  again: {
    label: "For somebody who has had it before",
    choices: { no: "not again", ended: "again, once it has ended", "at-once": "again at once, from its beginning" },
    set: (s, chosen) => ({ ...s, again: chosen }),
  },
  refs: (s) => refTo("sequence", s.sequence, "begins it"),
}
