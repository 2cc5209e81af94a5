import * as v from "valibot"
import { refTo } from "../../reference"
import { type BlockModule, id, reference } from "./kind"

const schema = v.object({
  id,
  kind: v.literal("recommend"),
  /** The offer that is to be recommended. */
  recommends: v.nullable(reference),
  invites: v.optional(v.pipe(v.string(), v.maxLength(300)), ""),
})

/** In a lesson: the learner's own link, words and pictures to recommend an offer, or the way to get them. */
export const recommend: BlockModule<v.InferOutput<typeof schema>> = {
  name: "recommend it",
  schema,
  inLessons: true,
  onlyWhere: "asked",
  fresh: (id) => ({ id, kind: "recommend", recommends: null, invites: "" }),
  html: (out, b) => out.part({ part: "recommend", block: b.id }),
  refs: (b) => refTo("offer", b.recommends, "asks to recommend it"),
  gap: (b) => (b.recommends === null ? "what is to be recommended is missing" : null),
  gapSays: "Choose an offer, or remove it",
  text: (b) => b.invites,
  line: (b) => b.invites || "recommend it",
}
