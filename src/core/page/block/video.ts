import type { VideoObject } from "schema-dts"
import * as v from "valibot"
import { chapters } from "../../course/chapters"
import { type Html, html } from "../../html"
import { refTo } from "../../reference"
import { words } from "../../words/en"
import { originHere } from "../data"
import { chapterList, chaptersCss, filmSources } from "../film"
import { jpegOf, narrowed, narrower } from "../picture"
import { type BlockModule, id, line, reference } from "./kind"

const schema = v.object({
  id,
  kind: v.literal("video"),
  media: v.nullable(reference),
  says: line,
  /** Not given, as in pages from before: by itself. */
  plays: v.optional(v.picklist(["asked", "by-itself"])),
  /** A picture that stands there until it plays. */
  poster: v.optional(v.nullable(reference)),
  /** Its captions, a WebVTT file. */
  captions: v.optional(v.nullable(reference)),
  chapters: v.optional(chapters),
})

/** A film: once somebody asks for it, and nothing of it is fetched before; or by itself, without sound, as a cover. */
export const video: BlockModule<v.InferOutput<typeof schema>> = {
  name: "video",
  schema,
  inFirst: "show",
  fresh: (id) => ({ id, kind: "video", media: null, says: "", plays: "asked" }),
  html(out, b, { context, mark, editing }) {
    const shown = b.media === null ? undefined : context.videos.get(b.media)
    if (shown) {
      const poster = b.poster ? context.pictures.get(b.poster) : undefined
      const captions = b.captions ? context.videos.get(b.captions) : undefined
      const how = b.plays === "asked" ? html` preload="none"` : html` autoplay muted loop`
      const size =
        poster &&
        html` poster="${poster.width > narrower[1] ? narrowed(poster.url, narrower[1]) : poster.url}" width="${poster.width}" height="${poster.height}"`
      const chapters = chapterList(b.chapters ?? [], shown.url)
      const film = (mark: Html | "") =>
        html`<video${mark}${how}${size} playsinline controls aria-label="${b.says}">${filmSources(shown.url)}${captions && html`<track kind="captions" src="${captions.url}" srclang="en" label="${words.page.captions}" default>`}</video>`
      out.text(chapters ? html`<div${mark}>${film("")}${chapters}</div>` : film(mark))
    } else if (editing) out.text(html`<p${mark} class="small">${words.page.videoMissing}</p>`)
  },
  refs: (b) => [
    ...refTo("media", b.media, "plays it"),
    ...refTo("media", b.poster, "shows it until it plays"),
    ...refTo("media", b.captions, "shows it as captions"),
  ],
  program: (b) => (b.chapters?.length ? "chapters" : null),
  css: ["video{background:#000;aspect-ratio:16/9;width:100%}", chaptersCss],
  data(b, { videos, pictures }) {
    const shown = b.media === null ? undefined : videos.get(b.media)
    const poster = b.poster ? pictures.get(b.poster) : undefined
    if (!shown?.at || !poster || !b.says.trim() || b.plays !== "asked") return null
    return {
      "@type": "VideoObject",
      name: b.says,
      uploadDate: shown.at,
      thumbnailUrl: originHere + jpegOf(poster).url,
      contentUrl: originHere + shown.url,
    } satisfies VideoObject
  },
  gap: (b) => (b.media === null ? "a video on it is missing" : null),
  gapSays: "Choose one, or remove it",
  line: (b) => b.says || "video",
}
