// Where something is bought, with as few fields as can be.
import * as v from "valibot"
import { found } from "../../finding"
import { withoutOffer } from "../../offer/finding"
import { isPaid } from "../../offer/terms"
import { checkoutFormOf } from "../../page/block/checkout"
import type { Page } from "../../page/document"
import { refTo } from "../../reference"
import { clip } from "../phrase"
import type { OfferNamed, RecipeCourse, Sold, StepModule } from "./kind"

const settings = v.object({ offer: v.optional(v.nullable(v.number()), null) })
type Settings = v.InferOutput<typeof settings>

export const checkout: StepModule<"bought" | "stopped", Settings> = {
  label: "checkout",
  outcomes: {
    bought: { verb: "buys", done: "bought", leads: true },
    stopped: { verb: "begins to pay and stops", done: "stopped", leads: false },
  },
  entry: true,
  hasPage: true,
  blocks: ["checkout"],
  settings,
  firstPage: ({ course, offer }) => (offer ? checkoutPage(offer, course) : { version: 1, title: "", blocks: [] }),
  refs: (s) => refTo("offer", s.offer, "sells it"),
  insert: { offer: true, afterSale: false, nameOf: () => "Checkout" },
  followedBy: "further",
  needsMail: "no receipt and no sign-in link would come",
  sells: {
    as: "first",
    took: "bought",
    turned: null,
    of: (s): Sold => ({ offer: s.offer, terms: null, replaces: false, skipAs: "accepted" }),
    with: (s, sold) => ({ ...s, offer: sold.offer }),
  },
  check({ step, context: { selling } }) {
    const list = checkoutFormOf(step.page)
      ? []
      : [found("page-without-form", step, { step: step.name, lacks: "checkout" }, { go: "page", step: step.id })]
    const offer = selling.offers.get(v.parse(settings, step.settings).offer ?? 0)
    if (!offer) return [...list, ...withoutOffer(step, v.parse(settings, step.settings).offer !== null)]
    const paid = offer.terms.filter((t) => isPaid(t.terms))
    if (paid.length > 0 && paid.length < offer.terms.length)
      list.push(
        found(
          "paid-form-charges-nothing",
          step,
          { step: step.name, offer: offer.publicName, choice: true },
          { go: "offer", offer: offer.id },
        ),
      )
    if (paid.length === 0)
      list.push(
        found(
          "paid-form-charges-nothing",
          step,
          { step: step.name, offer: offer.publicName, choice: false },
          { go: "offer", offer: offer.id },
          { weight: "advice" },
        ),
      )
    return list
  },
}

export function checkoutPage(offer: OfferNamed, course: RecipeCourse | null): Page {
  return {
    version: 1,
    title: clip(`Get ${offer.publicName}`, 120),
    blocks: [
      { id: "head", kind: "headline", text: clip(`Get ${offer.publicName}`, 300) },
      {
        id: "pay",
        kind: "checkout",
        says: "Get it now",
        askName: true,
        askCoupon: true,
        bumps: [],
        consent: `If I stop here, write to me about “${clip(offer.publicName, 160)}” by e-mail, at most twice. I can leave at any time with one click.`,
      },
      ...(course
        ? [
            {
              id: "wordsband",
              kind: "section" as const,
              tone: "tinted" as const,
              blocks: [
                { id: "words", kind: "quotes" as const, course: course.id, title: "From those who did it", most: 2 },
              ],
            },
          ]
        : []),
      { id: "guarantee", kind: "guarantee", offer: offer.id },
      {
        id: "asked",
        kind: "questions",
        title: "Before you buy",
        items: [
          {
            asks: "When can I begin?",
            says: "At once. What you buy is open on this device as soon as it is paid, and a receipt with a sign-in link comes by e-mail.",
          },
          ...(offer.terms.some((t) => t.terms.kind !== "full")
            ? [
                {
                  asks: "What if a later payment fails?",
                  says: "You are told by e-mail, and can pay with another card. You see every payment, and end what goes on, under My plans and cards.",
                },
              ]
            : []),
          { asks: "Whom can I ask?", says: "" },
        ],
      },
    ],
  }
}
