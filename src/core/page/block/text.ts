import * as v from "valibot"
import { html, raw } from "../../html"
import { deadLinks, linked, linkRefs } from "../linked"
import { isPlaceholder, placeholders } from "../placeholder"
import { type BlockModule, id } from "./kind"

const schema = v.object({ id, kind: v.literal("text"), html: v.pipe(v.string(), v.maxLength(60_000)) })

/** Without marks, and with letters in place of their entities. */
const plain = (html: string) =>
  html
    .replace(/<\/(p|li|blockquote|h\d)>|<br>/g, " ")
    .replace(/<[^>]*>/g, "")
    .replace(/&nbsp;/g, " ")
    .replace(/&lt;/g, "<")
    .replace(/&gt;/g, ">")
    .replace(/&amp;/g, "&")
    .replace(/\s+/g, " ")
    .trim()

/** Rich text, sanitised on its way in. */
export const text: BlockModule<v.InferOutput<typeof schema>> = {
  name: "text",
  schema,
  inFirst: "words",
  inLessons: true,
  amongFiles: "beside",
  fresh: (id) => ({ id, kind: "text", html: html`<p>${placeholders.text}</p>`.text }),
  html: (out, b, at) => out.text(html`<div${at.mark}${at.rich("html")} dir="auto">${raw(linked(b.html, at))}</div>`),
  mail: (b, { mark, rich, editing }) =>
    editing ? html`<div${mark}${rich("html")} dir="auto">${raw(b.html)}</div>` : raw(b.html),
  refs: (b) => linkRefs(b.html),
  check: deadLinks,
  gap: (b) => (isPlaceholder(b.html) ? "a text on it is still to be written" : null),
  text: (b) => plain(b.html),
  clean: (b, rich) => ({ ...b, html: rich(b.html) }),
  line: (b) =>
    b.html
      .replace(/<[^>]*>/g, " ")
      .trim()
      .slice(0, 60) || "empty",
}
