// What the front server answers with, and who it takes a visitor for.
import { randomBytes } from "node:crypto"
import { type PlainPage, plainPage } from "@/core/page/plain"
import type { Config } from "@/server/config"
import { type Realm, sessionCookie, sessionMs, visitorCookie } from "@/server/person/session"
import type { Surroundings } from "@/server/surroundings"
import type { Answer, Request } from "./exchange"
import type { Live } from "./live"
import { commonHeaders, pagePolicy } from "./policy"
import type { Visits } from "./visits"

export type Front = { readonly s: Surroundings; readonly live: Live; readonly visits: Visits }

export function plainAnswer(
  front: Pick<Front, "live">,
  status: number,
  page: PlainPage,
  headers: Answer["headers"] = {},
): Answer {
  const { name, look } = front.live.school()
  const { html, style, script } = plainPage(page, name, look)
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

/** To one of our own addresses, never to one that came from outside. */
export function redirect(path: string, headers: Record<string, string | string[]> = {}): Answer {
  return {
    status: 303,
    headers: { ...commonHeaders, ...headers, location: path, "cache-control": "no-store" },
    body: "",
  }
}

export function sessionHeader(config: Config, realm: Realm, token: string): string {
  const secure = config.origin.startsWith("https:") ? "; Secure" : ""
  return `${sessionCookie(config.installation, realm)}=${token}; Path=/; Max-Age=${sessionMs[realm] / 1000}; HttpOnly; SameSite=Lax${secure}`
}

/** A press that another site caused isn't one. */
export function isForged(req: Request): boolean {
  return req.headers["sec-fetch-site"] === "cross-site"
}

export type Visitor = { readonly id: Buffer; readonly newcomer: boolean; readonly cookie: string }

/** The first-party id of this visitor: their cookie's, or a new one. */
export function visitorOf(front: Pick<Front, "s">, req: Request): Visitor {
  const { installation, origin } = front.s.config
  const name = visitorCookie(installation)
  const given = req.cookies[name]
  if (given && /^[A-Za-z0-9_-]{22}$/.test(given))
    return { id: Buffer.from(given, "base64url"), newcomer: false, cookie: "" }
  const id = randomBytes(16)
  const secure = origin.startsWith("https:") ? "; Secure" : ""
  return {
    id,
    newcomer: true,
    cookie: `${name}=${id.toString("base64url")}; Path=/; Max-Age=34560000; HttpOnly; SameSite=Lax${secure}`,
  }
}
