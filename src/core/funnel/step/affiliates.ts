// A page on which somebody asks to recommend an offer: their address, and their yes to its conditions.
import * as v from "valibot"
import { found } from "../../finding"
import { escapeHtml } from "../../html"
import { formOf } from "../../page/block/form"
import type { Page } from "../../page/document"
import { refTo } from "../../reference"
import { clip } from "../phrase"
import type { OfferNamed, StepModule } from "./kind"

const settings = v.object({ offer: v.optional(v.nullable(v.pipe(v.number(), v.integer(), v.minValue(1))), null) })

export const affiliates: StepModule<"applied", v.InferOutput<typeof settings>> = {
  label: "affiliate sign-up page",
  outcomes: { applied: { verb: "asks to join", done: "asked to join", leads: true } },
  entry: true,
  hasPage: true,
  blocks: ["form"],
  settings,
  firstPage: ({ offer }) => (offer ? affiliatesPage(offer, "") : { version: 1, title: "", blocks: [] }),
  refs: (s) => refTo("offer", s.offer, "takes on affiliates for it"),
  recruits: (s) => s.offer,
  free: true,
  needsMail: "nobody could ever confirm, and no way to the affiliate page would come",
  check({ step, context }) {
    const { offer } = v.parse(settings, step.settings)
    const p = offer === null ? undefined : context.programmes.get(offer)
    return [
      ...(!step.page || !formOf(step.page)
        ? [found("page-without-form", step, { step: step.name, lacks: "form" }, { go: "page", step: step.id })]
        : []),
      ...(p?.on
        ? []
        : [
            found(
              "programme-off",
              step,
              { step: step.name, offer: p?.name ?? null },
              offer === null ? { go: "wiring", step: step.id } : { go: "programme", offer },
            ),
          ]),
    ]
  },
}

export function affiliatesPage(offer: OfferNamed, about: string): Page {
  return {
    version: 1,
    title: clip(`Recommend ${offer.publicName}`, 120),
    blocks: [
      { id: "promise", kind: "headline", text: clip(`Recommend “${offer.publicName}”, and be paid for it`, 300) },
      {
        id: "intro",
        kind: "text",
        html: about
          ? about
              .split(/\n\s*\n/)
              .map((p) => `<p>${escapeHtml(p)}</p>`)
              .join("")
          : `<p>${escapeHtml(offer.promise || offer.publicName)}</p>`,
      },
      {
        id: "points",
        kind: "list",
        items: [
          "A link of your own, with words and pictures ready to use.",
          "A page that shows what your link does and what you earn.",
          "Paid without having to ask.",
        ],
      },
      {
        id: "join",
        kind: "form",
        says: "Ask to join",
        askName: true,
        consent:
          "Send me the way to my affiliate page by e-mail, and what I need to know there. I can leave at any time.",
        confirm: true,
        foreign: false,
      },
    ],
  }
}
