import * as v from "valibot"
import { html, raw } from "../../html"
import { refTo } from "../../reference"
import { deadLinks, linked, linkRefs } from "../linked"
import { pictureTag } from "../picture"
import { isPlaceholder, placeholders } from "../placeholder"
import { type BlockModule, id, line, reference } from "./kind"

const schema = v.object({
  id,
  kind: v.literal("aside"),
  media: v.nullable(reference),
  alt: line,
  /** It says nothing that isn't said beside it. */
  decorative: v.optional(v.boolean()),
  html: v.pipe(v.string(), v.maxLength(20_000)),
  side: v.picklist(["start", "end"]),
})

/** A picture, and a text beside it. */
export const aside: BlockModule<v.InferOutput<typeof schema>> = {
  name: "picture and text",
  schema,
  fresh: (id) => ({ id, kind: "aside", media: null, alt: "", html: `<p>${placeholders.text}</p>`, side: "start" }),
  html(out, b, at) {
    const { mark, context, rich } = at
    const shown = b.media === null ? undefined : context.pictures.get(b.media)
    const picture = shown ? pictureTag(shown, { alt: b.decorative ? "" : b.alt, as: "half" }) : ""
    out.text(
      html`<div${mark} class="aside ${b.side}">${picture}<div${rich("html")} dir="auto">${raw(linked(b.html, at))}</div></div>`,
    )
  },
  css: [
    ".aside{margin-block:1.5rem}@media(min-width:44rem){.aside:has(img){display:grid;grid-template-columns:1fr 1fr;gap:clamp(1.5rem,4vw,3.5rem);align-items:center}.aside.end img{order:1}.aside img{margin:0;width:100%}}",
  ],
  refs: (b) => [...refTo("media", b.media, "shows it"), ...linkRefs(b.html)],
  check: deadLinks,
  gap: (b) =>
    b.media === null
      ? "a picture on it is missing"
      : isPlaceholder(b.html)
        ? "a text on it is still to be written"
        : null,
  clean: (b, rich) => ({ ...b, html: rich(b.html) }),
  line: (b) => b.alt || "picture and text",
  blind: (b) => b.media !== null && !b.alt.trim() && !b.decorative,
}
