import * as v from "valibot"
import { refTo } from "../../reference"
import type { EffectModule } from "./kind"

const settings = v.object({ tag: v.number() })

export const tagOff: EffectModule<v.InferOutput<typeof settings>> = {
  label: "take a tag off",
  says: (name) => `takes the tag “${name}” off`,
  chooses: "tag",
  settings,
  of: (tag) => ({ tag }),
  happens: (s) => ({ kind: "untagged", about: s.tag }),
  undoneBy: "tag-on",
  refs: (s) => refTo("tag", s.tag, "takes it off"),
}
