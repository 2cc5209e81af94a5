// "Check your inbox": names the address that this device has just typed, and sends once more after a minute.
import { escapeHtml } from "@/core/page/html"
import { words } from "@/core/words/en"
import { askOnceMore } from "@/server/funnel/once-more"
import { askedCookie } from "@/server/person/session"
import { sign, verify } from "@/server/sign"
import type { Request } from "../exchange"
import type { LivePage } from "../live"
import { cookieText, type Front, isForged, redirect } from "../reply"
import { postJoin } from "./optin"
import type { FrontStep } from "./step"

/** What this device typed into a form, when in ms of real time, and whether it was sent a second time. */
type Typed = { readonly email: string; readonly at: number; readonly again: boolean }

/** How long the device's own address is said to it, s; and after how many ms it can be sent once more. */
const said = 1_800
const pause = 60_000

/** The cookie by which a device is told its own address. It says nothing of whether anybody knows it. */
export function typedCookie(front: Front, email: string, again = false): string {
  const { config } = front.s
  const text = `${Date.now()}~${again ? 1 : 0}~${email}`
  return cookieText(config, askedCookie(config), sign(config.secret, "asked", text), said)
}

function typedOf(front: Front, req: Request): Typed | null {
  const { config } = front.s
  const given = req.cookies[askedCookie(config)]
  const read = /^(\d+)~([01])~(.+)$/.exec((given && verify(config.secret, "asked", given)) || "")
  return read && { at: Number(read[1]), again: read[2] === "1", email: read[3]! }
}

export const inbox: FrontStep = {
  strip(front, req, page) {
    const typed = typedOf(front, req)
    if (!typed) return null
    const w = words.inbox
    const soon = req.query.has("soon") && Date.now() - typed.at < pause
    const more = typed.again
      ? `<p>${w.again}</p>`
      : `${soon ? `<p class="wrong" role="alert">${w.soon}</p>` : ""}<form method="post" action="${escapeHtml(`/${page.page.path}`)}"><input type="hidden" name="again" value="1"><p>${w.late} <button>${w.once}</button></p></form>`
    return `<div class="section tinted"><p>${w.sentTo(`<strong dir="auto">${escapeHtml(typed.email)}</strong>`)}</p>${more}</div>`
  },
  async post(front, req, page, visitor, fields) {
    if (fields.again !== "1") return postJoin(front, req, page, visitor, fields)
    const here = `/${page.page.path}`
    const typed = isForged(req) ? null : typedOf(front, req)
    if (!typed || typed.again) return redirect(here)
    if (Date.now() - typed.at < pause) return redirect(`${here}?soon`)
    await askOnceMore(front.s, { release: page.release, email: typed.email, visitor: visitor.id, ip: req.ip })
    return redirect(here, { "set-cookie": typedCookie(front, typed.email, true) })
  },
}
