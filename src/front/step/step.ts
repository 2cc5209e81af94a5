// How the page of a kind of step is answered, beyond its finished HTML.
import type { Html } from "@/core/html"
import type { HttpAnswer, Request } from "../exchange"
import type { LivePage } from "../live"
import type { Front, Visitor } from "../reply"

export type FrontStep = {
  /** A look at its page, where each is answered anew. */
  look?(front: Front, req: Request, page: LivePage, visitor: Visitor): Promise<HttpAnswer | undefined>
  /** A line above its page for this visitor alone, as HTML; null: none. */
  strip?(front: Front, req: Request, page: LivePage): Html | null
  /** Its form, sent; at one without a form of its own, the form of a release from before. */
  post(
    front: Front,
    req: Request,
    page: LivePage,
    visitor: Visitor,
    fields: Readonly<Record<string, string>>,
  ): Promise<HttpAnswer | undefined>
}
