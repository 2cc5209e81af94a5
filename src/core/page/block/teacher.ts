import * as v from "valibot"
import { html } from "../../html"
import { refTo } from "../../reference"
import { words } from "../../words/en"
import { pictureTag } from "../picture"
import { lines } from "../writer"
import { type BlockModule, id, reference } from "./kind"

const schema = v.object({ id, kind: v.literal("teacher"), teacher: v.nullable(reference) })

/** Who teaches: portrait, name and words, as they are written once for the school. */
export const teacher: BlockModule<v.InferOutput<typeof schema>> = {
  name: "teacher",
  schema,
  wide: true,
  fresh: (id) => ({ id, kind: "teacher", teacher: null }),
  html(out, b, { mark, context, editing }) {
    const who = context.teachers?.get(b.teacher ?? 0)
    if (!who) {
      if (editing) out.text(html`<p${mark} class="small">Who teaches comes here.</p>`)
      return
    }
    const { portrait } = who
    out.text(
      html`<div${mark} class="teacher">${portrait ? pictureTag(portrait, { alt: words.page.portraitOf(who.name), as: "portrait" }) : ""}<div><p class="above">${words.page.whoTeaches}</p><h2 dir="auto">${who.name}</h2>${lines(who.about)}</div></div>`,
    )
  },
  mail(b, { mark, teachers, picture, editing }) {
    const who = teachers.get(b.teacher ?? 0)
    if (!who) return html`${editing && html`<p${mark}>Who teaches comes here.</p>`}`
    return html`<div${mark}>${picture(who.media, words.page.portraitOf(who.name), 180)}<p class="above">${words.page.whoTeaches}</p><h3 dir="auto">${who.name}</h3>${lines(who.about)}</div>`
  },
  css: [
    ".above{color:var(--e);font-weight:600;margin-block:0 .6rem;font-size:1rem}.teacher h2{margin-top:0}.teacher img{margin:0 0 1.25rem;width:min(18rem,60vw);aspect-ratio:1;object-fit:cover}@media(min-width:44rem){.teacher:has(img){display:grid;grid-template-columns:minmax(0,18rem) minmax(0,1fr);gap:0 3rem;align-items:center}.teacher img{width:100%;margin:0}}",
  ],
  unseen: true,
  refs: (b) => refTo("teacher", b.teacher, "shows them"),
  gap: (b) => (b.teacher === null ? "who teaches isn’t said" : null),
  line: () => "Who teaches",
}
