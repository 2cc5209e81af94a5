import * as v from "valibot"
import { html } from "../../html"
import { refTo } from "../../reference"
import { guaranteeHtml } from "../offer-parts"
import { type BlockModule, id, reference } from "./kind"

const schema = v.object({ id, kind: v.literal("guarantee"), offer: v.nullable(reference) })

/** Until when the money is given back: the offer's own rule, and nothing where it has none. */
export const guarantee: BlockModule<v.InferOutput<typeof schema>> = {
  name: "guarantee",
  schema,
  fresh: (id) => ({ id, kind: "guarantee", offer: null }),
  html(out, b, { mark, context, editing }) {
    if (b.offer !== null && context.release !== 0) return out.part({ part: "guarantee", offer: b.offer })
    const shown = guaranteeHtml(context.offers?.[b.offer ?? 0])
    if (editing)
      out.text(
        html`<div${mark}>${shown.text ? shown : html`<p class="small">The offer promises no refund: set the days in the offer, and it says so here.</p>`}</div>`,
      )
  },
  css: [
    ".guarantee{display:flex;gap:1.25rem;align-items:center;margin-block:1.5rem}.guarantee b{flex:none;display:grid;place-content:center;text-align:center;width:5.5rem;height:5.5rem;border:2px solid var(--e);border-radius:50%;font:var(--wd) 1.6rem/1 var(--fd);color:var(--e)}.guarantee b small{display:block;font-size:.95rem}.guarantee p{margin:0}",
  ],
  unseen: true,
  refs: (b) => refTo("offer", b.offer, "says how it is refunded"),
  gap: (b) => (b.offer === null ? "its guarantee is of no offer" : null),
  line: () => "Guarantee",
}
