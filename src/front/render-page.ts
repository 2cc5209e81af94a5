// A page that is made anew for each look: its finished pieces, and the parts that only the moment knows.
import { fillPage } from "@/core/page/compile"
import type { HttpAnswer } from "./exchange"
import type { LivePage } from "./live"
import { isShared, type OwnParts, ownPart, sharedPart } from "./part/list"
import { commonHeaders, pagePolicy } from "./policy"
import type { Front } from "./reply"

/** Shared parts come from what is known in memory, the others from whoever answers. */
export function renderPage(
  front: Front,
  page: LivePage,
  status: number,
  own: OwnParts,
  values: Parameters<typeof fillPage>[1] = {},
): HttpAnswer {
  const shared = front.live.shared()
  const body = fillPage(page.page.pieces, { origin: front.s.config.origin, ...values }, (p) =>
    isShared(p) ? sharedPart(p, shared) : ownPart(p, own),
  )
  const origin = front.s.cards?.origin
  return {
    status,
    headers: {
      ...commonHeaders,
      "content-type": "text/html; charset=utf-8",
      "content-security-policy": origin
        ? pagePolicy(page.page.style, page.page.script, origin, "", page.page.frames)
        : page.policy,
      "cache-control": "no-store",
    },
    body,
  }
}
