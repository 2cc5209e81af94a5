import * as v from "valibot"
import { html } from "../../html"
import { refTo } from "../../reference"
import { type BlockModule, id, line, reference } from "./kind"

const schema = v.object({ id, kind: v.literal("audio"), media: v.nullable(reference), says: line })

/** Something to listen to. */
export const audio: BlockModule<v.InferOutput<typeof schema>> = {
  name: "audio",
  schema,
  inLessons: true,
  fresh: (id) => ({ id, kind: "audio", media: null, says: "" }),
  html(out, b, { mark, context, lesson, editing }) {
    if (lesson) return out.part({ part: "audio", block: b.id })
    const heard = b.media === null ? undefined : context.videos.get(b.media)
    if (heard)
      out.text(
        html`<figure${mark} class="audio">${b.says && html`<figcaption dir="auto">${b.says}</figcaption>`}<audio src="${heard.url}" controls preload="none"></audio></figure>`,
      )
    else if (editing) out.text(html`<p${mark} class="small">Something to listen to comes here.</p>`)
  },
  css: [
    ".audio{margin-block:1.25rem}.audio figcaption{font-weight:600;margin:0 0 .4rem}.audio audio{width:100%;max-width:40rem}",
  ],
  refs: (b) => refTo("media", b.media, "plays it"),
  gap: (b) => (b.media === null ? "an audio file is missing" : null),
  gapSays: "Choose one, or remove it",
  text: (b) => b.says,
  line: (b) => b.says || "audio",
}
