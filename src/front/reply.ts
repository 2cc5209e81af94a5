// What the front server answers with, and who it takes a visitor for.
import { randomBytes } from "node:crypto"
import { type PlainPage, plainPage } from "@/core/page/plain"
import { tidySource } from "@/core/source"
import { words } from "@/core/words/en"
import type { Config } from "@/server/config"
import type { Context } from "@/server/context"
import { firstCookie, isSecure, type Realm, sessionCookie, sessionMs, visitorCookie } from "@/server/person/session"
import type { HttpAnswer, Request } from "./exchange"
import type { Live } from "./live"
import { commonHeaders, pagePolicy } from "./policy"
import type { LookQueue } from "./queue"
import type { RoomLive } from "./room-live"
import type { Mentions } from "./via"
import type { Visits } from "./visits"

export type Front = {
  readonly s: Context
  readonly live: Live
  readonly visits: Visits
  readonly rooms: RoomLive
  readonly mentions: Mentions
  readonly looks: LookQueue
}

export function plainAnswer(
  front: Pick<Front, "live">,
  status: number,
  page: PlainPage,
  headers: HttpAnswer["headers"] = {},
): HttpAnswer {
  const { html, style, script } = plainPage(page, front.live.school())
  return {
    status,
    headers: {
      ...commonHeaders,
      "content-type": "text/html; charset=utf-8",
      "content-security-policy": pagePolicy(style, script),
      "cache-control": "no-store",
      "referrer-policy": "no-referrer",
      ...headers,
    },
    body: html,
  }
}

/** A page of the school that is no funnel's, for everybody. */
export const ownPage = (html: string, style: string): HttpAnswer => ({
  status: 200,
  headers: {
    ...commonHeaders,
    "content-type": "text/html; charset=utf-8",
    "content-security-policy": pagePolicy(style, ""),
    "cache-control": "private, no-cache",
  },
  body: html,
})

export function backInAMoment(front: Front, status: number, seconds = 30): HttpAnswer {
  const page = { title: words.down.title, paragraphs: [words.down.text] }
  return plainAnswer(front, status, page, { "retry-after": String(seconds) })
}

export const tooLong = (front: Front) => plainAnswer(front, 413, { title: words.join.tooLong, paragraphs: [] })

export const unreadable = (front: Front) =>
  plainAnswer(front, 400, { title: words.unreadable.title, paragraphs: [words.unreadable.text] })

/** To one of our own addresses, never to one that came from outside. */
export function redirect(path: string, headers: Record<string, string | string[]> = {}): HttpAnswer {
  return {
    status: 303,
    headers: { ...commonHeaders, ...headers, location: path, "cache-control": "no-store" },
    body: "",
  }
}

export function sessionHeader(config: Config, realm: Realm, token: string): string {
  return cookieText(config, sessionCookie(config, realm), token, sessionMs[realm] / 1000)
}

/** A press that another site caused isn't one. */
export function isForged(req: Request): boolean {
  return req.headers["sec-fetch-site"] === "cross-site"
}

export type Visitor = { readonly id: Buffer; readonly newcomer: boolean; readonly cookie: string }

/** Ids of newcomers, drawn by the hundred: to draw one takes as long as to look a page up. */
let drawn = Buffer.alloc(0)
function newId(): Buffer {
  if (drawn.length < 16) drawn = randomBytes(16 * 256)
  const id = drawn.subarray(0, 16)
  drawn = drawn.subarray(16)
  return id
}

/** The first-party id of this visitor: their cookie's, or a new one. */
export function visitorOf(front: Pick<Front, "s">, req: Request): Visitor {
  const { config } = front.s
  const given = req.cookies[visitorCookie(config)]
  if (given && /^[A-Za-z0-9_-]{22}$/.test(given))
    return { id: Buffer.from(given, "base64url"), newcomer: false, cookie: "" }
  const id = newId()
  return { id, newcomer: true, cookie: cookieText(config, visitorCookie(config), id.toString("base64url"), 34_560_000) }
}

/**
 * A cookie of ours; `seconds` 0 takes it away. By hand: `cookie`'s own serializer takes 8 µs, twice for each newcomer, a tenth of what
 * a page from memory takes; names and values here are ours, and need no check.
 */
export function cookieText(config: Config, name: string, value: string, seconds: number): string {
  const secure = isSecure(config) ? "; Secure" : ""
  return `${name}=${value}; Max-Age=${seconds}; Path=/; HttpOnly${secure}; SameSite=Lax`
}

/** What a newcomer came to, kept by their own browser until a second request shows that it is one. */
export type FirstLook = { readonly step: number; readonly source: string }

/** How long a newcomer may take for a second request, seconds. */
const firstLookFor = 1_800

export function firstLookCookie(config: Config, look: FirstLook): string {
  const value = `${look.step}.${Buffer.from(look.source).toString("base64url")}`
  return cookieText(config, firstCookie(config), value, firstLookFor)
}

export function firstLookOf(config: Config, req: Request): FirstLook | null {
  const [step, source] = (req.cookies[firstCookie(config)] ?? "").split(".")
  if (!step || !/^[1-9]\d{0,8}$/.test(step)) return null
  return { step: Number(step), source: tidySource(Buffer.from(source ?? "", "base64url").toString()) || "direct" }
}

/** Where somebody who sends a form came from, as far as their browser says; their journey may know better. */
export function cameFrom(front: Pick<Front, "s">, req: Request): string {
  return firstLookOf(front.s.config, req)?.source ?? "direct"
}
