// A part of a page that is made anew for each look: by itself, whatever step's page it stands on, or by its step's answer.
import type { Html } from "@/core/html"
import type { OfferCard } from "@/core/page/selling"
import type { Part } from "@/core/page/writer"
import type { LivePage } from "../live"
import type { Front, Visitor } from "../reply"

export type Cards = Readonly<Record<number, OfferCard>>

export type PartMaker<P> = {
  /** From what is known in memory: for everybody the same, until an offer changes. */
  share?(part: P, cards: Cards): Html
  /** For whoever is here. */
  make?(front: Front, page: LivePage, visitor: Visitor): Promise<Html>
}

export type PartOf<K extends Part["part"]> = Extract<Part, { part: K }>
