import { priceHtml } from "@/core/page/selling"
import type { PartMaker, PartOf } from "./part"

export const price: PartMaker<PartOf<"price">> = { share: (p, cards) => priceHtml(cards[p.offer]) }
