import * as v from "valibot"
import { html } from "../../html"
import { words } from "../../words/en"
import { wayCss } from "../style"
import { type BlockModule, id } from "./kind"

const schema = v.object({ id, kind: v.literal("proof") })

/** What a buyer bought, what they pay and when, and the button that opens it: made from their order. */
export const proof: BlockModule<v.InferOutput<typeof schema>> = {
  name: "what was bought",
  schema,
  onlyWhere: "asked",
  fresh: (id) => ({ id, kind: "proof" }),
  html(out, b, { context, mark }) {
    if (context.release !== 0) out.part({ part: "proof", block: b.id })
    else out.text(html`<div${mark}><p class="section tinted">${words.page.proofSample}</p></div>`)
  },
  css: [wayCss],
  refs: () => [],
  gap: () => null,
  line: () => "What was bought",
}
