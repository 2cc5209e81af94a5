import * as v from "valibot"
import { found } from "../../finding"
import { html } from "../../html"
import { notToBeHad } from "../../offer/finding"
import { availability } from "../../offer/offer"
import { refTo } from "../../reference"
import { priceCss, priceHtml } from "../selling"
import { amountCss } from "../style"
import { type BlockModule, id, reference } from "./kind"

const schema = v.object({ id, kind: v.literal("price"), offer: v.nullable(reference) })

/** What an offer costs, in the sentence of its plan. */
export const price: BlockModule<v.InferOutput<typeof schema>> = {
  name: "price",
  schema,
  fresh: (id) => ({ id, kind: "price", offer: null }),
  html(out, b, { context, mark }) {
    if (context.release === 0)
      out.text(html`<div${mark}>${priceHtml(b.offer === null ? undefined : context.offers?.[b.offer])}</div>`)
    else if (b.offer !== null) out.part({ part: "price", offer: b.offer })
  },
  mail: (b, { mark, offer, editing }) =>
    b.offer === null
      ? html`${editing && html`<p${mark}>What an offer costs comes here.</p>`}`
      : html`<p${mark} class="price"><strong>${offer("offer", b.offer, "The offer")}</strong><br>${offer("price", b.offer, "What it costs stands on its page.")}</p>`,
  css: [amountCss, priceCss],
  refs: (b) => refTo("offer", b.offer, "shows its price"),
  gap: () => null,
  check(b, { step, funnel, selling, soldHere }) {
    const at = { go: "page", step: step.id, block: b.id } as const
    const offer = b.offer === null ? undefined : selling.offers.get(b.offer)
    if (!offer) return [found("offer-missing", step, { step: step.name, where: "price", chosen: b.offer !== null }, at)]
    // What the funnel sells itself is checked where it is sold.
    if (soldHere.has(offer.id)) return []
    const state = availability(offer, selling.gone.get(offer.id) ?? 0, selling.at)
    return [
      ...(state === "open" ? [] : [notToBeHad(step, offer, state)]),
      found("price-of-another", step, { step: step.name, offer: offer.publicName, funnel: funnel.name }, at, {
        weight: "advice",
      }),
    ]
  },
  line: () => "What it costs",
}
