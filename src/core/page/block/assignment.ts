import * as v from "valibot"
import { type BlockModule, id } from "./kind"

const schema = v.object({
  id,
  kind: v.literal("assignment"),
  asks: v.pipe(v.string(), v.maxLength(4_000)),
  /** Whether a file may be handed in with the text. */
  file: v.optional(v.boolean(), false),
})

/** Something to do and hand in, as text or as a file; the teacher accepts it, or asks for it again. */
export const assignment: BlockModule<v.InferOutput<typeof schema>> = {
  name: "assignment",
  schema,
  inLessons: true,
  onlyWhere: "asked",
  fresh: (id) => ({ id, kind: "assignment", asks: "", file: false }),
  html: (out, b) => out.part({ part: "assignment", block: b.id }),
  refs: () => [],
  gap: (b) => (b.asks.trim() ? null : "an assignment asks for nothing"),
  text: (b) => b.asks,
  line: (b) => b.asks.trim().slice(0, 60) || "assignment",
}
