// A page that is made anew for each look: its finished pieces, and the parts that only the moment knows.
import type { Html } from "@/core/html"
import { fillPage, partsOf, segmentsOf } from "@/core/page/compile"
import type { Part } from "@/core/page/writer"
import { isStrangerIn } from "@/core/person/segment/segment"
import { isPersonIn, readSegment } from "@/server/person/segment"
import { learnerAt } from "./buyer"
import type { HttpAnswer, Request } from "./exchange"
import type { LivePage } from "./live"
import { isShared, type OwnParts, ownPart, sharedPart } from "./part/list"
import { commonHeaders, pagePolicy } from "./policy"
import type { Front } from "./reply"

/** Shared parts come from what is known in memory; the others are made by whoever answers, or by themselves. */
export async function renderPage(
  front: Front,
  req: Request,
  page: LivePage,
  status: number,
  own: OwnParts,
  values: Parameters<typeof fillPage>[1] = {},
): Promise<HttpAnswer> {
  const shared = front.live.shared()
  const within = await segmentsHere(front, req, page)
  const made = new Map<Part, Html>()
  for (const p of partsOf(page.page)) if (!isShared(p)) made.set(p, await ownPart(front, req, page, p, own))
  const body = fillPage(
    page.page.pieces,
    { origin: front.s.config.origin, ...values },
    (p) => made.get(p) ?? sharedPart(p, shared),
    within,
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

/** In which of the segments that something of the page is for whoever is here is; unless they are signed in, as somebody unknown. */
async function segmentsHere(front: Front, req: Request, { page }: LivePage): Promise<ReadonlySet<number>> {
  const asked = segmentsOf(page)
  const found = new Set<number>()
  if (!asked.length) return found
  const who = await learnerAt(front, req)
  const now = await front.s.clock.now()
  for (const id of asked) {
    const segment = await readSegment(front.s.db, id)
    if (!segment) continue
    const { question } = segment.value
    if (who ? await isPersonIn(front.s.db, question, who.person, now) : isStrangerIn(question)) found.add(id)
  }
  return found
}
