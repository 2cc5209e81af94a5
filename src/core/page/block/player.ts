import * as v from "valibot"
import { chapters } from "../../course/chapters"
import { refTo } from "../../reference"
import { type BlockModule, id, line, reference } from "./kind"

const schema = v.object({
  id,
  kind: v.literal("player"),
  media: v.nullable(reference),
  says: line,
  /** A file of captions, WebVTT. */
  captions: v.nullable(reference),
  /** Whether the video may be taken away. */
  download: v.boolean(),
  chapters: v.optional(chapters, []),
})

/** A video to be watched: it waits to be started, knows where it was left, and can make its lesson done. */
export const player: BlockModule<v.InferOutput<typeof schema>> = {
  name: "video",
  schema,
  inLessons: true,
  onlyWhere: "asked",
  fresh: (id) => ({ id, kind: "player", media: null, says: "", captions: null, download: false, chapters: [] }),
  html: (out, b) => out.part({ part: "player", block: b.id }),
  refs: (b) => [...refTo("media", b.media, "plays it"), ...refTo("media", b.captions, "shows it as captions")],
  gap: (b) => (b.media === null ? "a video is missing" : null),
  gapSays: "Choose one, or remove it",
  line: (b) => b.says || "video",
}
