import * as v from "valibot"
import { type Html, html } from "../../html"
import { refTo } from "../../reference"
import type { Page } from "../document"
import { checkoutCss, checkoutHtml, type OfferCard, priceHtml } from "../selling"
import { allBlocks } from "../walk"
import { type BlockModule, id, line, reference } from "./kind"

const schema = v.object({
  id,
  kind: v.literal("checkout"),
  says: line,
  askName: v.boolean(),
  askCoupon: v.boolean(),
  bumps: v.pipe(v.array(v.object({ offer: reference, says: line })), v.maxLength(3)),
  // What they may agree to be written about; empty: they are not asked.
  consent: v.pipe(v.string(), v.maxLength(600)),
})
export type CheckoutBlock = v.InferOutput<typeof schema>

/** Takes an order: what, on which terms, with which order bumps, by which card. */
export const checkout: BlockModule<CheckoutBlock> = {
  name: "checkout form",
  schema,
  onlyWhere: "asked",
  wide: true,
  fresh: (id) => ({ id, kind: "checkout", says: "Buy now", askName: true, askCoupon: true, bumps: [], consent: "" }),
  html(out, b, { context, mark, sold: { card, way } }) {
    if (context.release !== 0) return out.part({ part: "checkout", block: b.id })
    out.text(html`<div${mark}>${card ? sample(b, card, way, context.offers) : priceHtml(undefined)}</div>`)
  },
  css: checkoutCss,
  refs: (b) => b.bumps.flatMap((x) => refTo("offer", x.offer, "offers it as an order bump")),
  gap: () => null,
  line: (b) => b.says,
  action: (b) => b.id,
}

/** What it will look like, with nothing chosen. */
function sample(
  b: CheckoutBlock,
  card: OfferCard,
  way: OfferCard["ways"][number] | undefined,
  offers: Readonly<Record<number, OfferCard>> | undefined,
): Html {
  return checkoutHtml({
    action: "#",
    once: "",
    release: 0,
    cards: null,
    test: false,
    error: null,
    email: "",
    askName: b.askName,
    name: "",
    askPostal: false,
    postal: "",
    askCode: b.askCoupon,
    code: "",
    consent: b.consent,
    agreed: false,
    bought: card,
    terms: card.ways,
    chosen: way?.id ?? 0,
    bumps: b.bumps.flatMap((x) => {
      const bump = offers?.[x.offer]
      return bump
        ? [
            {
              id: x.offer,
              says: x.says,
              name: bump.name,
              price: bump.ways[0]?.says ?? "",
              picture: bump.picture,
              picked: false,
            },
          ]
        : []
    }),
    sum: {
      lines: [],
      sentence: way?.says ?? "",
      today: way?.amount ?? "",
      problem: null,
      again: false,
      ways: {},
      off: null,
      seen: "",
      button: b.says,
      needsCard: false,
      statement: "",
    },
    has: null,
  })
}

/** The checkout form of a page, or undefined. */
export function checkoutFormOf(page: Page | null): CheckoutBlock | undefined {
  return page
    ? ([...allBlocks(page.blocks)].find((b) => b.kind === "checkout") as CheckoutBlock | undefined)
    : undefined
}
