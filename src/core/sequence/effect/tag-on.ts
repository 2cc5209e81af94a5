import * as v from "valibot"
import { refTo } from "../../reference"
import type { EffectModule } from "./kind"

const settings = v.object({ tag: v.number() })

export const tagOn: EffectModule<v.InferOutput<typeof settings>> = {
  label: "put a tag on",
  says: (name) => `tags “${name}”`,
  chooses: "tag",
  settings,
  of: (tag) => ({ tag }),
  happens: (s) => ({ kind: "tagged", about: s.tag }),
  undoneBy: "tag-off",
  refs: (s) => refTo("tag", s.tag, "puts it on"),
}
