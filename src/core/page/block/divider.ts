import * as v from "valibot"
import { html } from "../../html"
import { type BlockModule, id } from "./kind"

const schema = v.object({ id, kind: v.literal("divider") })

/** A fine line between what comes before and what comes after. */
export const divider: BlockModule<v.InferOutput<typeof schema>> = {
  name: "divider",
  schema,
  inLessons: true,
  amongFiles: "beside",
  fresh: (id) => ({ id, kind: "divider" }),
  html: (out, _, { mark }) => out.text(html`<hr${mark}>`),
  mail: (_, { mark }) => html`<hr${mark}>`,
  css: ["hr{border:0;border-top:1px solid var(--l);margin-block:2.25rem}"],
  refs: () => [],
  gap: () => null,
  line: () => "A line across",
}
