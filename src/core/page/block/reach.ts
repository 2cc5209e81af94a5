import * as v from "valibot"
import { html } from "../../html"
import { refTo } from "../../reference"
import { leadsTo, refsOfTarget } from "../linked"
import { target, unled } from "./button"
import { type BlockModule, id, line, reference } from "./kind"

const schema = v.object({
  id,
  kind: v.literal("reach"),
  says: line,
  leads: v.nullable(target),
  /** Its price stands beside the button. */
  offer: v.nullable(reference),
})

/**
 * Price and action at the foot of a phone, once the first screen has gone by: it sticks to the bottom of the part of the page that follows
 * the first screen, so that no program is needed.
 */
export const reach: BlockModule<v.InferOutput<typeof schema>> = {
  name: "bar in reach",
  schema,
  follows: true,
  fresh: (id) => ({ id, kind: "reach", says: "Go on", leads: null, offer: null }),
  html(out, b, at) {
    const { mark, context, says } = at
    out.text(html`<div${mark} class="reach"><span>`)
    if (b.offer !== null && context.release !== 0) out.part({ part: "amount", offer: b.offer })
    else if (b.offer !== null) out.text(html`<b>${context.offers?.[b.offer]?.ways[0]?.amount ?? ""}</b>`)
    out.text(
      html`</span><a class="go"${says("says")} dir="auto" href="${leadsTo(b.leads, at) ?? "#"}">${b.says}</a></div>`,
    )
  },
  css: [
    ".reach{position:sticky;bottom:0;z-index:2;margin:0!important;padding:.7rem var(--x);display:flex;gap:1rem;align-items:center;justify-content:space-between;background:var(--g);border-top:1px solid var(--l)}.reach b{font:var(--wd) 1.3rem/1.2 var(--fd)}.reach .go{padding:.8rem 1.2rem}@media(min-width:44rem){.reach{display:none}}",
  ],
  refs: (b) => [...refTo("offer", b.offer, "shows its price in a bar"), ...refsOfTarget(b.leads)],
  gap: (b) => (b.says.trim() ? null : "the bar in reach says nothing"),
  check: (b, at) => unled(b, at),
  line: (b) => b.says,
  action: (b) => (b.leads?.to === "form" ? "form" : b.leads?.to === "outcome" ? b.leads.outcome : b.id),
}
