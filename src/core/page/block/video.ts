import * as v from "valibot"
import { html } from "../../html"
import { refTo } from "../../reference"
import { words } from "../../words/en"
import { type BlockModule, id, line, reference } from "./kind"

const schema = v.object({ id, kind: v.literal("video"), media: v.nullable(reference), says: line })

/** Plays by itself, without sound, until somebody turns it on. */
export const video: BlockModule<v.InferOutput<typeof schema>> = {
  name: "video",
  schema,
  inFirst: "show",
  fresh: (id) => ({ id, kind: "video", media: null, says: "" }),
  html(out, b, { context, mark, editing }) {
    const shown = b.media === null ? undefined : context.videos.get(b.media)
    if (shown)
      out.text(
        html`<video${mark} src="${shown.url}" autoplay muted loop playsinline controls aria-label="${b.says}"></video>`,
      )
    else if (editing) out.text(html`<p${mark} class="small">${words.page.videoMissing}</p>`)
  },
  refs: (b) => refTo("media", b.media, "plays it"),
  gap: (b) => (b.media === null ? "a video on it is missing" : null),
  gapSays: "Choose one, or remove it",
  line: (b) => b.says || "video",
}
