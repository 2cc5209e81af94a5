import * as v from "valibot"
import { html } from "../../html"
import { isPlaceholder, placeholders } from "../placeholder"
import { type BlockModule, id, line } from "./kind"

const schema = v.object({ id, kind: v.literal("list"), items: v.pipe(v.array(line), v.maxLength(40)) })

/** A list of points. */
export const points: BlockModule<v.InferOutput<typeof schema>> = {
  name: "list",
  schema,
  inFirst: "words",
  inLessons: true,
  fresh: (id) => ({ id, kind: "list", items: [placeholders.firstPoint, placeholders.secondPoint] }),
  html: (out, b, { mark, says }) =>
    out.text(html`<ul${mark}>${b.items.map((i, n) => html`<li${says(`items.${n}`)} dir="auto">${i}</li>`)}</ul>`),
  mail: (b, { mark, says }) =>
    html`<ul${mark}>${b.items.map((i, n) => html`<li${says(`items.${n}`)} dir="auto">${i}</li>`)}</ul>`,
  refs: () => [],
  gap: (b) => (b.items.some((i) => isPlaceholder(i)) ? "a list on it is still to be written" : null),
  line: (b) => b.items[0] ?? "empty",
}
