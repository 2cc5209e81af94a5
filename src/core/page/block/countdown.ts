import * as v from "valibot"
import { html } from "../../html"
import { refTo } from "../../reference"
import { countdownHtml } from "../offer-parts"
import { type BlockModule, id, reference } from "./kind"

const schema = v.object({
  id,
  kind: v.literal("countdown"),
  offer: v.nullable(reference),
  pieces: v.boolean(),
  /** The end of what: not given: of the offer; `price`: of the lower price that a visitor has, by their coupon or their seat. */
  end: v.optional(v.literal("price")),
})

/** Until when an offer, or the lower price that a visitor has for it, can be had, counting down; and how many of it are left. */
export const countdown: BlockModule<v.InferOutput<typeof schema>> = {
  name: "countdown and pieces left",
  schema,
  fresh: (id) => ({ id, kind: "countdown", offer: null, pieces: true }),
  html(out, b, { mark, context, editing }) {
    if (b.offer === null) {
      if (editing) out.text(html`<p${mark} class="small">The end of an offer comes here.</p>`)
    } else if (b.end === "price") {
      if (context.release !== 0) out.part({ part: "price-end", offer: b.offer })
      else if (editing) out.text(html`<p${mark} class="small">Whoever has a lower price sees here until when.</p>`)
    } else if (context.release !== 0) out.part({ part: "countdown", offer: b.offer, pieces: b.pieces })
    else out.text(html`<div${mark}>${countdownHtml(context.offers?.[b.offer], b.pieces)}</div>`)
  },
  // An e-mail that was read yesterday counts nothing down: it says the end.
  mail: (b, { mark, offer, editing }) =>
    b.offer === null || b.end === "price"
      ? html`${editing && html`<p${mark}>The end of an offer comes here.</p>`}`
      : html`<p${mark} class="ends">${offer("ends", b.offer, "")}</p>`,
  css: [
    ".ends{font-weight:600}.ends b{display:block;font:var(--wd) 2rem/1.2 var(--fd);font-variant-numeric:tabular-nums;color:var(--e)}",
  ],
  program: () => "countdown",
  unseen: true,
  refs: (b) => refTo("offer", b.offer, "counts down to its end"),
  gap: (b) => (b.offer === null ? "its countdown is of no offer" : null),
  line: () => "Countdown",
}
