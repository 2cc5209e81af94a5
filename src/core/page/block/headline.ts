import * as v from "valibot"
import { html } from "../../html"
import { isPlaceholder, placeholders } from "../placeholder"
import { type BlockModule, id, line } from "./kind"

const schema = v.object({ id, kind: v.literal("headline"), text: line, above: v.optional(line) })

/** The first on a page is its title, the others stand over a part of it. */
export const headline: BlockModule<v.InferOutput<typeof schema>> = {
  name: "headline",
  schema,
  inFirst: "title",
  inLessons: true,
  amongFiles: "beside",
  fresh: (id) => ({ id, kind: "headline", text: placeholders.headline }),
  html(out, b, { state, mark, says }) {
    const tag = state.headlines++ === 0 ? "h1" : "h2"
    const above = b.above?.trim() ? html`<p class="above"${says("above")} dir="auto">${b.above}</p>` : ""
    out.text(
      html`${above}<${tag}${mark}${says("text")}${tag === "h1" && b.text.length > 44 ? html` class="long"` : ""} dir="auto">${b.text}</${tag}>`,
    )
  },
  mail: (b, { mark, says }) =>
    html`${b.above?.trim() ? html`<p class="above"${says("above")}>${b.above}</p>` : ""}<h2${mark}${says("text")} dir="auto">${b.text}</h2>`,
  refs: () => [],
  gap: (b) =>
    !isPlaceholder(b.text)
      ? null
      : b.text.trim()
        ? `its headline still says “${b.text.trim()}”`
        : "a headline is empty",
  text: (b) => b.text,
  line: (b) => b.text,
}
