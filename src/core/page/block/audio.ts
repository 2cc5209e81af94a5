import * as v from "valibot"
import { refTo } from "../../reference"
import { type BlockModule, id, line, reference } from "./kind"

const schema = v.object({ id, kind: v.literal("audio"), media: v.nullable(reference), says: line })

/** Something to listen to. */
export const audio: BlockModule<v.InferOutput<typeof schema>> = {
  name: "audio",
  schema,
  inLessons: true,
  onlyWhere: "asked",
  fresh: (id) => ({ id, kind: "audio", media: null, says: "" }),
  html: (out, b) => out.part({ part: "audio", block: b.id }),
  refs: (b) => refTo("media", b.media, "plays it"),
  gap: (b) => (b.media === null ? "an audio file is missing" : null),
  gapSays: "Choose one, or remove it",
  text: (b) => b.says,
  line: (b) => b.says || "audio",
}
