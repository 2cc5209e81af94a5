import * as v from "valibot"
import { html } from "../../html"
import { refTo } from "../../reference"
import { type BlockModule, id, reference } from "./kind"

const schema = v.object({ id, kind: v.literal("kept"), section: v.nullable(reference) })

/** A section that is written once and stands on many pages. What it holds is put in its place before a page is written. */
export const kept: BlockModule<v.InferOutput<typeof schema>> = {
  name: "kept section",
  schema,
  inLessons: true,
  isKept: true,
  fresh: (id) => ({ id, kind: "kept", section: null }),
  html(out, _, { mark, editing }) {
    if (editing) out.text(html`<p${mark} class="small">A kept section comes here.</p>`)
  },
  refs: (b) => refTo("kept_section", b.section, "holds it"),
  gap: (b) => (b.section === null ? "which kept section it is isn’t said" : null),
  unseen: true,
  line: () => "Kept section",
}
