import * as v from "valibot"
import { refTo } from "../../reference"
import { type BlockModule, id, line, reference } from "./kind"

const schema = v.object({ id, kind: v.literal("download"), media: v.nullable(reference), says: line })

/** A file to take away. */
export const download: BlockModule<v.InferOutput<typeof schema>> = {
  name: "file",
  schema,
  inLessons: true,
  amongFiles: "file",
  onlyWhere: "asked",
  fresh: (id) => ({ id, kind: "download", media: null, says: "" }),
  html: (out, b) => out.part({ part: "download", block: b.id }),
  refs: (b) => refTo("media", b.media, "gives it"),
  gap: (b) => (b.media === null ? "a file is missing" : null),
  gapSays: "Choose one, or remove it",
  text: (b) => b.says,
  line: (b) => b.says || "file",
}
