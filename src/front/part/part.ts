// A part of a page that is made anew for each look: by itself, whatever step's page it stands on, or by its step's answer.
import type { Html } from "@/core/html"
import type { ListedCourse } from "@/core/page/cards"
import type { CourseFigures } from "@/core/page/figures"
import type { QuoteCard } from "@/core/page/quotes"
import type { OfferCard } from "@/core/page/selling"
import type { Part } from "@/core/page/writer"
import type { Request } from "../exchange"
import type { LivePage } from "../live"
import type { Front } from "../reply"

/** What is the same for everybody, as it is in memory. */
export type Shared = {
  readonly offers: Readonly<Record<number, OfferCard>>
  readonly quotes: Readonly<Record<number, readonly QuoteCard[]>>
  readonly figures: Readonly<Record<number, CourseFigures>>
  readonly listed: Readonly<Record<number, ListedCourse>>
}

export type PartMaker<P> = {
  /** From what is known in memory: for everybody the same, until any of it changes. */
  share?(part: P, shared: Shared): Html
  /** For whoever is here. */
  make?(front: Front, req: Request, page: LivePage, part: P): Promise<Html>
}

export type PartOf<K extends Part["part"]> = Extract<Part, { part: K }>
