import * as v from "valibot"
import { html } from "../../html"
import { isPlaceholder } from "../placeholder"
import { type BlockModule, id, items, line, long } from "./kind"

const schema = v.object({ id, kind: v.literal("numbered"), items: items({ title: line, says: long }, 12) })

/** Steps 1, 2, 3. */
export const numbered: BlockModule<v.InferOutput<typeof schema>> = {
  name: "steps 1, 2, 3",
  schema,
  wide: true,
  fresh: (id) => ({ id, kind: "numbered", items: ["", "", ""].map((title) => ({ title, says: "" })) }),
  html(out, b, { mark, context, says }) {
    const shown = b.items.filter((i) => i.title.trim() || context.release === 0)
    if (!shown.length) return
    out.text(
      html`<ol${mark} class="numbered">${shown.map((i) => html`<li><p class="title"${says(`items.${b.items.indexOf(i)}.title`)} dir="auto">${i.title}</p>${i.says.trim() ? html`<p${says(`items.${b.items.indexOf(i)}.says`)} dir="auto">${i.says}</p>` : ""}</li>`)}</ol>`,
    )
  },
  css: [
    ".numbered{margin-block:1.75rem;list-style:none;padding:0;max-width:none!important;counter-reset:n;display:grid;gap:1.75rem 2.5rem;grid-template-columns:repeat(auto-fit,minmax(min(15rem,100%),1fr))}.numbered li{counter-increment:n;margin:0}.numbered li::before{content:counter(n);display:block;font:var(--wd) 2.4rem/1.1 var(--fd);color:var(--e);margin-bottom:.5rem}.numbered p{margin:0}",
  ],
  unseen: true,
  refs: () => [],
  gap: (b) => (b.items.some((i) => isPlaceholder(i.title)) ? "a step of its list waits for its words" : null),
  line: (b) => b.items[0]?.title || "steps",
}
