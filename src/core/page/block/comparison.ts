import * as v from "valibot"
import { html } from "../../html"
import { refTo } from "../../reference"
import { comparisonCss, comparisonHtml } from "../offer-parts"
import { type BlockModule, id, reference } from "./kind"

const schema = v.object({ id, kind: v.literal("comparison"), offer: v.nullable(reference) })

/** The ways to pay for an offer beside each other: what is paid today, how often, and in all. */
export const comparison: BlockModule<v.InferOutput<typeof schema>> = {
  name: "comparison of ways to pay",
  schema,
  wide: true,
  fresh: (id) => ({ id, kind: "comparison", offer: null }),
  html(out, b, { mark, context, editing }) {
    if (b.offer === null) {
      if (editing) out.text(html`<p${mark} class="small">The ways to pay for an offer come here.</p>`)
    } else if (context.release !== 0) out.part({ part: "comparison", offer: b.offer })
    else out.text(html`<div${mark}>${comparisonHtml(context.offers?.[b.offer])}</div>`)
  },
  css: [comparisonCss],
  unseen: true,
  refs: (b) => refTo("offer", b.offer, "compares its ways to pay"),
  gap: (b) => (b.offer === null ? "its comparison is of no offer" : null),
  line: () => "Ways to pay",
}
