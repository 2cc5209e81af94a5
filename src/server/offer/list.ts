// Offers as the studio lists them.

import { availability } from "@/core/offer/offer"
import { locale } from "@/core/words/locale"
import type { Context } from "../context"
import { countsBy } from "../tally"
import { sentencesOf, shelfOf } from "./quote"
import { soldIn } from "./sold-in"

export type OfferListed = {
  readonly id: number
  readonly publicName: string
  readonly internalName: string
  readonly gives: readonly string[]
  /** A sentence for each way to pay. */
  readonly ways: readonly string[]
  readonly funnels: readonly string[]
  readonly sold: number
  /** What is left of it, or that it can't be had. */
  readonly note: string
}

export async function listOffers(s: Context): Promise<OfferListed[]> {
  const shelf = await shelfOf(s.db)
  const at = await s.clock.now()
  const sold = await countsBy(s.db, "sold")
  const used = await soldIn(s.db)
  return [...shelf.offers.values()]
    .map((o): OfferListed => {
      const gone = shelf.gone.get(o.id) ?? 0
      const state = availability(o, gone, at)
      return {
        id: o.id,
        publicName: o.publicName,
        internalName: o.internalName,
        gives: o.gifts.map((g) => g.title),
        ways: sentencesOf(shelf, o, at).map((w) => (w.terms.name ? `${w.terms.name}: ${w.says}` : w.says)),
        funnels: [...new Set(used.filter((u) => u.offer === o.id).map((u) => u.name))],
        sold: sold.get(o.id) ?? 0,
        note:
          state === "sold-out"
            ? "sold out"
            : state === "over"
              ? "over"
              : state === "not-yet"
                ? "not yet"
                : o.pieces === null
                  ? ""
                  : `${(o.pieces - gone).toLocaleString(locale)} of ${o.pieces.toLocaleString(locale)}`,
      }
    })
    .sort((a, b) => b.sold - a.sold || a.id - b.id)
}
