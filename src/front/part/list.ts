// Who makes each kind of part. One that belongs to a step's own work is made where its step is answered.
import { type Html, html } from "@/core/html"
import { figuresHtml } from "@/core/page/figures"
import { amountHtml, announcementHtml, comparisonHtml, countdownHtml, guaranteeHtml } from "@/core/page/offer-parts"
import { quotesHtml } from "@/core/page/quotes"
import { priceHtml, productData } from "@/core/page/selling"
import type { Part } from "@/core/page/writer"
import type { Request } from "../exchange"
import type { LivePage } from "../live"
import type { Front } from "../reply"
import { catalogue } from "./catalogue"
import type { PartMaker, PartOf, Shared } from "./part"
import { priceEnd } from "./price-end"
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
  catalogue,
  "price-end": priceEnd,
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

/** A part for whoever is here: by its step, or by itself. */
export async function ownPart(front: Front, req: Request, page: LivePage, p: Part, own: OwnParts): Promise<Html> {
  const byStep = own[p.part] as ((p: Part) => Html) | undefined
  return byStep?.(p) ?? (await makerOf(p).make?.(front, req, page, p)) ?? html``
}
