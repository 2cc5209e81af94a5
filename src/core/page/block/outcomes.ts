import * as v from "valibot"
import { html } from "../../html"
import { refTo } from "../../reference"
import { titled } from "../writer"
import { type BlockModule, id, line, reference } from "./kind"

const schema = v.object({ id, kind: v.literal("outcomes"), course: v.nullable(reference), title: v.optional(line, "") })

/** What one will be able to do: the course's own promises. */
export const outcomes: BlockModule<v.InferOutput<typeof schema>> = {
  name: "outcomes",
  schema,
  inFirst: "words",
  fresh: (id) => ({ id, kind: "outcomes", course: null, title: "What you will be able to do" }),
  html(out, b, { mark, courses, editing, says }) {
    const promises = courses.find((c) => c.id === b.course)?.promises ?? []
    if (promises.length)
      out.text(
        html`<div${mark}>${titled(b.title, says("title"))}<ul class="able">${promises.map((p) => html`<li dir="auto">${p}</li>`)}</ul></div>`,
      )
    else if (editing)
      out.text(
        html`<p${mark} class="small">What one will be able to do comes here: it is written in the course’s settings.</p>`,
      )
  },
  css: [
    ".able{list-style:none;padding:0}.able li{padding-inline-start:2rem;position:relative;margin:.55rem 0}.able li::before{content:'';position:absolute;inset-inline-start:.2rem;top:.35em;width:.45rem;height:.85rem;border:solid var(--e);border-width:0 2.5px 2.5px 0;transform:rotate(42deg)}",
  ],
  unseen: true,
  refs: (b) => refTo("course", b.course, "says what it promises"),
  gap: (b) => (b.course === null ? "what one will be able to do is of no course" : null),
  line: () => "What you will be able to do",
}
