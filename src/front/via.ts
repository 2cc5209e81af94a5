// Links of affiliates: who recommended is put down, kept in a first-party cookie where that needs no consent or has it, and said
// on the pages while it counts.

import { parseVia, type Via, viaName } from "@/core/affiliate/code"
import { html } from "@/core/html"
import { connectionOf } from "@/core/person/connection"
import { words } from "@/core/words/en"
import { mentionKey, type NamedAffiliate, type NewMention, recordMentions } from "@/server/affiliate/mention"
import type { Context } from "@/server/context"
import { viaCookie } from "@/server/person/session"
import { movedTo, nextBest, shortTarget } from "@/server/programme/target"
import { sign, verify } from "@/server/sign"
import type { HttpAnswer, Request } from "./exchange"
import type { LivePage } from "./live"
import { commonHeaders } from "./policy"
import { cookieText, type Front, isForged, redirect, type Visitor } from "./reply"
import { cookied, type PageLook, withStrip } from "./strip"

/** What a device keeps: the last mention. The whole chain is in the database. */
type Kept = { readonly affiliate: number; readonly sub: string; readonly step: number | null; readonly at: number }

/** To a tenth of a second, so that many who come by a link at once are given the same. */
const keptNow = (front: Front, named: NamedLink, step: number | null): Kept => ({
  affiliate: named.id,
  sub: named.sub,
  step,
  at: Math.floor(front.live.now() / 100) * 100,
})

/** Cookies as they were signed lately. */
const signed = new Map<string, string>()
const mostSigned = 1_000

function keptCookie(front: Front, k: Kept): string {
  const { config } = front.s
  const text = `${k.affiliate}~${k.sub}~${k.step ?? 0}~${k.at}`
  let token = signed.get(text)
  if (!token) {
    token = sign(config.secret, "via", text)
    if (signed.size >= mostSigned) signed.clear()
    signed.set(text, token)
  }
  return cookieText(config, viaCookie(config), token, front.live.affiliates().rules.days * day)
}

function keptOf(front: Front, req: Request): Kept | null {
  const { config } = front.s
  const given = req.cookies[viaCookie(config)]
  const text = given ? verify(config.secret, "via", given) : null
  const [affiliate, sub, step, at] = text?.split("~") ?? []
  if (!affiliate || sub === undefined || !at) return null
  return { affiliate: Number(affiliate), sub, step: Number(step) || null, at: Number(at) }
}

export type NamedLink = NamedAffiliate & { readonly sub: string }

/** The affiliate that a link names, where there is one. */
export function namedBy(front: Front, typed: string | null): NamedLink | null {
  const via = parseVia(typed)
  const found = via && front.live.affiliates().byCode.get(via.code)
  return found ? { ...found, sub: via.sub } : null
}

export type Mentions = {
  /** `from`: the address it came from, where one connection may bring so many in an hour; null: it counts in any case. */
  add(m: NewMention, from: string | null): void
  flush(): Promise<void>
  stop(): Promise<void>
}

const flushEvery = 200
const mostKept = 50_000
/** Mentions of one connection in an hour: a class with one router may click; a program that makes up names of links may not go on. */
const mostOfOne = 500

/** Mentions on their way into the database, collected for a moment. While it is away they are kept. */
export function collectMentions(s: Context): Mentions {
  let waiting: NewMention[] = []
  const known = new Set<string>()
  const ofOne = new Map<string, number>()
  let hour = 0
  let running: Promise<void> | undefined
  const write = async () => {
    const some = waiting.splice(0, 500)
    try {
      await recordMentions(s.db, some)
    } catch (error) {
      s.log.warn(error, "mentions are kept until the database is back")
      waiting = [...some, ...waiting].slice(-mostKept)
      throw error
    }
  }
  const flush = async () => {
    while (waiting.length) {
      running ??= write().finally(() => {
        running = undefined
      })
      await running
    }
  }
  const timer = setInterval(() => {
    if (waiting.length) flush().catch(() => {})
  }, flushEvery)
  return {
    add(m, from) {
      const connection = from === null ? null : connectionOf(from)
      // Of whom nothing may be remembered a connection counts once.
      const key = m.visitor ? mentionKey(m).toString("base64") : `${connection}:${m.affiliate}:${m.sub}`
      const now = Math.floor(m.at / 3_600_000)
      if (now !== hour || known.size > mostKept) known.clear()
      if (now !== hour || ofOne.size > mostKept) ofOne.clear()
      hour = now
      if (known.has(key) || waiting.length >= mostKept) return
      if (connection !== null) {
        const n = ofOne.get(connection) ?? 0
        if (n >= mostOfOne) return
        ofOne.set(connection, n + 1)
      }
      known.add(key)
      waiting.push(m)
    },
    flush,
    async stop() {
      clearInterval(timer)
      await flush().catch(() => {})
    },
  }
}

/** A second request of a device that was given a mention a moment ago: it is a browser's, and counts. */
export function keepMention(front: Front, req: Request, visitor: Visitor | null): void {
  if (!visitor || visitor.newcomer || !req.headers.cookie?.includes(viaCookie(front.s.config))) return
  const kept = keptOf(front, req)
  if (kept) front.mentions.add({ ...kept, visitor: visitor.id }, req.ip)
}

/** Before a form is answered whatever its sender was shown is written down. */
export async function settleMention(front: Front, req: Request, visitor: Visitor): Promise<void> {
  const kept = keptOf(front, req)
  if (!kept) return
  front.mentions.add({ ...kept, visitor: visitor.id }, null)
  await front.mentions.flush()
}

const day = 86_400

/** A look at a page, with what a link of an affiliate brings along, or brought before. `look`: the page without it. */
export function withVia(
  front: Front,
  req: Request,
  page: LivePage,
  visitor: Visitor,
  named: NamedLink | null,
  look: PageLook,
): HttpAnswer {
  if (!req.headers.cookie && !named) return look.plain()
  const { rules } = front.live.affiliates()
  const before = keptOf(front, req)
  if (named) {
    const kept = keptNow(front, named, page.step)
    if (rules.consent === "asked" && !before) {
      // It is counted; of whom is nobody's business before they say so.
      front.mentions.add({ ...kept, visitor: null }, req.ip)
      return withStrip(req, page, look, askStrip(named, req.path))
    }
    if (!visitor.newcomer) front.mentions.add({ ...kept, visitor: visitor.id }, req.ip)
    const more = { ...look, cookies: [...look.cookies, keptCookie(front, kept)] }
    return named.shown ? withStrip(req, page, more, saysStrip(named)) : cookied(look.plain(), more.cookies)
  }
  const counts = before && front.live.now() - before.at <= rules.days * day * 1000
  const who = counts ? front.live.affiliates().byId.get(before.affiliate) : undefined
  return who?.shown ? withStrip(req, page, look, saysStrip(who)) : look.plain()
}

const saysStrip = (who: NamedAffiliate) => html`<p class="small">${words.via.recommended(who.name)}</p>`

const askStrip = (who: NamedAffiliate & { sub: string }, path: string) =>
  html`<form class="section tinted" method="post" action="/via"><p>${words.via.ask(who.shown ? who.name : words.via.somebody)}</p><input type="hidden" name="via" value="${who.sub ? `${who.code}.${who.sub}` : who.code}"><input type="hidden" name="path" value="${path}"><p><button name="answer" value="yes">${words.via.yes}</button> <button name="answer" value="no">${words.via.no}</button></p></form>`

/** Somebody says whether it may be remembered who recommended. */
export async function answerVia(front: Front, req: Request, visitor: Visitor): Promise<HttpAnswer | undefined> {
  if (req.method !== "POST" || isForged(req)) return undefined
  const fields = await req.form()
  const path = front.live.page(fields.path ?? "") ? (fields.path ?? "") : ""
  const named = namedBy(front, fields.via ?? null)
  if (fields.answer !== "yes" || !named) return redirect(`/${path}`)
  const kept = keptNow(front, named, front.live.page(path)?.step ?? null)
  front.mentions.add({ ...kept, visitor: visitor.id }, req.ip)
  return redirect(`/${path}`, {
    "set-cookie": [...(visitor.newcomer ? [visitor.cookie] : []), keptCookie(front, kept)],
  })
}

/** `/by/ada/letter`: to the page it stands for, as a link of hers. */
export async function shortLinkRoute(front: Front, rest: string): Promise<HttpAnswer | undefined> {
  const [code = "", sub = ""] = rest.split("/")
  const named = namedBy(front, sub ? `${code}.${sub}` : code)
  if (!named) return undefined
  const to = await shortTarget(front.s.db, named.id, named.sub, front.live.now())
  return to ? toPage(to, named) : undefined
}

const toPage = (path: string, via: Via, more = new URLSearchParams()): HttpAnswer => {
  more.set(viaName, via.sub ? `${via.code}.${via.sub}` : via.code)
  return redirect(`/${path}?${more}`)
}

/** A page that has moved, or an affiliate's link to one that was taken down: to where it stands now, or to the next best. */
export async function elsewhere(front: Front, req: Request): Promise<HttpAnswer | undefined> {
  if ((req.method !== "GET" && req.method !== "HEAD") || req.path.length > 160) return undefined
  const to = await movedTo(front.s.db, req.path)
  const asked = new URLSearchParams(req.query)
  if (to)
    return {
      status: 301,
      headers: {
        ...commonHeaders,
        location: `/${to}${asked.size ? `?${asked}` : ""}`,
        "cache-control": "no-cache",
      },
      body: "",
    }
  const named = namedBy(front, req.query.get(viaName))
  const next = named && (await nextBest(front.s.db, req.path, named.id, front.live.now()))
  return next ? toPage(next, named, asked) : undefined
}
