// Who makes each kind of part. One that belongs to a step's own work is made where its step is answered.
import { type Html, html } from "@/core/html"
import { partsOf } from "@/core/page/compile"
import { figuresHtml } from "@/core/page/figures"
import { amountHtml, announcementHtml, comparisonHtml, countdownHtml, guaranteeHtml } from "@/core/page/offer-parts"
import { quotesHtml } from "@/core/page/quotes"
import { priceHtml, productData } from "@/core/page/selling"
import type { Part } from "@/core/page/writer"
import type { LivePage } from "../live"
import type { Front, Visitor } from "../reply"
import type { PartMaker, PartOf, Shared } from "./part"
import { proof } from "./proof"

const makers: { readonly [K in Part["part"]]: PartMaker<PartOf<K>> } = {
  price: { share: (p, { offers }) => html`${priceHtml(offers[p.offer])}${productData(offers[p.offer])}` },
  amount: { share: (p, { offers }) => amountHtml(offers[p.offer]) },
  announcement: { share: (p, { offers }) => announcementHtml(p.says, offers[p.offer]) },
  countdown: { share: (p, { offers }) => countdownHtml(offers[p.offer], p.pieces) },
  comparison: { share: (p, { offers }) => comparisonHtml(offers[p.offer]) },
  guarantee: { share: (p, { offers }) => guaranteeHtml(offers[p.offer]) },
  figures: { share: (p, { figures }) => figuresHtml(figures[p.course], p.show) },
  quotes: { share: (p, { quotes }) => quotesHtml(quotes[p.course] ?? [], p.most, p.title) },
  checkout: {},
  decision: {},
  proof,
  dates: {},
  seat: {},
  replay: {},
  conditions: {},
}

const makerOf = (p: Part) => makers[p.part] as PartMaker<Part>

/** Whether a part is the same for everybody, until an offer, a quote or a count changes. */
export function isShared(p: Part): boolean {
  return makerOf(p).share !== undefined
}

/** A shared part; empty for any other. */
export function sharedPart(p: Part, shared: Shared): Html {
  return makerOf(p).share?.(p, shared) ?? html``
}

/** The HTML of parts by their kind, where their step makes them. */
export type OwnParts = { readonly [K in Part["part"]]?: (p: PartOf<K>) => Html }

export function ownPart(p: Part, own: OwnParts): Html {
  return (own[p.part] as ((p: Part) => Html) | undefined)?.(p) ?? html``
}

/** The parts of a page that are made by themselves for whoever is here. */
export async function madeParts(front: Front, page: LivePage, visitor: Visitor): Promise<OwnParts> {
  const ready: Partial<Record<Part["part"], () => Html>> = {}
  for (const p of partsOf(page.page)) {
    const made = await makerOf(p).make?.(front, page, visitor)
    if (made !== undefined) ready[p.part] = () => made
  }
  return ready
}
