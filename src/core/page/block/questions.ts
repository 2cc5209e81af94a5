import * as v from "valibot"
import { html } from "../../html"
import { isPlaceholder } from "../placeholder"
import { lines, titled } from "../writer"
import { type BlockModule, id, items, line, long } from "./kind"

const schema = v.object({
  id,
  kind: v.literal("questions"),
  title: v.optional(line, ""),
  items: items({ asks: line, says: long }, 40),
})

/** Questions that are asked before, each opening its answer. One without an answer isn't shown. */
export const questions: BlockModule<v.InferOutput<typeof schema>> = {
  name: "questions and answers",
  schema,
  fresh: (id) => ({ id, kind: "questions", title: "Asked before", items: [{ asks: "", says: "" }] }),
  html(out, b, { mark, context, says }) {
    const shown = b.items.filter((i) => (i.asks.trim() && i.says.trim()) || context.release === 0)
    if (!shown.length) return
    out.text(
      html`<div${mark}>${titled(b.title, says("title"))}<div class="asked">${shown.map((i) => {
        const at = `items.${b.items.indexOf(i)}`
        return html`<details><summary${says(`${at}.asks`)} dir="auto">${i.asks}</summary>${lines(i.says, says(`${at}.says`))}</details>`
      })}</div></div>`,
    )
  },
  css: [
    ".asked details{border-bottom:1px solid var(--l);padding:.85rem 0;break-inside:avoid}.asked summary{font-weight:600;cursor:pointer;min-height:1.75rem}.asked p{margin:.5rem 0 0}@media(min-width:56rem){main.wide .asked{columns:2;column-gap:3.5rem}}",
  ],
  unseen: true,
  refs: () => [],
  gap: (b) => {
    const open = b.items.filter((i) => isPlaceholder(i.asks) || isPlaceholder(i.says)).length
    return open === 0 ? null : open === 1 ? "a question waits for its words" : `${open} questions wait for their words`
  },
  data(b) {
    const answered = b.items.filter((i) => i.asks.trim() && i.says.trim())
    if (!answered.length) return null
    const mainEntity = answered.map((i) => ({
      "@type": "Question",
      name: i.asks,
      acceptedAnswer: { "@type": "Answer", text: i.says },
    }))
    return { "@type": "FAQPage", mainEntity }
  },
  line: (b) => b.items[0]?.asks || "questions",
}
