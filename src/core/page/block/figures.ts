import * as v from "valibot"
import { html } from "../../html"
import { refTo } from "../../reference"
import { figureNames, figuresHtml } from "../figures"
import { type BlockModule, id, reference } from "./kind"

const schema = v.object({
  id,
  kind: v.literal("figures"),
  course: v.nullable(reference),
  show: v.pipe(v.array(v.picklist(figureNames)), v.maxLength(figureNames.length)),
})

/** How a course is referred to where a page says who joined it. */
export const showsNames = "shows who joined it"

/** Numbers that are counted, never typed; what is small isn't shown. */
export const figures: BlockModule<v.InferOutput<typeof schema>> = {
  name: "numbers that are true",
  schema,
  fresh: (id) => ({ id, kind: "figures", course: null, show: ["learners", "lessons", "hours"] }),
  html(out, b, { mark, context, editing }) {
    if (b.course !== null && context.release !== 0) return out.part({ part: "figures", course: b.course, show: b.show })
    const shown = figuresHtml(context.figures?.[b.course ?? 0], b.show)
    if (editing)
      out.text(
        html`<div${mark}>${shown.text ? shown : html`<p class="small">Numbers come here, once they are large enough to say.</p>`}</div>`,
      )
  },
  css: [
    ".figures{display:flex;flex-wrap:wrap;gap:1rem 3rem;margin-block:1.5rem;padding:0}.figures div{display:flex;flex-direction:column-reverse}.figures dd{margin:0;font:var(--wd) 2.5rem/1.1 var(--fd);font-variant-numeric:tabular-nums}.figures dt,.joined{color:var(--s);font-size:1rem}",
  ],
  unseen: true,
  refs: (b) => refTo("course", b.course, b.show.includes("names") ? showsNames : "shows its numbers"),
  gap: (b) => (b.course === null ? "its numbers are of no course" : null),
  line: () => "Numbers",
}
