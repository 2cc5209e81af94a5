// Answers published pages and their forms: from a request and a compiled release to a response. Knows nothing of Next.

import { viaName } from "@/core/affiliate/code"
import { deviceOf, sentByProgram } from "@/core/device"
import { sourceOf, sourceOfVia } from "@/core/source"
import { firstCookie, sessionCookie } from "@/server/person/session"
import { withCoupon } from "./coupon"
import { encodingFor, type HttpAnswer, type Request, TooLong } from "./exchange"
import type { LivePage } from "./live"
import { lockedStrip } from "./locked"
import { onePixel } from "./pixel"
import { commonHeaders } from "./policy"
import type { Rank } from "./queue"
import { renderPage } from "./render-page"
import { cookieText, type Front, firstLookCookie, firstLookOf, tooLong, type Visitor, visitorOf } from "./reply"
import { frontSteps } from "./step/list"
import { postJoin } from "./step/optin"
import { type PageLook, withStrip } from "./strip"
import { keepMention, type NamedLink, namedBy, settleMention, withVia } from "./via"

/** The answer for a published page, or undefined where none stands at the path. */
export async function answerPage(front: Front, req: Request): Promise<HttpAnswer | undefined> {
  const page = front.live.page(req.path)
  if (req.method === "POST") return page || req.path ? answerForm(front, req, page) : undefined
  if (!page) return undefined
  if (req.method !== "GET" && req.method !== "HEAD")
    return { status: 405, headers: { ...commonHeaders, allow: "GET, HEAD, POST" }, body: "" }
  const visitor = visitorOf(front, req)
  const named = namedBy(front, req.query.get(viaName))
  const cookies = count(front, req, page, visitor, named)
  const locked = await lockedStrip(front, req, rankOf(front, req, visitor))
  const strip = locked ?? frontSteps[page.kind].strip?.(front, req, page) ?? null
  const dressed = (look: PageLook) =>
    strip === null ? withVia(front, req, page, visitor, named, look) : withStrip(req, page, look, strip)
  if (!page.dynamic) return withCoupon(front, req, dressed({ plain: () => get(req, page, cookies), cookies }))
  const { look } = frontSteps[page.kind]
  const answer = await front.looks.enter(req.ip, rankOf(front, req, visitor), async () =>
    look ? look(front, req, page, visitor) : renderPage(front, req, page, 200, {}),
  )
  if (!answer) return undefined
  const whole = cookies.length ? addCookies(answer, cookies) : answer
  return dressed({ plain: () => whole, cookies: [whole.headers["set-cookie"] ?? []].flat() })
}

/** Whoever is let in by an order on this device, or comes back from one, has the session or the order with them. */
function rankOf(front: Front, req: Request, visitor: Visitor): Rank {
  if (req.query.has("order") || req.cookies[sessionCookie(front.s.config, "learn")]) return "buyer"
  return visitor.newcomer ? "newcomer" : "visitor"
}

/** Only a newcomer is given an id. */
function withCookie(answer: HttpAnswer, visitor: Visitor): HttpAnswer {
  return visitor.newcomer ? addCookies(answer, [visitor.cookie]) : answer
}

function addCookies(answer: HttpAnswer, cookies: readonly string[]): HttpAnswer {
  const before = answer.headers["set-cookie"]
  return { ...answer, headers: { ...answer.headers, "set-cookie": [before ?? [], ...cookies].flat() } }
}

/**
 * Counts whoever looks at a page where a funnel begins. A newcomer may be a program that never comes back: what they came to
 * is given to their browser to keep, and counted with its next request.
 */
function count(front: Front, req: Request, page: LivePage, visitor: Visitor, named: NamedLink | null): string[] {
  const counts = visitor.newcomer ? page.page.entry : page.counted
  if (!counts || req.method !== "GET" || isPrefetch(req)) return visitor.newcomer ? [visitor.cookie] : []
  const source = named
    ? sourceOfVia(named.code)
    : sourceOf(req.query, req.headers.referer ?? "", req.headers.host ?? "")
  if (sentByProgram(req.headers["user-agent"])) {
    if (page.page.entry) front.visits.addRobot(page.funnel, front.live.now())
    return []
  }
  if (visitor.newcomer) return [visitor.cookie, firstLookCookie(front.s.config, { step: page.step, source })]
  countFirstLook(front, req)
  const { funnel, step, release } = page
  front.visits.add(
    { funnel, step, release, visitor: visitor.id, source, at: front.live.now(), device: deviceOf(req.headers) },
    false,
  )
  return []
}

/** A second request of somebody who was given an id a moment ago: they are a browser, and what they first came to counts. */
export function countFirstLook(front: Front, req: Request): void {
  if (!req.headers.cookie) return
  const look = firstLookOf(front.s.config, req)
  const visitor = visitorOf(front, req)
  keepMention(front, req, visitor)
  const page = look && front.live.entry(look.step)
  if (!look || visitor.newcomer || !page) return
  front.visits.add(
    {
      funnel: page.funnel,
      step: page.step,
      release: page.release,
      visitor: visitor.id,
      source: look.source,
      at: front.live.now(),
      device: deviceOf(req.headers),
    },
    true,
  )
}

/** The picture that every browser asks for with a page where a funnel begins. */
export function answerSeen(front: Front, req: Request): HttpAnswer {
  countFirstLook(front, req)
  const { config } = front.s
  const first = req.cookies[firstCookie(config)] !== undefined
  return onePixel(first ? { "set-cookie": cookieText(config, firstCookie(config), "", 0) } : {})
}

function get(req: Request, page: LivePage, cookies: string[]): HttpAnswer {
  const encoding = encodingFor(req.headers["accept-encoding"])
  const headers: HttpAnswer["headers"] = cookies.length
    ? { ...page.headers[encoding], "set-cookie": cookies }
    : page.headers[encoding]
  if (req.headers["if-none-match"] === page.etag) {
    const { "content-length": _, "content-encoding": __, ...rest } = headers
    return { status: 304, headers: rest, body: "" }
  }
  return { status: 200, headers, body: page.bodies[encoding] }
}

function isPrefetch(req: Request): boolean {
  return req.headers["sec-purpose"]?.includes("prefetch") === true
}

async function answerForm(front: Front, req: Request, page: LivePage | undefined): Promise<HttpAnswer | undefined> {
  let fields: Readonly<Record<string, string>>
  try {
    fields = await req.form()
  } catch (error) {
    if (error instanceof TooLong) return tooLong(front)
    throw error
  }
  const visitor = visitorOf(front, req)
  await settleMention(front, req, visitor)
  const answer = await (page
    ? frontSteps[page.kind].post(front, req, page, visitor, fields)
    : postJoin(front, req, page, visitor, fields))
  return answer && withCookie(answer, visitor)
}
