import * as v from "valibot"
import { html } from "../../html"
import { refTo } from "../../reference"
import { quotesHtml } from "../quotes"
import { type BlockModule, id, line, reference } from "./kind"

const schema = v.object({
  id,
  kind: v.literal("quotes"),
  course: v.nullable(reference),
  title: v.optional(line, ""),
  most: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(12)),
})

/** What learners say of a course: only what they agreed to have shown, and the school chose. Nothing while there is none. */
export const quotes: BlockModule<v.InferOutput<typeof schema>> = {
  name: "learners’ words",
  schema,
  wide: true,
  fresh: (id) => ({ id, kind: "quotes", course: null, title: "From those who did it", most: 3 }),
  html(out, b, { mark, context, editing, says }) {
    if (b.course === null || context.release === 0) {
      const shown = quotesHtml(context.quotes?.[b.course ?? 0] ?? [], b.most, b.title, says("title"))
      if (editing)
        out.text(
          html`<div${mark}>${shown.text ? shown : html`<p class="small">Learners’ words come here, once some are chosen.</p>`}</div>`,
        )
    } else out.part({ part: "quotes", course: b.course, most: b.most, title: b.title })
  },
  css: [
    ".quotes{list-style:none;padding:0;max-width:none!important;display:grid;gap:1.25rem;grid-template-columns:repeat(auto-fit,minmax(min(17rem,100%),1fr))}.quotes>li{margin:0;padding:1.5rem;background:var(--c);border-radius:var(--r)}.quotes blockquote{margin:0 0 1rem;font:var(--wd) 1.25rem/1.35 var(--fd)}.quotes figure{margin:0}.quotes figcaption{display:flex;gap:.7rem;align-items:center;color:var(--s);font-size:1rem}.quotes img{width:2.5rem;height:2.5rem;object-fit:cover;border-radius:50%;margin:0}",
  ],
  unseen: true,
  refs: (b) => refTo("course", b.course, "shows what learners say of it"),
  gap: (b) => (b.course === null ? "its learners’ words are of no course" : null),
  line: () => "Learners’ words",
}
