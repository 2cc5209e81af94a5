import * as v from "valibot"
import { found } from "../../finding"
import { html } from "../../html"
import { refTo } from "../../reference"
import { words } from "../../words/en"
import { pictureTag } from "../picture"
import { type BlockModule, id, line, reference } from "./kind"

const schema = v.object({
  id,
  kind: v.literal("picture"),
  media: v.nullable(reference),
  alt: line,
  decorative: v.optional(v.boolean()),
})

export const picture: BlockModule<v.InferOutput<typeof schema>> = {
  name: "picture",
  schema,
  inFirst: "show",
  inLessons: true,
  amongFiles: "beside",
  fresh: (id) => ({ id, kind: "picture", media: null, alt: "" }),
  html(out, b, { context, mark, state, editing }) {
    const shown = b.media === null ? undefined : context.pictures.get(b.media)
    if (shown)
      out.text(
        pictureTag(shown, {
          alt: b.decorative ? "" : b.alt,
          as: state.first ?? "text",
          first: state.first !== null,
          mark,
        }),
      )
    else if (editing) out.text(html`<p${mark} class="small">${words.page.pictureMissing}</p>`)
  },
  mail: (b, { picture, mark, editing }) =>
    b.media === null && editing
      ? html`<p${mark}>${words.page.pictureMissing}</p>`
      : html`<div${mark}>${picture(b.media, b.decorative ? "" : b.alt)}</div>`,
  refs: (b) => refTo("media", b.media, "shows it"),
  gap: (b) => (b.media === null ? "a picture on it is missing" : null),
  gapSays: "Choose one, or remove it",
  check: (b, { step }) =>
    b.media === null || b.alt.trim() || b.decorative
      ? []
      : [
          found(
            "picture-without-words",
            step,
            { step: step.name },
            { go: "page", step: step.id, block: b.id },
            { weight: "advice" },
          ),
        ],
  line: (b) => b.alt || "picture",
  blind: (b) => b.media !== null && !b.alt.trim() && !b.decorative,
}
