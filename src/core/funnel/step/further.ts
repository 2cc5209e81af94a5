// One more offer after a sale, accepted with one click, or declined with one.
import * as v from "valibot"
import { found } from "../../finding"
import { escapeHtml } from "../../html"
import { withoutOffer } from "../../offer/finding"
import { decisionsOf } from "../../page/block/decision"
import type { Page } from "../../page/document"
import { placeholders } from "../../page/placeholder"
import { refTo } from "../../reference"
import { clip } from "../phrase"
import type { OfferNamed, StepModule } from "./kind"

const settings = v.object({
  offer: v.optional(v.nullable(v.number()), null),
  terms: v.optional(v.nullable(v.number()), null),
  replaces: v.optional(v.boolean(), false),
  skipAs: v.optional(v.picklist(["accepted", "declined"]), "accepted"),
})
type Settings = v.InferOutput<typeof settings>

export const further: StepModule<"accepted" | "declined", Settings> = {
  label: "upsell",
  afterNo: "downsell",
  outcomes: {
    accepted: { verb: "accepts", done: "accepted", leads: true },
    declined: { verb: "declines", done: "declined", leads: true },
  },
  entry: false,
  hasPage: true,
  blocks: ["decision"],
  settings,
  firstPage: ({ offer, second }) => (offer ? furtherPage(offer, second) : { version: 1, title: "", blocks: [] }),
  refs: (s) => refTo("offer", s.offer, "sells it"),
  insert: { offer: true, afterSale: true, nameOf: ({ offer }) => offer?.publicName ?? "Upsell" },
  followedBy: "further",
  sells: {
    as: "more",
    took: "accepted",
    turned: "declined",
    of: (s) => s,
    with: (s, sold) => ({ ...s, ...sold }),
  },
  check({ step, context: { selling } }) {
    const list = decisionsOf(step.page).length
      ? []
      : [found("page-without-form", step, { step: step.name, lacks: "decision" }, { go: "page", step: step.id })]
    return selling.offers.get(v.parse(settings, step.settings).offer ?? 0)
      ? list
      : [...list, ...withoutOffer(step, v.parse(settings, step.settings).offer !== null)]
  },
}

/** `second`: the smaller one for whoever declined. */
export function furtherPage(offer: OfferNamed, second: boolean): Page {
  return {
    version: 1,
    title: clip(offer.publicName, 120),
    blocks: [
      {
        id: "head",
        kind: "headline",
        text: clip(second ? `Or something smaller: ${offer.publicName}` : `Before you begin: ${offer.publicName}`, 300),
      },
      { id: "text", kind: "text", html: `<p>${escapeHtml(offer.promise || placeholders.furtherOffer)}</p>` },
      ...(offer.pictureId
        ? [{ id: "picture", kind: "picture" as const, media: offer.pictureId, alt: offer.publicName }]
        : []),
      {
        id: "choice",
        kind: "decision",
        accept: "Yes, add it",
        decline: second ? "No, thank you. Take me to what I bought" : "No, thank you. Go on without it",
      },
    ],
  }
}
